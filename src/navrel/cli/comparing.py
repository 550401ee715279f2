"""Commands that judge layout files: checks, differences, suggestions, the written form. No database."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from importlib.resources import files
from typing import Annotated, Any

import typer

from navrel.core.cascade import Outcome
from navrel.core.changes import changed_parts
from navrel.core.checks import SEVERITIES, Finding, check
from navrel.core.impact import Shift, impact
from navrel.core.index import PageIndex
from navrel.core.lenses import Sighting
from navrel.core.model import Page
from navrel.core.suggest import suggest
from navrel.core.writing import write_json, write_yaml
from navrel.rendering.redrawing import redrawing
from navrel.wording import seen_by

from .files import AsJson, LayoutFile, Moment, cannot_use, find_page, print_json, read_layout, read_lens, say
from .resolving import told_sightings

#: Paths that are printed of a finding or a shift; the rest is told as a number.
MOST_PATHS = 5

SchemaText = files("navrel.core") / "layout-file.schema.json"


def add_to(app: typer.Typer) -> None:
    app.command("check")(check_command)
    app.command()(diff)
    app.command("suggest")(suggest_command)
    app.command("format")(format_command)
    app.command()(schema)


def check_command(
    file: LayoutFile,
    at: Moment = "",
    fail_on: Annotated[
        str, typer.Option("--fail-on", help="Exit with 1 on findings this severe, or severer")
    ] = "error",
    as_json: AsJson = False,
) -> None:
    """Look a layout file through for rules and pieces that cannot be what is meant."""
    if fail_on not in SEVERITIES:
        cannot_use([f"--fail-on: {fail_on} is none of {', '.join(SEVERITIES)}"])
    document, site = read_layout(file)
    lens = read_lens(document, "", at)
    found = check(document, PageIndex(site), lens)
    if as_json:
        print_json([_finding(one) for one in found])
    else:
        for one in found:
            say(f"{one.severity}: {one.what}")
            say(f"  at {one.pointer or '/'}: {one.why}")
            say(f"  to mend it: {one.mend}")
            if one.pages:
                say(f"  on {_paths([page.path for page in one.pages], one.page_count)}")
        counts = [(name, sum(one.severity == name for one in found)) for name in SEVERITIES]
        say(", ".join(f"{number} {name}{'' if number == 1 else 's'}" for name, number in counts))
    if any(SEVERITIES.index(one.severity) <= SEVERITIES.index(fail_on) for one in found):
        raise typer.Exit(1)


def diff(
    before: LayoutFile,
    after: LayoutFile,
    at: Moment = "",
    as_json: AsJson = False,
) -> None:
    """Say what differs between two layout files: parts, and what comes out differently, for whom and when."""
    old, old_site = read_layout(before)
    new, new_site = read_layout(after)
    since = read_lens(new, "", at).moment
    parts = changed_parts(old, new)
    indices = PageIndex(old_site), PageIndex(new_site)
    drawn = redrawing(old, indices[0], new, indices[1])
    found = impact(old, indices[0], new, indices[1], since, drawn)
    if as_json:
        print_json(
            {
                "parts": [
                    {
                        "what": one.what,
                        "how": one.how,
                        "name": one.name,
                        "details": list(one.details),
                        "count": one.count,
                    }
                    for one in parts
                ],
                "pages": len(found.paths),
                "shifts": [_shift(one, since) for one in found.shifts],
                "redraws": [
                    {"piece": one.piece, "seen": told_sightings(one.seen, since), "pages": _all_paths(one.pages)}
                    for one in found.redraws
                ],
                "own": _all_paths(found.own),
                "untold": _all_paths(found.untold),
            }
        )
        return
    for part in parts:
        details = f" ({', '.join(part.details)})" if part.details else ""
        say(f"{part.what} {part.how}: {part.name}{details}" + (f", {part.count:,}" if part.count > 1 else ""))
    for shift in found.shifts:
        say(f"{shift.target}: {_outcome_text(shift.before)} → {_outcome_text(shift.after)}")
        _say_where(shift.pages, shift.seen, since)
        if not shift.is_visible:
            say("  where it has no place, so nobody sees it")
    for redraw in found.redraws:
        say(f"{redraw.piece} is drawn differently")
        _say_where(redraw.pages, redraw.seen, since)
    if found.own:
        say("The content or the facts of pages differ")
        _say_where(found.own, (), since)
    say(f"{_pages(len(found.paths))} {'comes' if len(found.paths) == 1 else 'come'} out differently")
    for seen, pages in found.by_audience():
        say(f"  {seen_by(seen, since)}: {_pages(len(pages))}")
    if found.untold:
        say(f"{_pages(len(found.untold))} with more combinations of visitors than can be told apart")


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


def format_command(
    file: LayoutFile,
    as_yaml: Annotated[bool, typer.Option("--yaml", help="Print YAML")] = False,
) -> None:
    """Print a layout file in its one written form: fixed key order, two spaces, final newline."""
    document, _ = read_layout(file)
    print(write_yaml(document) if as_yaml else write_json(document), end="")


def schema() -> None:
    """Print the JSON Schema (draft 2020-12) of the layout file."""
    print(SchemaText.read_text("utf-8"), end="")


def _finding(one: Finding) -> dict[str, Any]:
    return {
        "check": one.check,
        "severity": one.severity,
        "pointer": one.pointer,
        "subject": one.subject,
        "what": one.what,
        "why": one.why,
        "mend": one.mend,
        "rules": list(one.rules),
        "pages": [page.path for page in one.pages],
        "page_count": one.page_count,
    }


def _shift(one: Shift, since: datetime) -> dict[str, Any]:
    return {
        "target": str(one.target),
        "before": _outcome(one.before, one.widgets[0]),
        "after": _outcome(one.after, one.widgets[1]),
        "visible": one.is_visible,
        "seen": told_sightings(one.seen, since),
        "pages": _all_paths(one.pages),
    }


def _say_where(pages: Sequence[Page], seen: Sequence[Sighting], since: datetime) -> None:
    say(f"  on {_paths([page.path for page in pages[:MOST_PATHS]], len(pages))}")
    if seen:
        say(f"  for {seen_by(seen, since)}")


def _all_paths(pages: Sequence[Page]) -> list[str]:
    return [page.path for page in pages]


def _pages(count: int) -> str:
    return f"{count:,} page{'' if count == 1 else 's'}"


def _outcome(outcome: Outcome | None, widgets: tuple[str, ...]) -> dict[str, Any] | None:
    if outcome is None:
        return None
    found: dict[str, Any] = {"state": outcome.state, "pieces": list(outcome.pieces)}
    if outcome.value is not None:
        found["value"] = outcome.value
    if widgets:
        found["widgets"] = list(widgets)
    return {**found, "by": outcome.by.name if outcome.by else None}


def _outcome_text(outcome: Outcome | None) -> str:
    if outcome is None:
        return "no such page"
    shown = str(outcome.value) if outcome.value is not None else ", ".join(outcome.pieces) or outcome.state
    return f"{shown} by {outcome.by.name}" if outcome.by else shown


def _paths(paths: list[str], count: int) -> str:
    shown = paths[:MOST_PATHS]
    return ", ".join(shown) + (f" and {count - len(shown):,} more" if count > len(shown) else "")
