"""Edits: recording every write to the draft, undoing and redoing, and taking the draft back to another state."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Max, QuerySet

from navrel.server.api.errors import InTheWay, Missing
from navrel.server.inventory.models import Site
from navrel.server.logbook.services import note
from navrel.server.sitestate.locking import lock_site
from navrel.wording.edits import edit_words

from .models import Edit
from .parts import Part, differing, snapshot
from .turning import Blocked, apply

#: Edits of one person that undo and redo look at: nobody steps further back.
MOST_STEPS = 200


@contextmanager
def editing(site_slug: str, by: Any, words: str = "") -> Iterator[Site]:
    """One write to a draft, which becomes an edit with whatever the block changes: how every write begins.

    The block is given the site, locked. ``by`` is who writes, None for the program itself; ``words`` say what was done
    where that says more than the parts do. A block that changes nothing makes no edit.
    """
    with transaction.atomic():
        site = lock_site(site_slug)
        before = snapshot(site)
        yield site
        after = snapshot(site)
        parts = differing(before, after)
        if parts:
            record(site, by, parts, words or edit_words(parts, {**before.names, **after.names}))


def record(site: Site, by: Any, parts: Sequence[Part], words: str, kind: str = "edit", of: Edit | None = None) -> Edit:
    """Add an edit of a locked site to its list."""
    note(site, by, "edit", words if kind == "edit" else f"{kind.capitalize()}: {words}")
    return Edit.objects.create(
        site=site,
        number=last_edit(site) + 1,
        by=by,
        kind=kind,
        of=of,
        words=words,
        parts=[part.as_tree() for part in parts],
    )


def last_edit(site: Site) -> int:
    """The number of a site's newest edit, 0 for none."""
    return Edit.objects.filter(site=site).aggregate(last=Max("number"))["last"] or 0


def find_edit(site: Site, number: int) -> Edit:
    """The edit with this number. Raises Missing."""
    edit = Edit.objects.filter(site=site, number=number, kind="edit").select_related("by").first()
    if edit is None:
        raise Missing("no-edit", f"There is no edit {number} here")
    return edit


def undo(site_slug: str, by: Any, number: int) -> Edit:
    """Take one edit back, the newest or any other. Raises Missing, and InTheWay with what stands in the way."""
    return _turn(site_slug, by, number, undo=True)


def redo(site_slug: str, by: Any, number: int) -> Edit:
    """Do an edit again that was taken back. Raises Missing, and InTheWay with what stands in the way."""
    return _turn(site_slug, by, number, undo=False)


@transaction.atomic
def _turn(site_slug: str, by: Any, number: int, *, undo: bool) -> Edit:
    site = lock_site(site_slug)
    edit = find_edit(site, number)
    if edit.undone == undo:
        raise InTheWay("turned-already", f"This was {'undone' if undo else 'done again'} already: {edit.words}")
    parts = parts_of(edit)
    if not parts:
        raise InTheWay("no-undo", f"This cannot be undone: {edit.words}", "Take the earlier pages in again.")
    # Who redoes asks about what was done since the undo; what was done before it stood in its way.
    since = edit.number if undo else edit.turns.aggregate(last=Max("number"))["last"]
    parts = [part.turned for part in parts] if undo else parts
    later = _Later(site, since).touching(parts)
    if later is not None:
        raise _changed_since(later)
    try:
        apply(site, parts)
    except Blocked:
        raise _changed_since(None) from None
    edit.undone = undo
    edit.save(update_fields=["undone"])
    record(site, by, parts, edit.words, "undo" if undo else "redo", edit)
    return edit


def parts_of(edit: Edit) -> list[Part]:
    """The parts that an edit changed."""
    return [Part(**tree) for tree in edit.parts]


def _changed_since(later: Edit | None) -> InTheWay:
    if later is None:
        return InTheWay("changed-since", "What this changed is not as it left it", "Look at the list of edits.")
    return InTheWay(
        "changed-since", f"What this changed was changed again since: {later.words}", f"Undo edit {later.number} first."
    )


class _Later:
    """The edits of a site after one of them that are in force, newest first, with their parts."""

    def __init__(self, site: Site, after: int) -> None:
        records = Edit.objects.filter(site=site, number__gt=after, kind="edit", undone=False).select_related("by")
        self._edits = [(edit, parts_of(edit)) for edit in records[:MOST_STEPS]]

    def touching(self, parts: Sequence[Part], after: int = 0) -> Edit | None:
        """The newest of them, after a number, that touches one of these parts."""
        for edit, theirs in self._edits:
            if edit.number > after and any(part.meets(other) for part in parts for other in theirs):
                return edit
        return None


@dataclass(frozen=True)
class ListedEdit:
    """An edit in the list, and the later one that stands in the way of undoing it."""

    edit: Edit
    in_the_way: Edit | None


def edits_since(site: Site, after: int) -> QuerySet[Edit]:
    """The edits after one, newest first; undoing and redoing them is told of in how they stand, not as edits."""
    return Edit.objects.filter(site=site, kind="edit", number__gt=after).select_related("by")


def listed(site: Site, edits: Sequence[Edit]) -> list[ListedEdit]:
    """Edits with what stands in the way of undoing each."""
    if not edits:
        return []
    later = _Later(site, min(edit.number for edit in edits))
    return [ListedEdit(edit, None if edit.undone else later.touching(parts_of(edit), edit.number)) for edit in edits]


def steps(site: Site, person: Any) -> tuple[Edit | None, Edit | None]:
    """What undo takes back next for a person, and what redo does again.

    Each person steps through what they did themselves. Whoever does something new after undoing has nothing to redo.
    """
    records = (
        Edit.objects.filter(site=site, by=person)
        .exclude(kind="edit", parts=[])
        .defer("parts")
        .select_related("of")[:MOST_STEPS]
    )
    done: list[Edit] = []
    taken_back: list[Edit] = []
    for edit in reversed(records):
        match edit.kind:
            case "edit":
                done.append(edit)
                taken_back.clear()
            case "undo" if edit.of:
                done = [one for one in done if one.pk != edit.of_id]
                taken_back.append(edit.of)
            case "redo" if edit.of:
                taken_back = [one for one in taken_back if one.pk != edit.of_id]
                done.append(edit.of)
    undoable = [edit for edit in done if not edit.undone]
    redoable = [edit for edit in taken_back if edit.undone]
    return (undoable[-1] if undoable else None, redoable[-1] if redoable else None)


def turn_to(site_slug: str, by: Any, words: str, make: Callable[[Site], Sequence[Part]]) -> None:
    """Bring the draft to other parts, which ``make`` gives for the locked site, as one edit. Raises InTheWay."""
    with editing(site_slug, by, words) as site:
        parts = make(site)
        if not parts:
            raise InTheWay("nothing-to-do", "The draft is already so")
        try:
            apply(site, parts)
        except Blocked as blocked:
            raise InTheWay("changed-since", f"{blocked.part.key} was changed meanwhile", "Try again.") from None
