"""Killing what serves, in the middle of publications, while rules are edited; then looking at what is left.

What was answered with success has to be there, whole, and everything has to be back.
"""

from __future__ import annotations

import json
import random
import threading
import time
from collections import Counter
from collections.abc import Sequence
from typing import Any

from .installation import Installation, wait_for

#: Entries that a list tells at once, at the most.
MOST = 2000
#: How long a publication takes about, in seconds.
_LASTS = 0.3
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
        #: Set while a publication is under way.
        self.publishing = threading.Event()

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
                    self.publishing.set()
                    status, body = self._ask("/api/sites/marrowick/revisions", "POST", {"version": version})
                    self.publishing.clear()
                    if status == 201:
                        self.published.append(json.loads(body)["number"])
            if status == 0:
                time.sleep(0.05)

    def _ask(self, path: str, method: str = "GET", body: object = None) -> tuple[int, bytes]:
        answer = self.here.ask(path, method, body)
        self.answers[answer[0]] += 1
        return answer


def kill_again_and_again(here: Installation, chance: random.Random, times: int, kinds: Sequence[str]) -> float:
    """Kill one of each kind in turn, each in the middle of a publication; the slowest return, in seconds."""
    here.sign_in()
    editor = Editor(here)
    editor.start()
    slowest = 0.0
    for number in range(times):
        kind = kinds[number % len(kinds)]
        wait_for("a publication", editor.publishing.is_set)
        time.sleep(chance.uniform(0, _LASTS))
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
