"""Reading a page's facts, content and places out of an HTML file, from where real sites put them."""

from __future__ import annotations

import hashlib
import re
from collections import Counter
from collections.abc import Collection, Iterable, Sequence, Set
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from navrel.core.files.writing import write_place
from navrel.core.layout.document import is_slug
from navrel.core.layout.recipe import Recipe
from navrel.core.pages.page import page_path
from navrel.core.text import fit
from navrel.rendering.in_place.places import Asked, BadSelector, Marks, title_place
from navrel.rendering.sanitising import sanitise

from .addresses import Around, address_of, file_address, led_on, root_links
from .blocks import Block, Mark, blocks_of, digest_of, markup_of, normalised, with_places
from .by_recipe import Found, Told, facts_of, found_by
from .candidates import candidates
from .content import count_words, inner_parts, marked_content, richest_part, words_of
from .decoding import Unreadable, decode, parse

#: The tags of sanitised markup, which writes them in lower case but for those of drawings.
_TAG = re.compile(r"<([A-Za-z][\w-]*)")
#: How the templates of site generators begin, behind comments: with a statement of theirs (Jinja, Twig, Liquid; Go).
_TEMPLATE = re.compile(r"(?:\s|<!--.*?-->)*+(?:\{%-?\s*[a-z]|\{#|\{\{-?\s*(?:define|template|block)\b)", re.DOTALL)


@dataclass(frozen=True)
class ReadPage:
    """What a file says about its page. ``facts`` are those of the page model, as plain JSON values."""

    path: str
    facts: dict[str, Any]
    html: str
    text: str
    term_names: dict[str, str] = field(default_factory=dict)
    remark: str = ""
    #: Where it is served; and other addresses that lead there.
    address: str = ""
    also: list[str] = field(default_factory=list)
    #: What of its content was left out as it could run, or reach out: how many elements of each name.
    dropped: dict[str, int] = field(default_factory=dict)
    #: The path of the page that is to be read after it, as it says; empty for none.
    next: str = ""
    #: What its file is written in; empty for what cannot be drawn in its own HTML.
    encoding: str = ""
    #: From which byte of the file to which its title stands, and the places of what was looked for.
    title_place: list[int] | None = None
    places: dict[str, list[int] | None] = field(default_factory=dict)
    #: For a page that leads on by itself: the address where it leads. Such a page is none.
    leads_to: str = ""

    @property
    def digest(self) -> str:
        """What the content is filed under."""
        return hashlib.sha256(self.html.encode()).hexdigest()


def read_page(name: str, data: bytes, base_url: str = "", asked: Iterable[Asked] = (), recipe: Recipe = ()) -> ReadPage:
    """Read the page in a file. ``name`` is its path below the folder, with slashes; ``base_url``: the site's address.

    ``asked``: the places that are looked for in it; ``recipe``: where its facts are, as the site says. Raises
    Unreadable.
    """
    source, encoding, remark = decode(data)
    if _TEMPLATE.match(source):
        raise Unreadable("is a template that pages are made of, and no page")
    told, file = Told(name, parse(source), base_url), file_address(name)
    if leads_to := _leads_to(told, {file, f"/{name}"}):
        return ReadPage(page_path(file), {}, "", "", {}, "", file, leads_to=leads_to)
    # The facts first: what is read of the content takes it apart.
    facts, terms = facts_of(told, found_by(recipe, told))
    content = told.content
    if told.heading is not None:
        told.heading.drop_tree()
    root_links(content, told.around)
    held = Counter(element.tag for element in content.iterdescendants() if isinstance(element.tag, str))
    clean = sanitise("".join(inner_parts(content)))
    dropped = held - Counter(_TAG.findall(clean))
    text = words_of(content)
    facts["words"] = count_words(text)
    facts["slots"] = sorted({slot.get("name") for slot in content.iter("slot") if is_slug(slot.get("name") or "")})
    guessed = "has no main element; the content is a guess" if told.is_guess else ""
    # What answers at every address at which there is nothing has none of its own.
    address = told.path if facts["kind"] == "missing" else told.address
    also = [form for form in dict.fromkeys((file, f"/{fit(name, 999)}")) if form != address]
    found = read_places(data, encoding, asked) if encoding else ReadPlaces(None, {})
    remarks = "; ".join(filter(None, (remark, guessed)))
    return ReadPage(
        told.path, facts, clean, text, terms, remarks, address, also, dict(dropped), told.next, encoding, *found
    )


def _leads_to(told: Told, own: Set[str]) -> str:
    """Where a page leads on to by itself; empty for one that stays, or that only shows itself anew at its addresses.

    Raises Unreadable where that is elsewhere.
    """
    on = led_on(told.tree)
    if not on:
        return ""
    target = told.around.own(on)
    if target is None:
        raise Unreadable(f"leads on to {fit(on, 200)}, which is elsewhere")
    return "" if address_of(target) in own else target


class ReadFacts(NamedTuple):
    """The facts of a page, without its words and slots; the names of its terms; where each fact was found."""

    facts: dict[str, Any]
    terms: dict[str, str]
    found: Found


def read_facts(name: str, data: bytes, base_url: str, recipe: Recipe) -> ReadFacts:
    """The facts of the page in a file, without its content. Raises Unreadable."""
    told = Told(name, parse(decode(data)[0]), base_url)
    found = found_by(recipe, told)
    return ReadFacts(*facts_of(told, found), found)


def read_candidates(name: str, data: bytes, base_url: str) -> list[tuple[str, dict[str, Any], list[str]]]:
    """Places of a file that may hold a fact: of which, where as in the layout file, and what stands there."""
    told = Told(name, parse(decode(data)[0]), base_url)
    return [(one.fact, write_place(one.place), one.values) for one in candidates(told)]


class ReadPlaces(NamedTuple):
    """Where the title of a file stands, and what was looked for, by how and selector: its start, end and matches."""

    title: list[int] | None
    places: dict[str, list[int] | None]


def read_places(data: bytes, encoding: str, asked: Iterable[Asked]) -> ReadPlaces:
    """Look for places in a file. Raises Unreadable where a selector cannot be asked."""
    title = title_place(data)
    wanted = list(asked)
    marks = Marks(data, encoding) if wanted else None
    try:
        found = {f"{how} {selector}": marks.find(how, selector) for how, selector in wanted} if marks else {}
    except BadSelector as error:
        raise Unreadable(str(error)) from None
    places = {key: None if place is None else list(place) for key, place in found.items()}
    return ReadPlaces(None if title is None else list(title), places)


def read_blocks(data: bytes, encoding: str, address: str, base_url: str) -> list[Block]:
    """The parts of a page that may be those of slots."""
    marks, around = _marks(data, encoding, address, base_url)
    if marks.tree.find("body") is None:
        return []
    content = marked_content(marks.tree)
    return blocks_of(marks, richest_part(marks.tree.find("body")) if content is None else content, around)


def read_shown(
    data: bytes, encoding: str, address: str, base_url: str, starts: Collection[int]
) -> list[tuple[str, list[Mark]]]:
    """Of the elements that start at some bytes a digest without what varies, empty for none; and where a reader is."""
    marks, around = _marks(data, encoding, address, base_url, starts)
    return [("", []) if one is None else _shown(one, around) for one in marks.starting(starts)]


def _shown(element: Any, around: Around) -> tuple[str, list[Mark]]:
    copy, marks = normalised(element, around)
    return digest_of(copy), marks


def read_markup(
    data: bytes, encoding: str, address: str, base_url: str, start: int, marked: Sequence[Mark]
) -> tuple[str, list[list[str]]]:
    """The element that starts at a byte as markup, with the places of some marks; what is led to from each of them."""
    marks, around = _marks(data, encoding, address, base_url, (start,))
    (element,) = marks.starting((start,))
    copy = normalised(element, around).copy
    links = with_places(copy, marked)
    return markup_of(copy), links


def _marks(
    data: bytes, encoding: str, address: str, base_url: str, starts: Collection[int] | None = None
) -> tuple[Marks, Around]:
    marks = Marks(data, encoding, starts)
    base = next((element.get("href") or "" for element in marks.tree.iter("base")), "")
    return marks, Around(address, base_url, base)
