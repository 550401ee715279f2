"""A page in its own HTML: what is decided stands in the places of its slots, and nothing else changes by one byte."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from html import escape
from typing import NamedTuple

from markupsafe import Markup

from navrel.core.cascade.plain import Outcome
from navrel.core.layout.binding import Binding, Seat
from navrel.core.layout.binding import Place as FoundPlace
from navrel.core.layout.model import slot_kind

from ..slots import SlotDrawing
from .keeping import Kept, fenced, is_hydrated, keeper, keeper_at
from .styles import with_beginnings
from .tokens import inside, is_one_element

_BARE = re.compile(
    r'<div class="piece piece-[a-z]+" data-piece="[^"]*">\s*<div class="inner">\s*<div class="row">\s*'
    r'<div class="cell [a-z]+ to-[a-z]+">\s*(?P<inner>.*?)\s*</div>\s*</div>\s*</div>\s*</div>\Z',
    re.DOTALL,
)
_SIDEBAR = re.compile(
    r'<div class="piece piece-sidebar" data-piece="[^"]*">\s*<div class="inner">\s*'
    r'(?P<widget><div class="piece piece-widget" data-piece=.*</div>)\s*</div>\s*</div>\Z',
    re.DOTALL,
)
_MARKUP = re.compile(r'<div class="markup"><div>(.*)</div></div>\Z', re.DOTALL)
_TAG_NAME = re.compile(rb"<[a-zA-Z][^\s/>]*")
_BEGINNING = re.compile(r"\A\s*<[a-zA-Z][^\s/>]*")
#: What stands before and after what a picture of a page is to show. Comments change nothing of how the page looks.
_PICKED = ("<!--nv-picked-->", "<!--nv-picked-until-->")
_OUTLINED = (
    "[data-nv-stays]{outline:2px dashed #9AA1A8;outline-offset:-2px}"
    "[data-nv-stays].lit,[data-nv-shows].lit{outline-width:4px;outline-offset:-4px}"
)


@dataclass(frozen=True)
class Original:
    """The HTML of a page of its own, with the places of slots in it, and from where to where its title stands.

    ``stands``: by slot, the pieces that show what stands in its place: they are drawn by leaving that as it is.
    """

    data: bytes
    encoding: str = "utf-8"
    seats: tuple[Seat, ...] = ()
    title: tuple[int, int] | None = None
    stands: frozenset[tuple[str, str]] = frozenset()

    def stands_as_in(self, other: Original) -> frozenset[tuple[str, str]]:
        """The pieces that show what stands in another HTML of the page, as far as just that stands here too."""
        here, there = ({seat.slot: one.data[seat.start : seat.end] for seat in one.seats} for one in (self, other))
        return frozenset(one for one in other.stands if one[0] in here and here[one[0]] == there.get(one[0]))


@dataclass(frozen=True)
class _Splice:
    """What stands from one byte to another from now on."""

    start: int
    end: int
    data: bytes


def draw_in_place(
    original: Original,
    drawing: SlotDrawing,
    title: str | None,
    styles: Callable[[str], str],
    *,
    picked: str = "",
    kept: Sequence[Binding] = (),
) -> bytes:
    """The page with what its slots show. ``title``: what its title element says; None for what it says itself.

    ``styles`` gives the styles that drawn markup needs; they come with the first slot that needs any. ``picked``: the
    slot that a picture of it is to show. ``kept``: the bindings of the page, where its scripts run: what they would
    take back is kept.
    """
    shown = [one for seat in original.seats for one in _shown(original, drawing, seat)]
    needing = next((number for number, one in enumerate(shown) if "nv-place" in one.markup), None)
    if needing is not None:
        needed = styles("".join(one.markup for one in shown))
        shown[needing] = shown[needing]._replace(markup=needed + shown[needing].markup)
    titled = original.title if title is not None else None
    keeping = []
    if kept and (shown or titled) and is_hydrated(original.data):
        places = [_kept(original, one, kept) for one in shown]
        shown = [one._replace(markup=fenced(number, one.markup)) for number, one in enumerate(shown)]
        # Behind all that it keeps.
        at = keeper_at(original.data, max(*(one.end for one in shown), titled[1] if titled else 0, 0))
        keeping = [_Splice(at, at, keeper(places, title=titled is not None).encode("ascii"))]
    encoded = [
        _Splice(
            one.start,
            one.end,
            _encoded(one.markup.join(_PICKED) if one.seat.slot == picked else one.markup, original.encoding),
        )
        for one in shown
    ]
    if titled:
        encoded.append(_Splice(*titled, _encoded(escape(title or "", quote=False), original.encoding)))
    if drawing.outlines is not None:
        encoded += _outlines(original, drawing, shown)
    encoded += keeping
    parts, last = [], 0
    for splice in sorted(encoded, key=lambda one: (one.start, one.end)):
        parts += [original.data[last : splice.start], splice.data]
        last = splice.end
    return b"".join((*parts, original.data[last:]))


class _Shown(NamedTuple):
    """What a slot shows, from one byte of the page to another."""

    seat: Seat
    start: int
    end: int
    markup: str


def _shown(original: Original, drawing: SlotDrawing, seat: Seat) -> Iterator[_Shown]:
    """What stands in the place of a slot, or around what stood there where nothing takes its place."""
    data, outcome = original.data, drawing.slots.get(seat.slot)
    if outcome is None or (outcome.state in ("unset", "locked") and not outcome.pieces):
        return
    if drawing.outlines is None:
        outcome = _left_standing(original, seat, outcome)
        if outcome.own_at is not None and not outcome.pieces:
            return
    at = outcome.own_at
    if at is None or seat.start == seat.end:
        start, end = seat.start, seat.end
        markup, is_own = _drawn(drawing, seat.slot, outcome)
        if markup and not is_own and slot_kind(seat.slot) == "sidebar":
            # Pages lay out their columns by the elements of sidebars: that stays around what is of another kind.
            start, end = inside(data, start, end)
        if start > seat.start:
            markup = _drawn(drawing, seat.slot, outcome, around=True).markup
        yield _Shown(seat, start, end, markup)
        return
    start, end = inside(data, seat.start, seat.end)
    for place, pieces in ((start, outcome.pieces[:at]), (end, outcome.pieces[at:])):
        if markup := _drawn(drawing, seat.slot, replace(outcome, pieces=pieces), around=True).markup:
            yield _Shown(seat, place, place, markup)


def _kept(original: Original, shown: _Shown, bindings: Sequence[Binding]) -> Kept:
    """How a browser finds again where something stands, and what stood there."""
    seat, data = shown.seat, original.data
    within = inside(data, seat.start, seat.end)

    def how(binding: Binding) -> str:
        if binding.how != "element" or (shown.start, shown.end) == (seat.start, seat.end):
            return binding.how
        if shown.start < shown.end:
            return "inside"
        if shown.start in (seat.start, seat.end):
            return "before" if shown.start == seat.start else "after"
        return "start" if shown.start == within[0] else "end"

    ways = [(how(one), one.selector) for one in bindings if one.slot == seat.slot]
    return Kept(ways, data[shown.start : shown.end].decode(original.encoding, "replace"))


def _left_standing(original: Original, seat: Seat, outcome: Outcome) -> Outcome:
    """An outcome by which stays what a piece shows that stands there: the page's scripts know that very element."""
    filler = outcome.filler(seat.slot)
    if filler not in outcome.pieces or (seat.slot, filler) not in original.stands:
        return outcome
    at = outcome.pieces.index(filler)
    return replace(outcome, pieces=outcome.pieces[:at] + outcome.pieces[at + 1 :], own_at=at)


def slot_in_place(drawing: SlotDrawing, slot: str, outcome: Outcome) -> str:
    """What a slot shows on a page with styles of its own; empty where that is nothing."""
    return _drawn(drawing, slot, outcome).markup


class _Drawn(NamedTuple):
    """The markup of a slot; ``is_own``: whether what fills it is HTML of the page's own kind."""

    markup: str
    is_own: bool


def _drawn(drawing: SlotDrawing, slot: str, outcome: Outcome, *, around: bool = False) -> _Drawn:
    """What a slot shows. ``around``: in an element of the page's own, which is the slot then."""
    markups = {slug: markup for slug, markup in drawing.pieces(slot, outcome).items() if markup}
    slugs, drawn = list(markups), list(markups.values())
    filler = outcome.filler(slot)
    at = slugs.index(filler) if filler in slugs else None
    own = None if at is None else _bare(drawn[at])
    if at is None or own is None or len(slugs) == 1:
        return _Drawn(_beside(drawing, slot, outcome, drawn, around=around), own is not None)
    # What is of the page's own kind is the slot, as it would be on the page.
    before, after = (_beside(drawing, slot, outcome, some, around=True) for some in (drawn[:at], drawn[at + 1 :]))
    if drawing.outlines is not None and _BEGINNING.match(own):
        own = _marked(own, slot, first=True)
    return _Drawn(_within(with_beginnings(own), before, after), is_own=True)


def _beside(drawing: SlotDrawing, slot: str, outcome: Outcome, markups: list[Markup], *, around: bool) -> str:
    """What some pieces draw in a slot, in an element of its own where they are not of the page's own kind."""
    if not markups:
        return ""
    bare = [one for markup in markups if (one := _bare(markup)) is not None]
    if len(bare) == len(markups):
        if drawing.outlines is None:
            return "".join(map(with_beginnings, bare))
        # An element around them would be another one to the page's styles.
        if all(map(_BEGINNING.match, bare)):
            first = 0 if not around else None
            return "".join(with_beginnings(_marked(one, slot, first=at == first)) for at, one in enumerate(bare))
        markups = [Markup(one) for one in bare]  # noqa: S704
    return with_beginnings(str(drawing.frame(slot, outcome, markups, placed=not around)))


def _within(own: str, before: str, after: str) -> str:
    """Markup with something at its start and its end: inside of it where it is one element that may hold that."""
    data = own.encode()
    start, end = inside(data, 0, len(data)) if is_one_element(data) else (0, len(data))
    return (data[:start] + before.encode() + data[start:end] + after.encode() + data[end:]).decode()


def _bare(markup: Markup) -> str | None:
    """What a piece of a single markup draws, without the elements around it; None for any other piece.

    Such a piece is HTML of the page's own kind, which the page's own styles know where it stands; so is a sidebar that
    shows one such widget.
    """
    sidebar = _SIDEBAR.match(markup)
    alone = sidebar is not None and sidebar["widget"].count('<div class="piece ') == 1
    around = _BARE.match(sidebar["widget"] if sidebar and alone else markup)
    inner = _MARKUP.match(around["inner"]) if around else None
    return inner[1] if inner and 'class="markup"' not in inner[1] else None


def _marked(markup: str, slot: str, *, first: bool) -> str:
    """Markup that begins with an element, marked as what stands in a slot; the first there as the slot itself."""
    mark = f' data-nv-shows="{slot}"' + (f' data-slot="{slot}"' if first else "")
    return _BEGINNING.sub(lambda name: name[0] + mark, markup)


def _outlines(original: Original, drawing: SlotDrawing, shown: Sequence[_Shown]) -> Iterator[_Splice]:
    """What marks the places of slots: those in which stands what stood there, and what shows in others."""
    outlined = (
        f'[data-nv-shows="{slot}"]{{outline:2px solid {drawing.colour(slot)};outline-offset:-2px}}'
        for slot in dict.fromkeys(one.seat.slot for one in shown)
    )
    styles = f"<style>{_OUTLINED}{''.join(outlined)}</style>"
    yield _Splice(len(original.data), len(original.data), styles.encode())
    replaced = {one.seat for one in shown if one.start < one.end}
    for seat in original.seats:
        name = _TAG_NAME.match(original.data, seat.start)
        if seat not in replaced and seat.end > seat.start and name:
            yield _Splice(name.end(), name.end(), f' data-slot="{seat.slot}" data-nv-stays'.encode())


def with_picked(data: bytes, place: FoundPlace | None) -> bytes:
    """A file with a place marked as what a picture of it is to show; an empty one by a line."""
    if place is None:
        return data
    before, until = (mark.encode() for mark in _PICKED)
    stood = data[place.start : place.end] or b"<div></div>"
    return b"".join((data[: place.start], before, stood, until, data[place.end :]))


def _encoded(markup: str, encoding: str) -> bytes:
    """Markup as the bytes of a file: what cannot be written there is a character reference."""
    return markup.encode(encoding, "xmlcharrefreplace")
