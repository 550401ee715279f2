"""Drawing the items of the site as a whole: what each one's template is given. None: it draws nothing there."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from urllib.parse import urlencode, urlsplit

from navrel.core.language.query import parse_query
from navrel.core.layout.model import MenuEntry
from navrel.core.pages.page import Page

from ..links import safe_href
from ..words import day_in, language_name, weekdays_in
from .parts import MAX_LINKS
from .place import Place

Values = Mapping[str, Any]
Drawn = dict[str, Any] | None

#: The field of a page that names the path of the one that it says in another language.
_TRANSLATION = "translation-of"


def logo(values: Values, place: Place) -> Drawn:
    return {"text": values["text"] or place.document.name, "picture": picture_of(values["file"], "", place)}


def menu(values: Values, place: Place) -> Drawn:
    entries = _menu_entries(values, place)
    # What does not fold stands below each other, open: beside a page rather than across it.
    tree = values["shows"] == "section" or (values["shows"] == "below" and not values["fold"])
    return {"entries": entries, "tree": tree} if entries else None


def _menu_entries(values: Values, place: Place) -> list[dict[str, Any]]:
    match values["shows"]:
        case "below":
            top = place.index.tree.page(values["page"] or "/")
            return _below(place, top, values["depth"])[: values["count"]] if top else []
        case "section":
            # The page's own siblings and children: its parent's pages, with its own below it.
            top = place.above[-1] if place.above else place.page
            return _below(place, top, 2, only_open=True)
    made = place.document.layout.menus.get(values["menu"])
    if made is not None:
        return [_entry(entry, place) for entry in made.entries]
    return [_entry(MenuEntry(link["text"], href=link["href"]), place) for link in values["links"]]


def _entry(entry: MenuEntry, place: Place) -> dict[str, Any]:
    page = place.index.tree.page(entry.page) if entry.page else None
    href = page.href if page else entry.page or entry.href
    return {
        "text": entry.text or (page.title if page else href),
        "href": safe_href(href) if href else "",
        "here": here(entry.page or entry.href, place),
        "panel": entry.panel,
        "entries": [_entry(inner, place) for inner in entry.entries],
    }


def here(href: str, place: Place) -> str:
    """The value of `aria-current` for a link: the page itself, one above it, or neither."""
    path = urlsplit(href).path if href.startswith("/") else ""
    if path == place.page.path:
        return "page"
    return "true" if path != "/" and path in place.trail else ""


def _below(place: Place, top: Page, depth: int, *, only_open: bool = False) -> list[dict[str, Any]]:
    """The pages below one, so many levels down, as entries; with ``only_open`` the deeper ones of this page alone."""
    if depth < 1:
        return []
    entries = []
    for page in _children(place, top)[:MAX_LINKS]:
        inner = [] if only_open and page.path not in place.trail else _below(place, page, depth - 1)
        entry = {"text": page.title, "href": page.href, "here": here(page.path, place), "panel": "", "entries": inner}
        entries.append(entry)
    return entries


def _children(place: Place, page: Page) -> tuple[Page, ...]:
    def listed() -> tuple[Page, ...]:
        numbers = place.index.query(parse_query(f'child:"{page.path}"')).numbers()[: MAX_LINKS * 2].tolist()
        found = (place.index.tree.pages[number] for number in numbers)
        return tuple(one for one in found if one.kind not in ("missing", "search"))

    return place.memory.get(("children", page.path), listed)


def search(values: Values, place: Place) -> Drawn:
    return {"label": values["label"] or place.words["search"], "action": safe_href(values["action"])}


def sign_in(values: Values, place: Place) -> Drawn:
    signed = place.lens.visitor.signed == "in"
    word = place.words["sign-out" if signed else "sign-in"]
    return {
        "text": values["out_text" if signed else "text"] or word,
        "href": safe_href(values["out_href" if signed else "href"]),
    }


def languages(values: Values, place: Place) -> Drawn:
    found = place.memory.get(("languages",), lambda: _site_languages(place))
    if len(found) < 2:
        return None
    shown = []
    for tag in found:
        page = place.page if tag == place.language else _translated(place, tag)
        if page is not None:
            entry = {"tag": tag, "name": language_name(tag), "href": page.href, "here": tag == place.language}
            shown.append(entry)
    return {"label": values["label"] or place.words["languages"], "shown": shown} if len(shown) > 1 else None


def _site_languages(place: Place) -> tuple[str, ...]:
    own = place.document.language
    found = dict.fromkeys(place.index.tree.pages.column("language"))
    return tuple(dict.fromkeys((own, *(language or own for language in found))))


def _translated(place: Place, tag: str) -> Page | None:
    """The same page in another language, by the field `translation-of`; else that language's topmost page."""
    tree = place.index.tree
    translated = place.memory.get(("translations",), lambda: place.index.postings(f"field.{_TRANSLATION}"))
    original = place.page.fields.get(_TRANSLATION, place.page.path)
    likely = list(translated.get(original, ()))
    itself = tree.page(original)
    if itself is not None and _TRANSLATION not in itself.fields:
        likely.append(tree.numbers[original])
    own = place.document.language
    for number in sorted(likely):
        if (tree.pages[number].language or own) == tag:
            return tree.pages[number]
    return place.memory.get(("top", tag), lambda: _topmost(place, tag))


def _topmost(place: Place, tag: str) -> Page | None:
    own, pages = place.document.language, place.index.tree.pages
    kinds, paths = pages.column("kind"), pages.column("path")
    written = (number for number, language in enumerate(pages.column("language")) if (language or own) == tag)
    fitting = (number for number in written if kinds[number] != "missing")
    top = min(fitting, key=lambda number: paths[number].count("/") if paths[number] != "/" else 0, default=None)
    return None if top is None else pages[top]


def social(values: Values, place: Place) -> Drawn:
    links = [{"text": link["text"], "href": safe_href(link["href"])} for link in values["links"]]
    return {"links": links} if links else None


def opening_hours(values: Values, place: Place) -> Drawn:
    days = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
    names = weekdays_in(place.language, "wide")
    lines = [
        {"name": names[number], "spans": [(one["from"], one["until"]) for one in values["hours"] if one["day"] == day]}
        for number, day in enumerate(days)
    ]
    if not values["hours"]:
        return None
    moment = place.lens.moment
    clock = f"{moment:%H:%M}"
    open_now = any(opens <= clock < closes for opens, closes in lines[moment.weekday()]["spans"])
    return {"lines": lines, "open": open_now, "today": moment.weekday(), "told": values["now"]}


def feed(values: Values, place: Place) -> Drawn:
    entries = place.feeds(values["url"])[: values["count"]] if values["url"] else ()
    told = [
        {"title": one.title, "link": one.link, "date": day_in(one.date, place.language), "stamp": one.date}
        for one in entries
    ]
    return {"entries": told} if told else None


def newsletter(values: Values, place: Place) -> Drawn:
    return {"action": safe_href(values["action"]), "label": values["label"] or place.words["email"],
            "button": values["button"] or place.words["subscribe"]}  # fmt: skip


def share(values: Values, place: Place) -> Drawn:
    base = place.document.base_url
    if not base:
        return None
    told = urlencode({"subject": place.page.title, "body": f"{base}{place.page.href}"}).replace("+", "%20")
    return {"heading": values["heading"] or place.words["share"], "mail": f"mailto:?{told}",
            "address": f"{base}{place.page.href}"}  # fmt: skip


def picture_of(name: str, alt: str, place: Place) -> dict[str, Any] | None:
    """A picture of the site by its name, with its sizes; None where there is none."""
    found = place.document.files_by_name.get(name) if name else None
    if found is None:
        return None
    return {"src": found.address(), "alt": alt, "width": found.width, "height": found.height,
            "srcset": ", ".join(f"{found.address(width)} {width}w" for width in found.widths)}  # fmt: skip
