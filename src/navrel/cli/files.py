"""What the commands on layout files share: reading the file and the lens, and printing."""

from __future__ import annotations

import json
import sys
from argparse import ArgumentParser
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

if TYPE_CHECKING:
    from navrel.core.language.visitor import Lens
    from navrel.core.layout.document import SiteDocument
    from navrel.core.pages.page import Page
    from navrel.core.pages.tree import PageTree

#: Warnings that are told one by one; a file of a hundred thousand pages may have as many.
MOST_WARNINGS = 50

#: Paths that are printed of a finding or a difference; the rest is told as a number.
MOST_PATHS = 5


def takes_file(parser: ArgumentParser, name: str = "file") -> None:
    """A layout file as an argument."""
    parser.add_argument(name, type=Path, metavar="FILE", help="a layout file, JSON or YAML")


def takes_visitor(parser: ArgumentParser) -> None:
    """The visitor as an option."""
    parser.add_argument(
        "--visitor", default="", metavar="TERMS", help='the visitor as terms: "signed:in role:crew device:phone"'
    )


def takes_moment(parser: ArgumentParser) -> None:
    """The moment as an option."""
    parser.add_argument(
        "--at", default="", metavar="MOMENT",
        help="the moment, as 2026-12-01T18:00 in the site's time zone; now, when not given",
    )  # fmt: skip


def takes_json(parser: ArgumentParser) -> None:
    """Whether to print JSON."""
    parser.add_argument("--json", dest="as_json", action="store_true", help="print JSON")


def read_layout(file: Path) -> tuple[SiteDocument, PageTree]:
    """A layout file and its page tree; warnings go to standard error.

    What cannot be used is told on standard error, with exit code 2.
    """
    from navrel.core.errors import DocumentError
    from navrel.core.files.reading import read_json, read_yaml
    from navrel.core.files.references import warnings_of

    try:
        text = file.read_bytes()
        document = read_yaml(text) if file.suffix in (".yaml", ".yml") else read_json(text)
    except OSError as error:
        cannot_use([f"{file}: {error.strerror}"])
    except DocumentError as error:
        cannot_use([f"{file}: {problem.pointer or '/'}: {problem}" for problem in error.problems])
    warnings = warnings_of(document)
    for warning in warnings[:MOST_WARNINGS]:
        tell(f"{file}: {warning.pointer}: column {warning.column}: {warning.message}")
    if len(warnings) > MOST_WARNINGS:
        tell(f"{file}: and {len(warnings) - MOST_WARNINGS:,} more names of what is not there")
    return document, document.tree


def read_tree(file: Path) -> Any:
    """The tree of a file, JSON or YAML, as it stands. What cannot be read is told, with exit code 2."""
    from navrel.core.errors import DocumentError
    from navrel.core.files.reading import json_tree, yaml_tree

    try:
        text = file.read_bytes()
        return yaml_tree(text) if file.suffix in (".yaml", ".yml") else json_tree(text)
    except OSError as error:
        cannot_use([f"{file}: {error.strerror}"])
    except DocumentError as error:
        cannot_use([f"{file}: {problem}" for problem in error.problems])


def read_lens(document: SiteDocument, visitor: str, at: str) -> Lens:
    """The lens of the options; exit code 2 where they cannot be read."""
    from navrel.core.calendar.schedule import read_moment
    from navrel.core.errors import QueryError, ScheduleError
    from navrel.core.language.visitor import Lens
    from navrel.core.language.visitor_terms import parse_visitor

    reasons = []
    try:
        seen_by = parse_visitor(visitor, document.language)
    except QueryError as error:
        reasons.append(f"--visitor: {error}")
    try:
        moment = read_moment(at) if at else document.now()
    except ScheduleError as error:
        reasons.append(f"--at: {error}")
    if reasons:
        cannot_use(reasons)
    return Lens(seen_by, moment)


def find_page(tree: PageTree, path: str) -> Page:
    """The page at a path; exit code 2 where there is none."""
    page = tree.page(path)
    if page is None:
        cannot_use([f"there is no page {path}"])
    return page


def cannot_use(reasons: list[str]) -> NoReturn:
    """Tell why the input cannot be used, and end with exit code 2."""
    for reason in reasons:
        tell(reason)
    raise SystemExit(2)


def print_json(tree: Any) -> None:
    """Print a tree as JSON."""
    print(json.dumps(tree, ensure_ascii=False, indent=2))


def say(text: str, end: str = "\n") -> None:
    """Print a line for people, just as it is."""
    print(text, end=end)


def some_paths(paths: list[str], count: int) -> str:
    """The first of some paths, and how many more there are."""
    shown = paths[:MOST_PATHS]
    return ", ".join(shown) + (f" and {count - len(shown):,} more" if count > len(shown) else "")


def tell(text: str) -> None:
    """Print a line on standard error."""
    print(text, file=sys.stderr)
