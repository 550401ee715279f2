"""Kill what serves, twenty times at varying instants, while rules are edited and published; then look at what is left.

Run by `./navrel faults`.
"""

from __future__ import annotations

import argparse
import random
import tempfile
from pathlib import Path

from .installation import Installation
from .killing import KINDS, kill_again_and_again


def main() -> None:
    parser = argparse.ArgumentParser(prog="./navrel faults", description=__doc__)
    parser.add_argument("--times", type=int, default=20, help="how often to kill something")
    parser.add_argument("--seed", type=int, default=1, help="decides when it is killed")
    options = parser.parse_args()
    chance = random.Random(options.seed)  # noqa: S311, it only varies instants
    with tempfile.TemporaryDirectory() as folder:
        here = Installation(Path(folder))
        here.start()
        try:
            slowest = kill_again_and_again(here, chance, options.times, KINDS)
        finally:
            here.end()
    print(f"{options.times} kills: always whole, always back; the slowest return took {slowest:.1f} s")


if __name__ == "__main__":
    main()
