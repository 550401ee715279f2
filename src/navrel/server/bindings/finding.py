"""Finds: what stands in the places of slots today, made into pieces and rules that come to just that."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable, Mapping, Sequence, Set
from dataclasses import dataclass, field, replace
from typing import NamedTuple
from zlib import crc32

from django.db.models import Q

from navrel.core.cascade.bulk import TargetOutcomes, resolve_all
from navrel.core.errors import DocumentError
from navrel.core.language.query import EVERYWHERE
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.condition import Condition
from navrel.core.layout.document import MAX_NAME, free_name, slugify
from navrel.core.layout.model import Layout, Piece, SidebarEntry, Target, slot_kind
from navrel.core.questions.explaining import explain
from navrel.rendering.items.content import check_content
from navrel.rendering.markup.losses import lost_in
from navrel.server.inventory.blocks import TOO_MANY, VALUE, Mark
from navrel.server.inventory.bringing_in import BATCH, batches
from navrel.server.inventory.decoding import Unreadable
from navrel.server.inventory.models import Original, Site
from navrel.server.inventory.originals import Seating, bytes_of, originals_of
from navrel.server.inventory.reader import Reader, read_beside
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.kept import Kept
from navrel.server.sitestate.state import SiteState

from .marking import marked_markup
from .standing import Stands

#: Finds of one slot that are made into pieces; what stands on fewer pages than the others is left as it is.
MOST_FINDS = 60
#: Pages that are named.
MOST_NAMED = 20
#: Values of one hidden input that are said page by page; of one with more none is.
_MOST_VALUES = 12
#: What a piece lacks that does not mark everywhere where a reader is, as it is told.
_LACKING = "mark or value that differs by page"
#: Values of a condition that the name of a piece tells, and their characters.
_MOST_SHORT = 3
_LONG = 50
#: How it tells of pages around one, by the fact that is asked: by its path alone it would be that page.
_BELOW = {"within": "all of ", "under": "all below ", "child": "pages right below "}


class _Taken(NamedTuple):
    """How pieces are called already."""

    slugs: set[str]
    names: set[str]

    def copy(self) -> _Taken:
        """The same, for what is named and not made."""
        return _Taken(set(self.slugs), set(self.names))


@dataclass
class _Shown:
    """The pages that show the same in the place of a slot, and on which of them what says where a reader is.

    ``key``: what it is called by, the same as long as it shows the same in that slot; ``pages``: by path, where.
    """

    key: str
    pages: dict[str, Stands] = field(default_factory=dict)
    marked: dict[Mark, set[str]] = field(default_factory=dict)

    def without(self, paths: Set[str]) -> _Shown:
        """The same on the other pages alone."""
        marked = {mark: left for mark, pages in self.marked.items() if (left := pages - paths)}
        return _Shown(self.key, {path: at for path, at in self.pages.items() if path not in paths}, marked)


class _Code(NamedTuple):
    """What stands in a place as the code of a piece; why it is none, or what of it no piece may hold, and how many."""

    code: str
    problem: str
    lost: Counter[str]


#: Keys of finds, or None: see `LOSSES`.
Left = Collection[str] | None
#: What stands in the places of each slot.
_BySlot = Mapping[str, Sequence[_Shown]]


class _Looked(NamedTuple):
    """What stands in places, and the version of all that it depends on."""

    version: object
    standing: _BySlot


_kept: Kept[_Looked] = Kept(most=4)


@dataclass(frozen=True)
class Find:
    """What stands in the place of a slot on two pages or more, and the pieces and the rule that come to it.

    ``key``: what it is called by; ``pieces``: the one that is put there first, the others stand in it; ``condition``:
    None where it is ``left`` as it is, as somebody wishes, and where there is a ``problem``: why it is no piece, or has
    no rule. Its pages stay as they are then. ``pages``: by path, where it stands; ``lost``: what of it no piece may
    hold, and how many of each.
    """

    slot: str
    key: str
    pages: Mapping[str, Stands]
    pieces: tuple[Piece, ...]
    condition: Condition | None
    problem: str = ""
    left: bool = False
    lost: tuple[tuple[str, int], ...] = ()

    @property
    def piece(self) -> Piece:
        """The piece that is put there."""
        return self.pieces[0]

    @property
    def code(self) -> str:
        """The markup that shows it."""
        return str(self.pieces[-1].content["items"][0]["code"])

    @property
    def is_explained(self) -> bool:
        """Whether a piece and a rule come to it."""
        return self.condition is not None


@dataclass(frozen=True)
class Found:
    """What was found in one slot, where no rule decides yet what stands there.

    ``alone``: pages that show something that no other does; ``decided``: pages on which a rule, or a lock, decides.
    """

    slot: str
    finds: tuple[Find, ...]
    alone: tuple[str, ...]
    decided: tuple[str, ...] = ()


#: Leave what a piece would lose something of.
LOSSES: Left = None


def find(site: Site, left: Left = LOSSES) -> list[Found]:
    """What stands in the places of the slots of a site's draft today, slot by slot in page order.

    ``left``: the keys of finds that are left as they are: no rule of another find is to reach their pages.
    """
    state = draft(site)
    taken = _Taken(set(state.layout.pieces), {piece.name for piece in state.layout.pieces.values()})
    standing = _standing(site, state)
    outcomes = resolved(state, state.layout, standing)
    return [_found(state, slot, shown, outcomes[slot], left, taken, site) for slot, shown in standing.items()]


def resolved(state: SiteState, layout: Layout, slots: Iterable[str]) -> dict[str, TargetOutcomes]:
    """What some slots come to on every page by a layout, as a visitor sees it of whom nothing is known."""
    targets = {Target("slot", slot): slot for slot in slots}
    resolved = resolve_all(state.index, layout, Lens(Visitor(), state.document.now()), targets)
    return {targets[target]: outcomes for target, outcomes in resolved.items()}


def _standing(site: Site, state: SiteState) -> _BySlot:
    """For each slot what stands in its places; who looks again, or takes what was found, does not wait for it anew."""
    version = (state.inventory_version, state.document.bindings, state.document.base_url)
    if site.is_locked:
        # What is not committed is not kept, but what is known still holds.
        known = _kept.newest(site.pk)
        return known.standing if known and known.version == version else _shown(site, state)
    return _kept.get(site.pk, version, lambda older: _Looked(version, _shown(site, state))).standing


def _shown(site: Site, state: SiteState) -> _BySlot:
    """For each slot what stands there, by the pages on which it does."""
    seating = Seating(state.document.bindings, state.index.tree)

    def read(reader: Reader, one: tuple[str, Original]) -> list[tuple[str, str, Stands, str, list[Mark]]]:
        path, original = one
        page = state.index.tree.page(path)
        seats = [seat for seat in seating.seats(page, original) if seat.end > seat.start] if page else []
        if not page or not seats:
            return []
        try:
            starts = [seat.start for seat in seats]
            told = reader.shown(bytes_of(original.digest), original.encoding, page.href, site.base_url, starts)
        except (OSError, Unreadable):
            return []
        return [
            (seat.slot, path, Stands(original.digest, seat.start, seat.end), digest, marks)
            for seat, (digest, marks) in zip(seats, told, strict=True)
            if digest
        ]

    found: dict[str, dict[str, _Shown]] = {binding.slot: {} for binding in state.document.bindings}
    for batch in batches(originals_of(site), BATCH):
        for page in read_beside(batch, read):
            for slot, path, at, digest, marks in page:
                shown = found[slot].setdefault(digest, _Shown(f"{crc32(f'{slot} {digest}'.encode()):08x}"))
                shown.pages[path] = at
                for mark in marks:
                    shown.marked.setdefault(mark, set()).add(path)
    return {slot: list(shown.values()) for slot, shown in found.items()}


def _found(
    state: SiteState,
    slot: str,
    standing: Sequence[_Shown],
    outcomes: TargetOutcomes,
    left: Left,
    taken: _Taken,
    site: Site,
) -> Found:
    numbers = state.index.tree.numbers
    decided = {path for one in standing for path in one.pages if not outcomes.on(numbers[path]).is_open}
    shown = [one.without(decided) for one in standing] if decided else standing
    several = sorted((one for one in shown if len(one.pages) > 1), key=lambda one: (-len(one.pages), list(one.pages)))
    groups, few = several[:MOST_FINDS], several[MOST_FINDS:]
    alone = sorted(path for one in (*(one for one in shown if len(one.pages) == 1), *few) for path in one.pages)
    codes = _codes(site, state, slot, groups)
    # What no piece can be made of stays as it is, as does what somebody leaves: no condition is to reach it.
    stays = [
        bool(code.problem or (code.lost if left is None else one.key in left))
        for one, code in zip(groups, codes, strict=True)
    ]
    kept = [path for one, stay in zip(groups, stays, strict=True) if stay for path in one.pages]
    made = [one.pages for one, stay in zip(groups, stays, strict=True) if not stay]
    conditions = iter(explain(state.index, made, [*alone, *decided, *kept]))
    finds = []
    for one, code, stay in zip(groups, codes, stays, strict=True):
        condition = None if stay else next(conditions)
        problem = code.problem or ("" if condition or stay else "No condition tells its pages from the others")
        pieces = _pieces(slot, condition, code.code, taken.copy() if stay else taken)
        lost = tuple(code.lost.most_common())
        finds.append(Find(slot, one.key, one.pages, pieces, condition, problem, stay and not problem, lost))
    return Found(slot, tuple(finds), tuple(alone), tuple(sorted(decided)))


def _codes(site: Site, state: SiteState, slot: str, groups: Sequence[_Shown]) -> list[_Code]:
    """What stands in the place of a slot on the pages of each group, as the code of a piece."""
    seating = Seating(state.document.bindings, state.index.tree)
    originals = dict(originals_of(site, Q(path__in=[next(iter(one.pages)) for one in groups])))

    def read(reader: Reader, shown: _Shown) -> _Code:
        path = next(iter(shown.pages))
        page, original = state.index.tree.page(path), originals[path]
        assert page is not None
        seat = next(one for one in seating.seats(page, original) if one.slot == slot)
        here = bytes_of(original.digest), original.encoding, page.href, site.base_url, seat.start
        marked = _marked(shown)
        lacking = len({mark.number for mark in shown.marked.keys() - marked.keys()})
        markup, links = reader.markup(*here, list(marked))
        code, unsaid = marked_markup(markup, links, marked, set(shown.pages), state.index.tree)
        problem = _problem(_made_of(code))
        # What tells of too many places, or of none that can be told, is a piece without marks all the same.
        if marked and problem:
            code, _ = marked_markup(*reader.markup(*here, []), {}, set(shown.pages), state.index.tree)
            problem, unsaid = _problem(_made_of(code)), len(marked)
        lost = Counter[str]() if problem else lost_in(markup, in_place=True) + Counter({_LACKING: unsaid + lacking})
        return _Code(code, problem, lost)

    return read_beside(groups, read)


def _marked(shown: _Shown) -> dict[Mark, set[str]]:
    """The marks of what is shown, in document order, but the values of a hidden input that has many."""
    values = Counter(mark.number for mark in shown.marked if mark.name == VALUE)
    left_out = {mark for mark in shown.marked if mark.name == VALUE and values[mark.number] > _MOST_VALUES}
    return {mark: shown.marked[mark] for mark in sorted(shown.marked.keys() - left_out - {TOO_MANY})}


def _pieces(slot: str, condition: Condition | None, code: str, taken: _Taken) -> tuple[Piece, ...]:
    """The pieces of a find, the one that is put in the slot first. A sidebar shows it as a widget."""
    name = slot.replace("-", " ").capitalize()
    where = "as found" if condition is None or condition.include == EVERYWHERE else f"of {_short(condition)}"
    piece = _called(replace(_made_of(code), slug=f"{slot}-as-found", name=f"{name} {where}"), taken)
    if slot_kind(slot) != "sidebar":
        return (replace(piece, kind=slot_kind(slot)),)
    widget = _called(replace(piece, slug=f"{slot}-widget", name=f"Widget of {piece.name}"), taken)
    return replace(piece, kind="sidebar", content={}, entries=(SidebarEntry(widget.slug),)), widget


def _called(piece: Piece, taken: _Taken) -> Piece:
    """A piece as no other is called, which none after it may be."""
    slug = free_name(slugify(piece.slug), taken.slugs, "-")
    name = free_name(piece.name[:MAX_NAME], taken.names)
    taken.slugs.add(slug)
    taken.names.add(name)
    return replace(piece, slug=slug, name=name)


def _made_of(code: str) -> Piece:
    content = {"items": [{"type": "markup", "code": code}]}
    return Piece("found", "widget", "Found", "Found on the site as it was taken in.", content)


def _short(condition: Condition) -> str:
    """A condition in a few words: what it asks for first."""
    values = [f"{_BELOW.get(term.fact, '')}{value.text}" for term in condition.include.terms for value in term.values]
    if len(values) > 1 and (len(values) > _MOST_SHORT or sum(map(len, values)) > _LONG):
        return f"{values[0]} and {len(values) - 1} more"
    return ", ".join(values) or "some pages"


def _problem(piece: Piece) -> str:
    try:
        check_content(piece.kind, piece.content)
    except DocumentError as error:
        return error.problems[0].message
    return ""
