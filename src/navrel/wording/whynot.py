"""Why a rule does not show on a page, in one sentence, and what would change that."""

from __future__ import annotations

from datetime import datetime

from navrel.core.cascade.plain import Entry
from navrel.core.language.query import parse_query
from navrel.core.questions.whynot import Remedy

from .audiences import scheduled, who
from .pages import PageWords

_DONE = {
    "switch-on": "switch it on",
    "let-in": "let it reach this page",
    "raise": "give it priority {priority}",
    "move-up": "move it up to number {position}",
    "leave-out": "leave this page out of “{name}”",
    "switch-off": "switch “{name}” off",
}


def why_words(entry: Entry, words: PageWords, since: datetime) -> str:
    """Why an action does not show, as a sentence without a full stop."""
    condition, name = entry.rule.condition, f"“{entry.rule.name}”"
    match entry.state:
        case "off":
            return f"{name} is switched off"
        case "not-included":
            where = words.where(condition.include)
            return f"{name} is only for pages {where}" if where else f"{name} includes no page"
        case "excluded":
            return f"{name} leaves out pages {words.where(parse_query(entry.clause))}"
        case "visitor" if entry.clause:
            return f"{name} is not for {who(parse_query(entry.clause, 'visitor'))}"
        case "visitor":
            return f"{name} is only for {who(condition.visitors_include)}"
        case "time":
            told = scheduled(condition.schedule, since) if condition.schedule else ""
            return f"{name} is not in force then; it is {told}" if told else f"{name} is not in force then"
        case "outranked" if entry.by:
            return f"“{entry.by.name}” {_stronger(entry)}"
        case "cleared" if entry.by:
            return f"“{entry.by.name}” leaves no room beside what it puts there"
        case "duplicate":
            return "the same piece stands there already"
        case "locked":
            return "another system owns this slot here"
    return f"{name} shows here"


def _stronger(entry: Entry) -> str:
    """On what the rule that outranks an entry does so."""
    if entry.on == "priority" and entry.by:
        return f"is of higher priority: {entry.by.priority} against {entry.rule.priority}"
    if entry.on == "specificity":
        return "says more exactly which pages and visitors it is for, at the same priority"
    return "stands higher in the list, and is as strong in everything else"


def remedy_words(remedy: Remedy) -> str:
    """What a remedy does: `switch it on and give it priority 20`."""
    told = [
        _DONE[part].format(priority=remedy.rule.priority, position=remedy.position, name=remedy.rule.name)
        for part in remedy.parts
    ]
    text = " and ".join(told)
    return text[:1].upper() + text[1:]
