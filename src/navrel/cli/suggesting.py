"""Conditions that pages have in common. No database."""

from __future__ import annotations

from typing import Annotated

import typer

from navrel.core.index import PageIndex
from navrel.core.suggest import suggest

from .files import AsJson, LayoutFile, find_page, print_json, read_layout, say


def add_to(app: typer.Typer) -> None:
    app.command("suggest")(suggest_command)


def suggest_command(
    file: LayoutFile,
    paths: Annotated[list[str], typer.Argument(help="Pages to describe", metavar="PATH…")],
    as_json: AsJson = False,
) -> None:
    """Propose conditions that some pages have in common, best first."""
    _, site = read_layout(file)
    for path in paths:
        find_page(site, path)
    found = suggest(PageIndex(site), paths)
    if as_json:
        print_json(
            [
                {
                    "include": str(one.include),
                    "exclude": str(one.exclude),
                    "adds": [page.path for page in one.adds],
                    "misses": [page.path for page in one.misses],
                    "lasting": one.lasting,
                }
                for one in found
            ]
        )
        return
    for one in found:
        without = f"   without {one.exclude}" if one.exclude else ""
        adds = f"   and {len(one.adds)} more" if one.adds else ""
        misses = f"   but {len(one.misses)}" if one.misses else ""
        say(f"{one.include}{without}{adds}{misses}{'' if one.lasting else '   (these pages alone)'}")
