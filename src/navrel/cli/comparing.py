"""What differs between two layout files. No database."""

from __future__ import annotations

from argparse import ArgumentParser
from collections.abc import Sequence
from datetime import datetime
from pathlib import Path
from typing import Any

from navrel.core.cascade.plain import Outcome
from navrel.core.index.page_index import PageIndex
from navrel.core.lenses.space import Sighting
from navrel.core.pages.page import Page
from navrel.core.questions.changes import changed_parts
from navrel.core.questions.impact import impact
from navrel.core.questions.shifts import Redraw, Shift
from navrel.rendering.redrawing import redrawing
from navrel.wording.audiences import seen_by

from .files import MOST_PATHS, print_json, read_layout, read_lens, say, some_paths, takes_file, takes_json, takes_moment
from .looking import told_sightings


def diff_options(parser: ArgumentParser) -> None:
    takes_file(parser, "before")
    takes_file(parser, "after")
    takes_moment(parser)
    takes_json(parser)


def diff(before: Path, after: Path, at: str, as_json: bool) -> None:
    """Say what differs between two layout files: parts, and what comes out differently, for whom and when."""
    old, old_tree = read_layout(before)
    new, new_tree = read_layout(after)
    since = read_lens(new, "", at).moment
    parts = changed_parts(old, new)
    indices = PageIndex(old_tree), PageIndex(new_tree)
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
                    {**_redrawn(one), "seen": told_sightings(one.seen, since), "pages": _all_paths(one.pages)}
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
        if shift.alike:
            say("  by another piece that is the same, so it is drawn as before")
        elif not shift.is_visible:
            say("  where it has no place, so nobody sees it")
    for redraw in found.redraws:
        say(f"{f'the dress {redraw.dress}' if redraw.dress else redraw.piece} is drawn differently")
        _say_where(redraw.pages, redraw.seen, since)
    if found.own:
        say("The content or the facts of pages differ")
        _say_where(found.own, (), since)
    say(f"{_pages(len(found.paths))} {'comes' if len(found.paths) == 1 else 'come'} out differently")
    for seen, pages in found.by_audience():
        say(f"  {seen_by(seen, since)}: {_pages(len(pages))}")
    if found.untold:
        say(f"{_pages(len(found.untold))} with more combinations of visitors than can be told apart")


def _redrawn(one: Redraw) -> dict[str, str]:
    return {"dress": one.dress} if one.dress else {"piece": one.piece}


def _shift(one: Shift, since: datetime) -> dict[str, Any]:
    return {
        "target": str(one.target),
        "before": _outcome(one.before, one.widgets[0]),
        "after": _outcome(one.after, one.widgets[1]),
        "visible": one.is_visible,
        "alike": one.alike,
        "seen": told_sightings(one.seen, since),
        "pages": _all_paths(one.pages),
    }


def _say_where(pages: Sequence[Page], seen: Sequence[Sighting], since: datetime) -> None:
    say(f"  on {some_paths([page.path for page in pages[:MOST_PATHS]], len(pages))}")
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
