"""Change the heart of the core in small ways, one at a time, and see whether a test notices.

The mutants are mutmut's, of what `[tool.mutmut]` in pyproject.toml names; they are made and tried in a copy of the
sources, so that nothing here is touched. All of them take hours, so that a sample is tried unless `--all` is given.
"""

from __future__ import annotations

import argparse
import json
import random
import shutil
import subprocess
import sys
from collections.abc import Iterable

from navrel.launch.house import ROOT, STATE

COPY = STATE / "mutants"
#: What the tests of the core need.
_COPIED = ("src", "tests", "tools", "demo", "docs", "pyproject.toml")
#: How a mutant ended, by mutmut's exit codes: a failing test, one that ran out of time or of memory, or a crash.
_SURVIVED, _UNTESTED = 0, 33


def main() -> int:
    """Try the mutants and print those that no test noticed, and the score."""
    parser = argparse.ArgumentParser(prog="./navrel mutants", description=(__doc__ or "").partition("\n")[0])
    parser.add_argument("--sample", type=int, default=400, help="how many mutants to try (%(default)s)")
    parser.add_argument("--seed", type=int, default=1, help="which sample (%(default)s)")
    parser.add_argument("--all", action="store_true", help="try all of them")
    parser.add_argument("--of", default="", help="only mutants whose name holds this: cascade.bulk")
    asked = parser.parse_args()
    _copy()
    # Makes the mutants and learns which tests reach which; it ends there, as no mutant has this name.
    _mutmut("no mutant")
    names = sorted(name for name in _results() if asked.of in name)
    if not names:
        print("No mutants were made; see the lines above.", file=sys.stderr)
        return 1
    if not asked.all and asked.sample < len(names):
        names = random.Random(asked.seed).sample(names, asked.sample)  # noqa: S311
    _mutmut(*names)
    return _tell(names)


def _copy() -> None:
    """Copy the sources; what was learnt about the tests is learnt anew, as either may have changed."""
    shutil.rmtree(COPY, ignore_errors=True)
    COPY.mkdir(parents=True)
    unwanted = shutil.ignore_patterns("__pycache__", "screenshots")
    for name in _COPIED:
        source = ROOT / name
        if source.is_dir():
            shutil.copytree(source, COPY / name, ignore=unwanted)
        else:
            shutil.copy(source, COPY / name)


def _mutmut(*names: str) -> None:
    command = [sys.executable, "-m", "mutmut", "run", "--max-children", "2", *names]
    # Its own account of each mutant is long and has a moving picture in it; the results stand in files.
    log = (COPY / "mutmut.log").open("a")
    with log:
        subprocess.run(command, cwd=COPY, stdout=log, stderr=log, check=False)


def _results() -> dict[str, int | None]:
    """The exit code of each mutant by its name; None for one that was not tried."""
    found: dict[str, int | None] = {}
    for path in (COPY / "mutants").rglob("*.meta"):
        found.update(json.loads(path.read_text())["exit_code_by_key"])
    return found


def _tell(names: Iterable[str]) -> int:
    wanted = set(names)
    results = {name: code for name, code in _results().items() if name in wanted and code is not None}
    survivors = sorted(name for name, code in results.items() if code in (_SURVIVED, _UNTESTED))
    for name in survivors:
        print(f"\n{name}{' (no test reaches it)' if results[name] == _UNTESTED else ''}")
        shown = subprocess.run(
            [sys.executable, "-m", "mutmut", "show", name], cwd=COPY, capture_output=True, text=True, check=False
        )
        print("\n".join(line for line in shown.stdout.splitlines() if line.startswith(("-", "+", "@"))))
    noticed = len(results) - len(survivors)
    print(f"\n{noticed} of {len(results)} mutants noticed: {100 * noticed / max(1, len(results)):.1f} %")
    return 0


sys.exit(main())
