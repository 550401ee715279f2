"""Findings of the checks, in words: what is the matter, why, and how to mend it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import NamedTuple

from navrel.core.calendar.schedule import write_moment
from navrel.core.layout.model import TEMPLATE, Target
from navrel.core.questions.checks.finding import Finding

from .counts import count_pages, in_a_row
from .edits import slot_words
from .guards import demand_words, fault_words

#: Longest query that is written out in a sentence, in characters.
_MOST_WRITTEN = 200

_SHARED = {
    "search": "both hold a search box",
    "notice": "both hold a notice",
    "breadcrumbs": "both hold breadcrumbs",
    "menu": "both hold a menu of the same links",
    "links": "both hold the same links",
    "newest": "both hold the same newest pages",
    "landmark": "both hold a navigation landmark of the same name",
    "itself": "it stands in two places of the page",
}


class FindingWords(NamedTuple):
    """A finding in three sentences without a full stop."""

    what: str
    why: str
    mend: str


def finding_words(finding: Finding) -> FindingWords:
    """What a check found, in words."""
    return _WORDS[finding.check](finding)


def _listed(names: Sequence[str], most: int = 3) -> str:
    """Some names in a row, the rest as a number."""
    shown = [f"“{name}”" for name in names[:most]]
    rest = len(names) - most
    return ", ".join(shown) + (f" and {rest} more" if rest > 0 else "")


def _target(target: Target) -> str:
    """A target as a sentence names it."""
    named = {"template": "the template", "setting": f"the setting {target.name}"}
    return named.get(target.kind, slot_words(target.name))


def _no_include(one: Finding) -> FindingWords:
    return FindingWords(f"“{one.subject}” matches nothing", "its include is empty", "say where it applies, or all")


def _no_page(one: Finding) -> FindingWords:
    return FindingWords(
        f"“{one.subject}” matches no page",
        f"nothing on this site fits {one.about['include']}",
        "change its include, or remove it",
    )


def _no_page_left(one: Finding) -> FindingWords:
    return FindingWords(
        f"“{one.subject}” excludes every page that it includes",
        f"{one.about['exclude']} takes out all that {one.about['include']} lets in",
        "change one of the two",
    )


def _no_page_in_clause(one: Finding) -> FindingWords:
    return FindingWords(
        f"a clause of “{one.subject}” matches no page",
        f"nothing on this site fits {one.about['clause']}",
        "change the clause, or take it out",
    )


def _contradiction(one: Finding) -> FindingWords:
    terms = one.about["terms"]
    reason = {
        "nowhere": f"{terms[0]} holds nowhere",
        "opposites": f"{terms[0]} and {terms[-1]} stand together",
        "disjoint": f"no page fits both {terms[0]} and {terms[-1]}",
    }[one.about["reason"]]
    return FindingWords(
        f"a clause of “{one.subject}” can match no page of any site",
        f"in {one.about['clause']}: {reason}",
        "take one of the terms out, or part them by |",
    )


def _nobody(one: Finding) -> FindingWords:
    return FindingWords(
        f"“{one.subject}” lets no visitor in",
        "no visitor fits its visitors include without being excluded",
        "change its visitors",
    )


def _never(one: Finding) -> FindingWords:
    return FindingWords(
        f"“{one.subject}” is never in force",
        "its from, until and repeats leave no time between them",
        "change its schedule",
    )


def _over(one: Finding) -> FindingWords:
    return FindingWords(
        f"the time of “{one.subject}” is over",
        "its schedule lies in the past and does not come again",
        "remove it, or give it new dates",
    )


def _ends_soon(one: Finding) -> FindingWords:
    return FindingWords(
        f"“{one.subject}” ends on {write_moment(one.about['end']).replace('T', ' at ')}",
        "its schedule has no time in force after that",
        "make sure that what comes after it is right",
    )


def _gone(one: Finding) -> FindingWords:
    return FindingWords(
        f"“{one.subject}” names what is not there: {_listed(one.about['names'])}",
        "the site has no such thing (any more)",
        "correct the name, take it out, or leave it if it is still to come",
    )


def _lacking(one: Finding) -> FindingWords:
    target = one.about["target"]
    pages = f"{one.subject} has" if one.page_count == 1 else f"{count_pages(one.page_count)} below one page have"
    return FindingWords(
        f"{pages} no {'template of its own' if target == TEMPLATE else target.name}, unlike most pages beside",
        f"no rule decides {_target(target)} there, for a visitor of whom nothing is known",
        "widen the rule that the others follow, or leave the slot empty on purpose",
    )


def _twice(one: Finding) -> FindingWords:
    shared = one.about["shared"]
    names = f"“{one.about['first']}” and “{one.subject}” say the same"
    return FindingWords(
        f"{f'“{one.subject}” shows twice' if shared == 'itself' else names} on {count_pages(one.page_count)}",
        _SHARED[shared],
        "leave one of them out there: exclude these pages, or change what the pieces hold",
    )


def _dead_link(one: Finding) -> FindingWords:
    paths = one.about["paths"]
    more = f" and {len(paths) - 1} more" if len(paths) > 1 else ""
    return FindingWords(
        f"“{one.subject}” leads to {paths[0]}{more}, where there is no page",
        "the page may be gone, or come later",
        "let it lead elsewhere, or take the link away",
    )


def _page_link(one: Finding) -> FindingWords:
    more = f" and {one.about['more']} more" if one.about["more"] else ""
    lead = "leads" if one.page_count == 1 else "lead"
    return FindingWords(
        f"{count_pages(one.page_count)} {lead} to {one.subject}{more}, where there is no page",
        "a link in their own text goes there",
        "take that page in, or correct the link where the pages are written",
    )


def _no_alt(one: Finding) -> FindingWords:
    return FindingWords(
        f"Pictures on {count_pages(one.page_count)} have no text in their place",
        "to whoever does not see them nothing is said of them (WCAG 2.2, 1.1.1)",
        "give each an alt text where the pages are written, an empty one where it is decoration",
    )


def _heading_order(one: Finding) -> FindingWords:
    return FindingWords(
        f"Headings on {count_pages(one.page_count)} skip a level",
        "whoever goes from heading to heading looks for what seems to be missing",
        "let each heading be at most one level below the one before it, where the pages are written",
    )


def _id_twice(one: Finding) -> FindingWords:
    return FindingWords(
        f"Two parts of the text have the same id on {count_pages(one.page_count)}",
        "a link to it leads to the first alone",
        "give each an id of its own, where the pages are written",
    )


_WIDTHS = {"phone": "a phone", "tablet": "a tablet", "desktop": "the desktop"}
_DRAWN_MENDED = {
    "drawn-wraps": "give the menu fewer or shorter entries, or let it fold at that width",
    "drawn-runs-over": "let it become narrower at that width, or take something out",
    "drawn-ink": "give the text, or what lies under it, another colour",
    "drawn-id-twice": "give each an id of its own",
    "drawn-heading": "let each heading be at most one level below the one before it",
}


def _drawn(one: Finding) -> FindingWords:
    where = f"in “{one.about['piece']}”" if "piece" in one.about else "in the page's own content"
    widths = [_WIDTHS[width] for width in one.about["widths"]]
    return FindingWords(
        f"{one.subject} on {in_a_row(widths)}, {where}",
        "measured in the page as it is drawn, which no other check sees",
        _DRAWN_MENDED[one.check],
    )


def _notice_here(one: Finding) -> FindingWords:
    path = one.pages[0].path
    return FindingWords(
        f"“{one.subject}” brings “{one.about['piece']}” to {path}, where its notice leads",
        "whoever reads it there is there already",
        f"leave {path} out of the rule",
    )


def _unused(one: Finding) -> FindingWords:
    return FindingWords(f"“{one.subject}” is used nowhere", "no rule and no sidebar names it", "use it, or remove it")


def _empty_shows(one: Finding) -> FindingWords:
    return FindingWords(
        f"“{one.subject}” shows blank on {count_pages(one.page_count)}",
        f"it has no {one.about['has']} yet",
        f"give it {one.about['has']}, or leave the slot empty instead",
    )


def _blank_sidebar(one: Finding) -> FindingWords:
    return FindingWords(
        f"“{one.subject}” shows blank on {count_pages(one.page_count)}",
        "the condition of each of its entries keeps a visitor of whom nothing is known out there",
        "widen an entry's condition, or give these pages another sidebar",
    )


def _entry_never_shows(one: Finding) -> FindingWords:
    return FindingWords(
        f"“{one.about['piece']}” never shows in “{one.about['sidebar']}”",
        "on every page that can have the sidebar, its condition keeps everyone out at every moment",
        "change its condition, or take it out",
    )


def _no_such_slot(one: Finding) -> FindingWords:
    return FindingWords(
        f"“{one.subject}” acts on a slot that is nowhere: {one.about['slot']}",
        "no template, no piece and no page has a slot of this name",
        "correct the name, or add the slot",
    )


def _unseated(one: Finding) -> FindingWords:
    slot, shown = slot_words(one.subject).capitalize(), _listed(one.about["pieces"])
    what = f"{slot} is to show {shown} on {count_pages(one.page_count)}"
    if one.check == "unbound":
        return FindingWords(
            f"{what} whose HTML has no place for it",
            "no element of these pages is bound to the slot",
            "bind the slot to an element of theirs, or exclude these pages",
        )
    return FindingWords(
        f"{what} without a place for it",
        "neither the template nor the content nor a piece on these pages has the slot",
        "give the template the slot, use another template there, or exclude these pages",
    )


def _never_wins(one: Finding) -> FindingWords:
    target = f" {_target(one.about['target'])}" if one.about else ""
    fate = f"each is taken before it by {_listed(one.rules)}" if one.rules else "each is locked there"
    return FindingWords(
        f"“{one.subject}” never wins{target}",
        f"it matches {count_pages(one.page_count)}, and {fate}, for every visitor at every moment",
        "raise its priority, narrow what covers it, or remove it" if one.rules else "remove it",
    )


def _order_alone(one: Finding) -> FindingWords:
    targets = ", ".join(sorted(_target(target) for target in one.about["targets"]))
    return FindingWords(
        f"only the order decides between “{one.rules[0]}” and “{one.subject}”",
        f"both have the same priority and specificity on {count_pages(one.page_count)}, "
        f"and want something else of {targets}",
        "give one of them another priority, or say more exactly where it applies",
    )


def _said_already(one: Finding) -> FindingWords:
    return FindingWords(
        f"“{one.subject}” picks {count_pages(one.page_count)} by hand that “{one.rules[0]}” covers",
        f"both do the same to {_target(one.about['target'])} there, and nothing stands between them",
        "take these pages out of the list, unless they should stay so when the wider rule changes",
    )


def _could_be_one(one: Finding) -> FindingWords:
    include = str(one.about["include"])
    return FindingWords(
        f"“{one.rules[0]}” and “{one.subject}” could be one rule",
        "they do the same, to the same visitors at the same times, and differ in their include alone",
        f"join them: {include if len(include) <= _MOST_WRITTEN else 'both includes, parted by |'}",
    )


def _guard_broken(one: Finding) -> FindingWords:
    guard, names = one.about["guard"], one.about["names"]
    return FindingWords(
        f"the guard “{one.subject}” is broken on {count_pages(one.page_count)}",
        f"{fault_words(guard.demand, one.about['fault'], names)}; to stay so: {demand_words(guard.demand, names)}",
        "change what made it so, or the guard",
    )


def _guard_idle(one: Finding) -> FindingWords:
    return FindingWords(
        f"the guard “{one.subject}” guards nothing", "its condition reaches no page", "say which pages it is for"
    )


def _guard_unknown(one: Finding) -> FindingWords:
    return FindingWords(
        f"whether the guard “{one.subject}” holds is not known on {count_pages(one.page_count)}",
        "another system owns the place there, or there are too many visitors and times to tell apart",
        "leave these pages out of the guard",
    )


def _too_many(one: Finding) -> FindingWords:
    return FindingWords(
        "some rules could not be looked through for all visitors",
        "there are more combinations of visitors and times than can be told apart",
        "use fewer roles, parameters and schedules together",
    )


#: How each kind of finding is worded.
_WORDS: Mapping[str, Callable[[Finding], FindingWords]] = {
    "no-include": _no_include,
    "no-page": _no_page,
    "no-page-left": _no_page_left,
    "no-page-in-clause": _no_page_in_clause,
    "contradiction": _contradiction,
    "nobody": _nobody,
    "never": _never,
    "over": _over,
    "ends-soon": _ends_soon,
    "gone": _gone,
    "lacking": _lacking,
    "twice": _twice,
    "unused": _unused,
    "empty-shows": _empty_shows,
    "blank-sidebar": _blank_sidebar,
    "dead-link": _dead_link,
    "notice-here": _notice_here,
    **dict.fromkeys(_DRAWN_MENDED, _drawn),
    "page-link": _page_link,
    "no-alt": _no_alt,
    "heading-order": _heading_order,
    "id-twice": _id_twice,
    "entry-never-shows": _entry_never_shows,
    "no-such-slot": _no_such_slot,
    "unseated": _unseated,
    "unbound": _unseated,
    "never-wins": _never_wins,
    "action-never-wins": _never_wins,
    "order-alone": _order_alone,
    "said-already": _said_already,
    "could-be-one": _could_be_one,
    "guard-broken": _guard_broken,
    "guard-idle": _guard_idle,
    "guard-unknown": _guard_unknown,
    "too-many": _too_many,
}
