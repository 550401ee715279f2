"""Commands on one layout file: what its pages come to, and why. None of them needs the database."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from navrel.core.calendar.schedule import write_moment
from navrel.core.cascade.plain import Trace, resolve_page
from navrel.core.files.writing import write_action
from navrel.core.language.visitor import Lens
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import SLOTS, Target
from navrel.core.pages.page import Page
from navrel.core.pages.tree import PageTree
from navrel.core.questions.described import described
from navrel.wording.traces import trace_lines

from .files import (
    cannot_use,
    find_page,
    print_json,
    read_layout,
    read_lens,
    say,
    takes_file,
    takes_json,
    takes_moment,
    takes_visitor,
)


def resolve_options(parser: ArgumentParser) -> None:
    takes_file(parser)
    parser.add_argument("--page", action="append", metavar="PATH", help="only this page; may be given several times")
    takes_visitor(parser)
    takes_moment(parser)
    parser.add_argument("--explain", action="store_true", help="add the traces")
    takes_json(parser)


def explain_options(parser: ArgumentParser) -> None:
    takes_file(parser)
    parser.add_argument("path", metavar="PATH", help="the page")
    parser.add_argument("slot", metavar="SLOT", help="the slot, `template`, or `setting:NAME`")
    takes_visitor(parser)
    takes_moment(parser)
    takes_json(parser)


def resolve(file: Path, page: list[str] | None, visitor: str, at: str, explain: bool, as_json: bool) -> None:
    """Print what every page of a layout file resolves to."""
    document, tree = read_layout(file)
    lens = read_lens(document, visitor, at)
    if page:
        pages = [find_page(tree, path) for path in page]
        traced = [(one, resolve_page(tree, document.layout, one, lens)) for one in pages]
    else:
        # NumPy, which the index stands on, takes longer to load than one page to resolve.
        from navrel.core.cascade.lookup import PageResolver
        from navrel.core.index.page_index import PageIndex

        resolver = PageResolver(PageIndex(tree), document.layout)
        traced = [(one, resolver.resolve(one, lens)) for one in document.pages]
    found = [_resolved(document, tree, one, lens, traces, explain) for one, traces in traced]
    if as_json:
        print_json(found)
        return
    used = [slot for slot in SLOTS if any(one["slots"][slot]["state"] != "unset" for one in found)]
    from rich.console import Console
    from rich.table import Column, Table

    table = Table(Column("page", no_wrap=True), "template", *used)
    for one in found:
        table.add_row(one["path"], one["template"] or "", *(cell(one["slots"][slot]) for slot in used))
    Console().print(table)


def explain(file: Path, path: str, slot: str, visitor: str, at: str, as_json: bool) -> None:
    """Say why a slot, the template or a setting of a page comes to what it does."""
    document, tree = read_layout(file)
    target = Target.read(slot)
    lens = read_lens(document, visitor, at)
    if target.kind == "setting" and target.name not in document.layout.setting_defaults:
        cannot_use([f"there is no setting {target.name}"])
    found = resolve_page(tree, document.layout, find_page(tree, path), lens, (target,))[target]
    if as_json:
        print_json(_traced(found))
        return
    first, *others = trace_lines(found)
    say(f"{path} {slot}: {first}")
    for line in others:
        say(f"  {line}")


def cell(slot: dict[str, Any]) -> str:
    if slot["pieces"]:
        return ", ".join(slot["pieces"])
    return "" if slot["state"] == "unset" else str(slot["state"])


def _resolved(
    document: SiteDocument, tree: PageTree, page: Page, lens: Lens, traces: dict[Target, Trace], explain: bool
) -> dict[str, Any]:
    """One page as the layout file's documentation shows it."""
    outcomes = {target: trace.outcome for target, trace in traces.items()}
    found = {"path": page.path, **described(document, tree, page, lens, outcomes)}
    if explain:
        found["traces"] = [_traced(trace) for trace in traces.values()]
    return found


def _traced(found: Trace) -> dict[str, Any]:
    entries = []
    for entry in found.entries:
        start, end = found.next_start(entry), found.ends(entry) if entry.strength else None
        entries.append(
            {
                "rule": entry.rule.name,
                "place": entry.place,
                "action": write_action(entry.action),
                "state": entry.state,
                "priority": entry.strength.priority if entry.strength else None,
                "specificity": list(entry.strength.specificity) if entry.strength else None,
                "by": entry.by.name if entry.by else None,
                "on": entry.on,
                "clause": entry.clause or None,
                "next": write_moment(start) if start else None,
                "until": write_moment(end) if end else None,
            }
        )
    outcome: dict[str, Any] = {"state": found.outcome.state, "pieces": list(found.outcome.pieces)}
    if found.target.kind == "setting":
        outcome["value"] = found.outcome.value
    return {"target": str(found.target), **outcome, "entries": entries}
