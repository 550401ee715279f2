"""Sites made up to measure on: a tree of pages with types, authors and terms, the same on every run."""

from __future__ import annotations

import random
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from navrel.core.pages.page import Page

TYPES = ("article", "route", "harbour", "product", "")
AUTHORS = ("imre-halloran", "tove-lindqvist", "osei-brannagh", "maren-dufay", "callum-vex")
TERMS = ("boats", "food", "harbours", "weather", "walking")


def made_pages(count: int, seed: int = 7) -> list[Page]:
    """So many pages in sections of about forty, three levels deep."""
    dice = random.Random(seed)  # noqa: S311
    pages = [Page("/", "Home", "home")]
    sections: list[str] = [""]
    while len(pages) < count:
        section = dice.choice(sections)
        number = len(pages)
        path = f"{section}/p{number}"
        listing = number % 40 == 1 and path.count("/") < 3
        if listing:
            sections.append(path)
        pages.append(
            Page(
                path,
                f"Page number {number}",
                "listing" if listing else "single",
                dice.choice(TYPES),
                terms=(f"topic/{dice.choice(TERMS)}",),
                author=dice.choice(AUTHORS),
                published=date(2020, 1, 1) + timedelta(days=dice.randrange(2000)),
                words=dice.randrange(80, 900),
            )
        )
    return pages


def made_rules(pages: list[Page], count: int, seed: int = 3) -> list[dict[str, Any]]:
    """So many rules over made pages, with pieces of the demo site, as in the layout file."""
    dice = random.Random(seed)  # noqa: S311
    found = []
    for number in range(count):
        section = dice.choice(pages).path.rpartition("/")[0] or "/p1"
        include = dice.choice(
            (
                f"within:{section}",
                f"type:{dice.choice(TYPES[:-1])} author:{dice.choice(AUTHORS)}",
                f"term:topic/{dice.choice(TERMS)} words:>{dice.randrange(100, 800)}",
                f"page:{dice.choice(pages).path}",
            )
        )
        condition: dict[str, Any] = {"include": include}
        if number % 6 == 0:
            condition["visitors"] = {"include": dice.choice(("role:crew", "device:phone"))}
        action = dice.choice(
            (
                {"do": "fill", "slot": "header", "piece": dice.choice(("main-header", "slim-header"))},
                {"do": "fill", "slot": "footer", "piece": "site-footer"},
                {"do": "empty", "slot": "aside-end"},
                {"do": "append", "slot": "above-footer", "piece": "winter-notice"},
            )
        )
        found.append({"name": f"Made rule {number}", "priority": -10, "condition": condition, "actions": [action]})
    return found


def write_folder(pages: list[Page], folder: Path) -> None:
    """The pages as a folder of HTML files of some twelve kilobytes each."""
    paragraph = "<p>" + "The boat leaves the quay when the tide allows and not before. " * 20 + "</p>\n"
    for page in pages:
        file = folder / (page.path.strip("/") or "index") / "index.html" if page.path != "/" else folder / "index.html"
        file.parent.mkdir(parents=True, exist_ok=True)
        tags = "".join(f'<meta property="article:tag" content="{term.split("/")[1]}">' for term in page.terms)
        file.write_text(
            f'<!doctype html><html lang="en"><head><title>{page.title}</title>{tags}'
            f'<meta property="og:type" content="{page.type or "website"}"><meta name="author" content="{page.author}">'
            f"</head><body><header><a href='/'>The made line</a></header>"
            f"<main><h1>{page.title}</h1>{paragraph * 9}</main>"
            f"<footer>Of section {page.path.split('/')[1]}</footer></body></html>"
        )
