"""Every type of item: its settings, what it is drawn from, and what of a place its drawing hangs on."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass
from typing import Any

from ..markup.drawing import markup
from . import page_items, site_items
from .parts import Part
from .place import ORDERS, Place

TONES = ("plain", "calm", "warm", "urgent")

Draw = Callable[[Mapping[str, Any], Place], dict[str, Any] | None]
#: What of a place an item is drawn from, beside its settings and the language: what is alike is drawn once.
Sees = Callable[[Place], Hashable]


def _nothing(place: Place) -> Hashable:
    return ()


def by_page(place: Place) -> Hashable:
    """For what differs from page to page, and so is drawn anew on each."""
    return place.page.path


def by_day(place: Place) -> Hashable:
    """For what is the same all day long."""
    return place.lens.moment.date()


def by_minute(place: Place) -> Hashable:
    """For what is the same for a minute."""
    return place.lens.moment.replace(second=0, microsecond=0)


def by_sign_in(place: Place) -> Hashable:
    """For what is the same for all who are signed in, and for all who are not."""
    return place.lens.visitor.signed


@dataclass(frozen=True)
class ItemType:
    """A type of item. ``own``: it holds pieces or reads the page's content, and so is drawn anew wherever it stands."""

    type: str
    name: str
    group: str
    help: str
    parts: tuple[Part, ...]
    draw: Draw
    sees: Sees = _nothing
    own: bool = False


def _line(name: str, label: str, default: str = "", help: str = "") -> Part:
    return Part(name, "line", default, label, help)


_HEADING = _line("heading", "heading")
_COUNT = Part("count", "number", 4, "how many")

_TYPES = (
    ItemType("logo", "Logo", "Site", "The site's name or picture, leading home", (
        _line("text", "name", help="The site's name where nothing stands here"),
        Part("file", "file", "", "picture"), Part("beside", "switch", False, "both, side by side"),
        Part("href", "href", "/", "leads to"),
    ), site_items.logo),
    ItemType("menu", "Menu", "Site", "Links that fold away on phones; the page one is on is marked", (
        _line("label", "called", "Main"),
        Part("shows", "choice", "menu", "shows", "A menu of the site, the pages below one, or the section at hand",
             ("menu", "below", "section")),
        Part("menu", "menu", "", "menu of the site"),
        Part("links", "links", (), "or links of its own"),
        Part("page", "page", "", "begins below"),
        Part("depth", "number", 1, "levels down"),
        Part("count", "number", 6, "at most"),
        Part("fold", "switch", True, "folds on phones"),
    ), site_items.menu, by_page),
    ItemType("search", "Search box", "Site", "Leads to the site's search page", (
        _line("label", "called"),
        Part("action", "own-href", "/search", "searches at"),
    ), site_items.search),
    ItemType("sign-in", "Sign-in link", "Site", "One link for signed-out visitors, another for all others", (
        _line("text", "text"),
        Part("href", "href", "/", "leads to"),
        _line("out_text", "text when signed in"),
        Part("out_href", "href", "/", "leads to, when signed in"),
    ), site_items.sign_in, by_sign_in),
    ItemType("languages", "Language switch", "Site", "To the same page in the other languages", (
        _line("label", "called"),
    ), site_items.languages, by_page),
    ItemType("social", "Social links", "Site", "Where else the site is to be found", (
        _HEADING, Part("links", "links", (), "links"),
    ), site_items.social),
    ItemType("hours", "Opening hours", "Site", "Days and hours, and whether it is open now", (
        _HEADING, Part("hours", "hours", (), "hours"), Part("now", "switch", True, "tells whether it is open"),
        Part("days", "choice", "all", "days", "", ("all", "today")),
    ), site_items.opening_hours, by_minute),
    ItemType("newsletter", "Newsletter field", "Site", "Sends an address to where the site wants it", (
        _HEADING, _line("label", "called"), _line("button", "button"), Part("action", "own-href", "/", "sends to"),
    ), site_items.newsletter),
    ItemType("heading", "Heading", "Text", "A heading of the piece", (
        _line("text", "text", help="Placeholders such as {page.title} are filled in"),
    ), page_items.heading),
    ItemType("text", "Text", "Text", "Paragraphs, lists and links, as CommonMark", (
        Part("text", "text", "", "text", "CommonMark: a blank line parts paragraphs, [words](/path) leads somewhere"),
        Part("size", "choice", "normal", "size", "", ("small", "normal", "large")),
    ), page_items.text),
    ItemType("button", "Button", "Text", "One thing to do", (
        _line("text", "text"), Part("href", "href", "/", "leads to"),
        Part("weight", "choice", "full", "weight", "", ("full", "outline")),
    ), page_items.button),
    ItemType("notice", "Notice", "Text", "Something to know", (
        Part("text", "text", "", "text"), Part("href", "href", "", "leads to"),
        Part("tone", "choice", "calm", "tone", "", TONES),
        Part("dismiss", "switch", False, "can be put away"),
    ), page_items.notice),
    ItemType("links", "Link list", "Text", "Links below each other", (
        _HEADING, Part("links", "links", (), "links"),
    ), page_items.links),
    ItemType("image", "Image", "Pictures", "A picture of the site's", (
        Part("file", "file", "", "picture"),
        _line("alt", "what it shows", help="Read out instead of the picture; empty where it only decorates"),
        Part("href", "href", "", "leads to"),
        _line("caption", "caption"),
    ), page_items.image),
    ItemType("slides", "Slides", "Pictures", "Widgets side by side, to be moved through", (
        _line("label", "called"), Part("pieces", "widgets", (), "widgets"),
    ), page_items.slides, own=True),
    ItemType("newest", "Pages", "Lists", "Pages that a query finds, the newest first or in another order", (
        _HEADING,
        Part("query", "query", "type:article", "which pages"),
        Part("order", "choice", "newest", "order", "", ORDERS),
        _COUNT,
        Part("form", "choice", "list", "drawn as", "", ("list", "cards")),
    ), page_items.pages, by_page),
    ItemType("feed", "Feed", "Lists", "What another service says newest, in Atom or RSS", (
        _HEADING, Part("url", "feed", "", "address", "Fetched by the server, every quarter of an hour"), _COUNT,
        Part("form", "choice", "list", "form", "", ("list", "cards")),
    ), site_items.feed, own=True),
    ItemType("alike", "Pages like this one", "Lists", "Pages that share most terms with this one", (
        _HEADING, _COUNT, Part("form", "choice", "list", "drawn as", "", ("list", "cards")),
    ), page_items.alike, by_page),
    ItemType("neighbours", "Previous and next", "Lists", "The pages before and after this one, by date", (
        Part("query", "query", "type:article", "among which pages"),
    ), page_items.neighbours, by_page),
    ItemType("topics", "Topics", "Lists", "The terms of a taxonomy, each with its number of pages", (
        _HEADING, Part("taxonomy", "slug", "topic", "taxonomy"),
    ), page_items.topics),
    ItemType("calendar", "Month calendar", "Lists", "The newest month of dated pages", (
        Part("query", "query", "type:article", "which pages"),
    ), page_items.calendar, by_day),
    ItemType("contents", "Table of contents", "Page", "The headings of the page, where it has several", (
        _HEADING,
    ), page_items.contents, own=True),
    ItemType("page-title", "Page title", "Page", "The page's heading", (
        _line("kicker", "line above"),
        _line("text", "text", help="The page's own title where nothing stands here"),
        Part("intro", "text", "", "intro"),
        Part("file", "file", "", "picture behind"),
    ), page_items.page_title, by_page),
    ItemType("breadcrumbs", "Breadcrumbs", "Page", "The way to this page from the top", (
        _line("label", "called"),
    ), page_items.breadcrumbs, by_page),
    ItemType("byline", "Byline", "Page", "Who wrote it, when, how long it takes, what it is about", (
        _line("prefix", "before the name", "By"),
        Part("author", "switch", True, "author"),
        Part("date", "switch", True, "date"),
        Part("reading", "switch", False, "reading time"),
        Part("terms", "switch", False, "terms"),
    ), page_items.byline, by_page),
    ItemType("share", "Share links", "Page", "The page's address, to pass on by mail", (
        _HEADING,
    ), site_items.share, by_page),
    ItemType("divider", "Divider", "Room", "A line across", (), page_items.always),
    ItemType("space", "Space", "Room", "Room and nothing else", (
        Part("size", "choice", "medium", "size", "", ("small", "medium", "large")),
    ), page_items.always),
    ItemType("markup", "Markup", "Text", "HTML with Liquid, and styles of its own that reach no further", (
        Part("code", "code", "", "markup"), Part("css", "css", "", "styles"),
    ), markup, own=True),
    ItemType("piece", "Widget", "Room", "A widget that stands in this piece as in a slot; one for many pieces", (
        Part("piece", "widget", "", "widget"),
    ), page_items.embedded, own=True),
    ItemType("slot", "Slot", "Room", "A place that rules fill with widgets", (
        Part("name", "slot", "", "name"),
    ), page_items.slot, own=True),
)  # fmt: skip

#: Each type of item by its name in contents.
ITEMS: Mapping[str, ItemType] = {one.type: one for one in _TYPES}
