"""Conditions that pages have in common. No database."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path

from navrel.core.index.page_index import PageIndex
from navrel.core.questions.suggest import suggest

from .files import find_page, print_json, read_layout, say, takes_file, takes_json


def suggest_options(parser: ArgumentParser) -> None:
    takes_file(parser)
    parser.add_argument("paths", nargs="+", metavar="PATH", help="pages to describe")
    takes_json(parser)


def suggest_command(file: Path, paths: list[str], as_json: bool) -> None:
    """Propose conditions that some pages have in common, best first."""
    _, tree = read_layout(file)
    for path in paths:
        find_page(tree, path)
    found = suggest(PageIndex(tree), paths)
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
