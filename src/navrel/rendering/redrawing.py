"""What two states draw differently in themselves: pieces by what their items ask of the site, pages by content."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence, Set
from dataclasses import replace
from functools import cache
from itertools import product
from typing import Any

from navrel.core.index.page_index import PageIndex
from navrel.core.language.facts import BROWSERS, DEVICES
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.contents import CODE, items_of
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import Piece
from navrel.core.pages.page import Page
from navrel.core.questions.impact import may_show, redrawing_of
from navrel.core.questions.shifts import Redrawing

from .dress import dresses_css
from .hinges import looks_elsewhere, told_by_markup
from .items.place import Memory, Place
from .items.registry import ITEMS, ItemType

#: The items that tell of other pages than the one they stand on.
_LOOKING = ("menu", "languages", "newest", "alike", "neighbours", "topics", "calendar", "breadcrumbs", "markup")


def redrawing(
    before: SiteDocument,
    before_index: PageIndex,
    after: SiteDocument,
    after_index: PageIndex,
    own: Set[str] = frozenset(),
) -> Redrawing:
    """What is drawn differently. ``own``: the paths of pages that are drawn from something else in themselves."""
    found = redrawing_of(before, after)
    pages = {*found.pages, *own}
    if (before.name, before.base_url) != (after.name, after.base_url):
        # Both stand in the head of every page.
        pages.update(page.path for page in after.pages)
    found = replace(found, pages=frozenset(pages), dresses=(dresses_css(before), dresses_css(after)))
    found = replace(found, pieces=found.pieces | _by_menus_and_files(before, after))
    if _same_pages(before.pages, after.pages) and before.taxonomies == after.taxonomies:
        return found
    return replace(found, on_pages=_looking_elsewhere((before, before_index), (after, after_index)))


def _by_menus_and_files(before: SiteDocument, after: SiteDocument) -> frozenset[str]:
    """The pieces that show a menu or a picture that is another one now."""
    menus = before.layout.menus, after.layout.menus
    other_menus = {slug for slug in menus[0].keys() | menus[1].keys() if menus[0].get(slug) != menus[1].get(slug)}
    files = before.files_by_name, after.files_by_name
    other_files = {name for name in files[0].keys() | files[1].keys() if files[0].get(name) != files[1].get(name)}
    return frozenset(
        slug
        for slug, piece in after.layout.pieces.items()
        if other_menus.intersection((*piece.menus, *after.layout.menus_of(piece)))
        or (other_menus and any("menus" in item.get("code", "") for item in items_of(piece.content)))
        or (other_files and any(_shows_one_of(item, other_files) for item in items_of(piece.content)))
    )


def _shows_one_of(item: Mapping[str, Any], files: Set[str]) -> bool:
    """Whether an item shows one of some pictures; one whose picture a page setting says may, and so may markup."""
    if "code" in item:
        return any(name in item["code"] for name in files)
    name = item.get("file", "")
    return name in files if isinstance(name, str) else True


_State = tuple[SiteDocument, PageIndex]
_Items = Sequence[tuple[ItemType, Mapping[str, Any]]]


def _same_pages(before: Sequence[Page], after: Sequence[Page]) -> bool:
    """Whether no page tells anything else of another, in the same order: where slots are in their HTML they do not."""
    return before == after or (len(before) == len(after) and all(map(Page.same_facts, before, after)))


def _looking_elsewhere(before: _State, after: _State) -> dict[str, frozenset[str]]:
    """For each page, the pieces that may stand there and whose items tell of other pages otherwise than before."""
    standing: dict[int, list[tuple[str, _Items]]] = defaultdict(list)
    for piece in after[0].layout.pieces.values():
        if items := list(_looking_items(piece)):
            for number in may_show(after[0].layout, after[1], frozenset({piece.slug})).numbers().tolist():
                standing[number].append((piece.slug, items))
    memories = Memory(), Memory()
    found: dict[str, frozenset[str]] = {}
    for number, pieces in standing.items():
        page = after[1].tree.pages[number]
        old = before[1].tree.page(page.path)
        if old is not None:
            places = _places(before, old, memories[0]), _places(after, page, memories[1])
            found[page.path] = frozenset(slug for slug, items in pieces if any(_differ(*one, places) for one in items))
    return {path: slugs for path, slugs in found.items() if slugs}


def _places(state: _State, page: Page, memory: Memory) -> Callable[[Visitor], Place]:
    """A page of a state through the eyes of some visitor, now."""
    moment = state[0].now()

    @cache
    def seen(visitor: Visitor) -> Place:
        return Place(*state, page, Lens(visitor, moment), memory=memory)

    return seen


def _looking_items(piece: Piece) -> Iterator[tuple[ItemType, Mapping[str, Any]]]:
    """The items of a piece that tell of other pages, each with its settings; what is bound is as by default."""
    for item in items_of(piece.content):
        if item.get("type") in _LOOKING and (CODE not in item or looks_elsewhere(item[CODE])):
            kind = ITEMS[item["type"]]
            stated = {part.name: item.get(part.name, part.default) for part in kind.parts}
            yield (
                kind,
                {
                    part.name: part.default if part.problem(stated[part.name]) else stated[part.name]
                    for part in kind.parts
                },
            )


def _differ(
    kind: ItemType, values: Mapping[str, Any], places: tuple[Callable[[Visitor], Place], Callable[[Visitor], Place]]
) -> bool:
    """Whether an item is drawn from something else than before, for anybody whom it tells apart."""
    facts = told_by_markup(values[CODE]).facts if CODE in values else frozenset[str]()
    before, after = places
    roles = after(Visitor()).document.roles
    return any(
        _plain(kind.draw(values, before(one))) != _plain(kind.draw(values, after(one)))
        for one in _told_apart(facts, roles)
    )


def _told_apart(facts: Set[str], roles: Collection[str]) -> Iterator[Visitor]:
    """A visitor of each kind that some facts tell apart."""
    plain = Visitor()
    devices = DEVICES if "device" in facts else (plain.device,)
    browsers = BROWSERS if "browser" in facts else (plain.browser,)
    held: list[frozenset[str] | None] = [None]
    if facts & {"signed", "role"}:
        held += [frozenset(), *(frozenset({role}) for role in roles if "role" in facts)]
    for device, browser, one in product(devices, browsers, held):
        yield Visitor("out" if one is None else "in", one or frozenset(), device, browser)


def _plain(value: object) -> object:
    """What an item is drawn from, with pages as far as they are shown elsewhere."""
    if isinstance(value, Page):
        return value.href, value.title, value.published
    if isinstance(value, Mapping):
        return {key: _plain(one) for key, one in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(one) for one in value]
    return value
