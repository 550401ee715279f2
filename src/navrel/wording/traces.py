"""What a target of a page comes to, and why, in lines: what it shows, then who contended and what became of each."""

from __future__ import annotations

from navrel.core.calendar.schedule import write_moment
from navrel.core.cascade.plain import Entry, Outcome, Trace


def trace_lines(found: Trace) -> list[str]:
    """The outcome, then a line for every entry, strongest first."""
    return [_told(found.outcome), *(_line(found, entry) for entry in found.entries)]


def _line(found: Trace, entry: Entry) -> str:
    strength = f"priority {entry.strength.priority}, {entry.strength.specificity}" if entry.strength else ""
    return f"{entry.state}{_against(found, entry)}: {entry.rule.name}, no. {entry.place} {strength}".rstrip()


def _told(outcome: Outcome) -> str:
    if outcome.value is not None:
        return f"{outcome.value}" if outcome.by else f"{outcome.value}, by default"
    return f"{outcome.state} {', '.join(outcome.pieces)}".rstrip()


def _against(found: Trace, entry: Entry) -> str:
    """What stood in an entry's way."""
    if entry.by:
        return f" by {entry.by.name} on {entry.on}"
    if entry.state == "time":
        start = found.next_start(entry)
        return f", next {write_moment(start)}" if start else ", never again"
    return f" by {entry.clause}" if entry.clause else ""
