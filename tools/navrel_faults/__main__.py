"""Kill what serves, twenty times at varying instants, while rules are edited and published; then look at what is left.

Run by `./navrel faults`. What was answered with success has to be there, whole, and everything has to be back.
"""

from __future__ import annotations

import argparse
import json
import random
import tempfile
import threading
import time
from collections import Counter
from pathlib import Path
from typing import Any

from .installation import Installation, wait_for

#: Entries that a list tells at once, at the most.
MOST = 2000
KINDS = ("worker", "master", "database", "launcher")


class Editor(threading.Thread):
    """Makes rules and publishes, as fast as it is answered, and remembers what it was told had been done."""

    def __init__(self, here: Installation) -> None:
        super().__init__(daemon=True)
        self.here = here
        self.going_on = True
        self.made: list[str] = []
        self.published: list[int] = []
        self.answers: Counter[int] = Counter()

    def run(self) -> None:
        number = 0
        while self.going_on:
            number += 1
            name = f"Rule {number}"
            rule = {
                "name": name, "condition": {"include": f"page:/about,/n{number}"},
                "actions": [{"do": "empty", "slot": "after-content"}],
            }  # fmt: skip
            status, _ = self._ask("/api/sites/marrowick/rules", "POST", rule)
            if status == 201:
                self.made.append(name)
            if number % 3 == 0:
                status, body = self._ask("/api/sites/marrowick/impact")
                if status == 200:
                    version = json.loads(body)["version"]
                    status, body = self._ask("/api/sites/marrowick/revisions", "POST", {"version": version})
                    if status == 201:
                        self.published.append(json.loads(body)["number"])
            if status == 0:
                time.sleep(0.05)

    def _ask(self, path: str, method: str = "GET", body: object = None) -> tuple[int, bytes]:
        answer = self.here.ask(path, method, body)
        self.answers[answer[0]] += 1
        return answer


def main() -> None:
    parser = argparse.ArgumentParser(prog="./navrel faults", description=__doc__)
    parser.add_argument("--times", type=int, default=20, help="how often to kill something")
    parser.add_argument("--seed", type=int, default=1, help="decides what is killed when")
    options = parser.parse_args()
    chance = random.Random(options.seed)  # noqa: S311, it only varies instants
    with tempfile.TemporaryDirectory() as folder:
        here = Installation(Path(folder))
        here.start()
        try:
            slowest = _kill_again_and_again(here, chance, options.times)
        finally:
            here.end()
    print(f"{options.times} kills: always whole, always back; the slowest return took {slowest:.1f} s")


def _kill_again_and_again(here: Installation, chance: random.Random, times: int) -> float:
    here.sign_in()
    editor = Editor(here)
    editor.start()
    slowest = 0.0
    for number in range(times):
        kind = KINDS[number % len(KINDS)]
        time.sleep(chance.uniform(0.1, 2))
        begun = time.monotonic()
        here.kill(kind)
        if kind == "launcher":
            wait_for("everything to end with the launcher", lambda: not any(here.processes().values()))
            here.start()
        else:
            time.sleep(0.05)
        wait_for(f"an answer after the {kind} was killed", lambda: _is_back(here))
        took = time.monotonic() - begun
        slowest = max(slowest, took)
        print(f"{number + 1:2}. {kind}: back after {took:.1f} s; {dict(editor.answers)}", flush=True)
    editor.going_on = False
    editor.join(30)
    _check(here, editor)
    return slowest


def _is_back(here: Installation) -> bool:
    return here.visit("/about")[0] == 200 and here.ask("/api/sites/marrowick")[0] == 200


def _listed(here: Installation, what: str) -> list[dict[str, Any]]:
    """The whole of one of the site's lists."""
    found = json.loads(here.ask(f"/api/sites/marrowick/{what}?limit={MOST}")[1])
    assert found["total"] == len(found["items"]), f"more {what} than are told at once"
    return list(found["items"])


def _check(here: Installation, editor: Editor) -> None:
    """Everything that was answered with success is there; nothing else is but what was under way."""
    rules = _listed(here, "rules")
    names = {row["rule"]["name"] for row in rules}
    lost = [name for name in editor.made if name not in names]
    revisions = {one["number"] for one in _listed(here, "revisions")}
    info = json.loads(here.ask("/api/sites/marrowick")[1])
    places = [row["position"] for row in rules]
    assert not lost, f"lost: {lost}"
    assert places == list(range(1, len(rules) + 1)), "the order of the rules has gaps"
    assert set(editor.published[-100:]) <= revisions, "a revision is lost"
    assert info["unreadable"] == [], "a revision cannot be read"
    assert info["live"]["number"] == max(revisions), "the newest revision is not live"
    print(f"{len(editor.made)} rules and {len(editor.published)} revisions, all there and whole")


if __name__ == "__main__":
    main()
