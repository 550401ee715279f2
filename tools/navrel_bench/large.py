"""A large made site: a hundred thousand pages and a thousand rules of every sort, the same on every run."""

from __future__ import annotations

import random
from datetime import date, timedelta
from typing import Any

from navrel.core.files.reading import read_document
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import SLOTS, slot_kind
from navrel.core.pages.page import Page

TYPES = tuple(f"type-{number}" for number in range(40))
AUTHORS = tuple(f"author-{number}" for number in range(500))
TERM_COUNT = 2_000
PIECES_A_KIND = 80
KINDS = ("header", "footer", "sidebar", "widget", "title", "template")
ROLES = ("crew", "passholder", "agent")
SETTING = {"name": "page-width", "type": "choice", "choices": ["narrow", "normal", "wide"], "default": "normal"}
LEVELS = 6


def large_pages(count: int, seed: int = 11) -> list[Page]:
    """So many pages in a tree of six levels; every page of one section has its type more often than others."""
    dice = random.Random(seed)  # noqa: S311
    pages = [Page("/", "Home", "home")]
    by_level: list[list[str]] = [[""]]
    for level in range(1, LEVELS):
        share = count - 1 if level == LEVELS - 1 else max(1, round(count ** (level / LEVELS) * 1.2))
        wanted = count - len(pages) if level == LEVELS - 1 else min(share, count - len(pages))
        paths = []
        for number in range(wanted):
            above = by_level[-1][number % len(by_level[-1])]
            path = f"{above}/s{level}-{number}"
            paths.append(path)
            section = sum(map(ord, path.split("/")[1]))
            pages.append(_page(path, level, section, dice))
        by_level.append(paths)
    return pages


def _page(path: str, level: int, section: int, dice: random.Random) -> Page:
    kind = "listing" if level < LEVELS - 2 else "single"
    return Page(
        path,
        f"Page {path.rpartition('/')[2]}",
        kind,
        TYPES[section % len(TYPES)] if dice.random() < 0.7 else dice.choice(TYPES),
        terms=tuple(f"topic/t{dice.randrange(TERM_COUNT)}" for _ in range(dice.randrange(3))),
        author=dice.choice(AUTHORS),
        language="nb" if dice.random() < 0.1 else "en",
        published=date(2020, 1, 1) + timedelta(days=dice.randrange(2400)),
        words=dice.randrange(50, 2000),
        locks=("aside-end",) if dice.random() < 0.01 else (),
    )


def large_document(pages: list[Page], rule_count: int = 1_000, seed: int = 5) -> SiteDocument:
    """A layout of so many rules on twelve targets over these pages: the layout file read, the pages put in."""
    dice = random.Random(seed)  # noqa: S311
    terms = [
        {"slug": f"t{number}", "parent": f"t{number // 8}" if number >= 8 else None} for number in range(TERM_COUNT)
    ]
    read = read_document(
        {
            "navrel": 1,
            "site": {"name": "Made", "roles": list(ROLES), "settings": [SETTING], "default_template": "template-0"},
            "taxonomies": [{"slug": "topic", "terms": terms}],
            "pieces": [_piece(kind, number) for kind in KINDS for number in range(PIECES_A_KIND)],
            "rules": [_rule(number, pages, dice) for number in range(rule_count)],
        }
    )
    return SiteDocument(read.name, read.slug, roles=read.roles, taxonomies=read.taxonomies, pages=tuple(pages),
                        layout=read.layout)  # fmt: skip


def _piece(kind: str, number: int) -> dict[str, Any]:
    piece: dict[str, Any] = {"slug": f"{kind}-{number}", "kind": kind}
    if kind == "sidebar":
        piece["entries"] = [{"piece": f"widget-{(number + more) % PIECES_A_KIND}"} for more in range(3)]
    elif kind != "template":
        piece["content"] = {"items": [{"type": "text", "text": f"{kind} {number}"}]}
    return piece


def _rule(number: int, pages: list[Page], dice: random.Random) -> dict[str, Any]:
    clauses = [_clause(pages, dice) for _ in range(dice.randrange(2, 4) if number % 3 == 0 else 1)]
    condition: dict[str, Any] = {"include": " | ".join(clauses)}
    if number % 3 == 1:
        condition["exclude"] = _term(pages, dice)
    if number % 5 == 2:
        condition["visitors"] = {"include": dice.choice(("signed:in", "role:crew", "device:phone", "signed:out"))}
    if number % 5 == 3:
        condition["schedule"] = _schedule(dice)
    return {
        "name": f"Rule {number}",
        "priority": dice.choice((0, 0, 0, 0, 5, -5, 10)),
        "condition": condition,
        "actions": _actions(dice),
    }


def _clause(pages: list[Page], dice: random.Random) -> str:
    terms = [_term(pages, dice)]
    if dice.random() < 0.5:
        day = date(2020, 1, 1) + timedelta(days=dice.randrange(2400))
        terms.append(
            dice.choice(
                (
                    f"type:{dice.choice(TYPES)},{dice.choice(TYPES)}",
                    "kind:listing",
                    "lang:nb",
                    f"words:>{dice.randrange(500, 1900)}",
                    f"published:>={day.isoformat()}",
                    f"-{_term(pages, dice)}",
                )
            )
        )
    return " ".join(terms)


def _term(pages: list[Page], dice: random.Random) -> str:
    path = dice.choice(pages).path
    section = "/".join(path.split("/")[: dice.randrange(3, 5)])
    return dice.choice(
        (
            f"within:{section}",
            f"under:{section}",
            f"child:{section}",
            f"path:{section}/*",
            f"type:{dice.choice(TYPES)}",
            f"author:{dice.choice(AUTHORS)}",
            f"term:topic/t{dice.randrange(TERM_COUNT // 4)}",
            f"page:{path},{dice.choice(pages).path}",
            f"page:{path}",
        )
    )


def _schedule(dice: random.Random) -> dict[str, Any]:
    if dice.random() < 0.5:
        day = date(2026, 11, 1) + timedelta(days=dice.randrange(90))
        return {"from": day.isoformat(), "until": (day + timedelta(days=dice.randrange(5, 60))).isoformat()}
    return {"repeats": {"rrule": "FREQ=WEEKLY;BYDAY=FR,SA", "start": "2026-01-02T18:00", "duration": "PT6H"}}


def _actions(dice: random.Random) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = []
    for slot in dice.sample(SLOTS, dice.choice((1, 1, 2))):
        kind = slot_kind(slot)
        if dice.random() < 0.15:
            found.append({"do": "empty", "slot": slot})
        elif dice.random() < 0.25:
            do = dice.choice(("prepend", "append"))
            found.append({"do": do, "slot": slot, "piece": f"widget-{dice.randrange(PIECES_A_KIND)}"})
        else:
            found.append({"do": "fill", "slot": slot, "piece": f"{kind}-{dice.randrange(PIECES_A_KIND)}"})
    if dice.random() < 0.1:
        found.append({"do": "use", "template": f"template-{dice.randrange(PIECES_A_KIND)}"})
    if dice.random() < 0.1:
        found.append({"do": "set", "setting": "page-width", "value": dice.choice(("narrow", "wide"))})
    return found
