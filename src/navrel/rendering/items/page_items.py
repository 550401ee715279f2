"""Drawing the items that tell of the page, list pages, or carry words and pictures. None: it draws nothing there."""

from __future__ import annotations

import calendar as months
import datetime
from collections import Counter
from collections.abc import Mapping
from html import unescape
from typing import Any

import numpy as np

from navrel.core.language.query import parse_query
from navrel.core.pages.page import Page, person_name

from ..content import HEADING, ID, words_of
from ..links import safe_href
from ..text import rich, small
from ..words import day_in, month_in, weekdays_in
from .place import Place
from .site_items import picture_of

Values = Mapping[str, Any]
Drawn = dict[str, Any] | None
#: Words that are read in a minute.
_PACE = 220
#: More pages than any site has.
_ALL = 10**6


def text(values: Values, place: Place) -> Drawn:
    return {"html": rich(values["text"], place.told)} if values["text"].strip() else None


def notice(values: Values, place: Place) -> Drawn:
    if not values["text"].strip():
        return None
    return {"html": small(values["text"], place.told), "href": safe_href(values["href"]) if values["href"] else ""}


def heading(values: Values, place: Place) -> Drawn:
    return {} if values["text"].strip() else None


def button(values: Values, place: Place) -> Drawn:
    return {"href": safe_href(values["href"])} if values["text"].strip() else None


def links(values: Values, place: Place) -> Drawn:
    shown = [{"text": link["text"], "href": safe_href(link["href"])} for link in values["links"]]
    return {"links": shown} if shown or values["heading"] else None


def image(values: Values, place: Place) -> Drawn:
    picture = picture_of(values["file"], values["alt"], place)
    return {"picture": picture, "href": safe_href(values["href"]) if values["href"] else ""} if picture else None


def slides(values: Values, place: Place) -> Drawn:
    pieces = [place.document.layout.pieces[slug] for slug in values["pieces"] if slug in place.document.layout.pieces]
    return {"label": values["label"] or place.words["slides"], "slides": pieces} if pieces else None


def page_title(values: Values, place: Place) -> Drawn:
    page = place.page
    return {
        "intro": small(values["intro"], place.told) if values["intro"] else "",
        "text": values["text"] or page.title,
        "kicker": values["kicker"],
        "picture": picture_of(values["file"], "", place),
    }


def breadcrumbs(values: Values, place: Place) -> Drawn:
    if place.settings.get("breadcrumbs") is False:
        return None
    return {"trail": place.above, "label": values["label"] or place.words["here"]}


def byline(values: Values, place: Place) -> Drawn:
    page = place.page
    author = person_name(page.author) if values["author"] else ""
    date = day_in(page.published, place.language) if values["date"] else ""
    minutes = max(1, round(page.words / _PACE)) if values["reading"] and page.words else 0
    terms = _term_links(page, place) if values["terms"] else []
    if not (author or date or minutes or terms):
        return None
    return {"author": author, "date": date, "reading": place.words["minutes"].format(minutes) if minutes else "",
            "terms": terms}  # fmt: skip


def _term_links(page: Page, place: Place) -> list[dict[str, str]]:
    names = place.memory.get(
        ("term names",),
        lambda: {f"{one.slug}/{term.slug}": term.name for one in place.document.taxonomies for term in one.terms},
    )
    return [{"name": names.get(term, term), "href": _listing_of(place, f"term/{term}")} for term in page.terms]


def _listing_of(place: Place, lists: str) -> str:
    """The path of the listing of something, empty for none."""
    known = place.memory.get(("listings",), lambda: place.index.postings("lists")).get(lists)
    return place.index.tree.pages[known[0]].path if known else ""


def topics(values: Values, place: Place) -> Drawn:
    def counted() -> list[dict[str, Any]]:
        counts: Counter[str] = Counter()
        for terms in place.index.tree.pages.column("terms"):
            counts.update(terms)
        return [
            {"name": term.name, "count": counts[f"{one.slug}/{term.slug}"],
             "href": _listing_of(place, f"term/{one.slug}/{term.slug}")}
            for one in place.document.taxonomies if one.slug == values["taxonomy"]
            for term in one.terms if counts[f"{one.slug}/{term.slug}"]
        ]  # fmt: skip

    shown = place.memory.get(("topics", values["taxonomy"]), counted)
    return {"heading": values["heading"] or place.words["topics"], "shown": shown} if shown else None


def pages(values: Values, place: Place) -> Drawn:
    most = values["count"] + 1
    found = place.newest(values["query"], values["order"], most)
    return _listed(values, place, [page for page in found if page.path != place.page.path][: values["count"]])


def alike(values: Values, place: Place) -> Drawn:
    terms = place.page.terms
    if not terms:
        return None

    def ranked() -> tuple[Page, ...]:
        query = " | ".join(f'term:"{term}"' for term in terms)
        numbers, carried = place.index.query(parse_query(query)).numbers(), place.index.tree.pages.column("terms")
        shared = [len(set(carried[number]) & set(terms)) for number in numbers.tolist()]
        # Sorted as objects, so many would let no other thread run meanwhile.
        order = np.lexsort((numbers, -place.index.dates[numbers], np.negative(shared)))
        return tuple(place.index.tree.pages[number] for number in numbers[order[:60]].tolist())

    found = place.memory.get(("alike", terms), ranked)
    singles = [page for page in found if page.path != place.page.path and page.kind == "single"]
    drawn = _listed(values, place, singles[: values["count"]])
    return drawn and {**drawn, "heading": values["heading"] or place.words["more"]}


def _listed(values: Values, place: Place, found: list[Page]) -> Drawn:
    shown = [
        {"href": page.href, "title": page.title, "date": day_in(page.published, place.language),
         "published": page.published, "kicker": page.fields.get("kicker", "")}
        for page in found
    ]  # fmt: skip
    return {"pages": shown} if shown else None


def neighbours(values: Values, place: Place) -> Drawn:
    """The page before and the one after, by date among the pages of a query that this page is of."""
    pages = place.newest(values["query"], "oldest", _ALL)
    places = place.memory.get(("places", values["query"]), lambda: {page.path: at for at, page in enumerate(pages)})
    at = places.get(place.page.path)
    if at is None:
        return None
    before = pages[at - 1] if at else None
    after = pages[at + 1] if at + 1 < len(pages) else None
    return {"before": before, "after": after} if before or after else None


def calendar(values: Values, place: Place) -> Drawn:
    """The month of the newest dated page up to now, its days leading to their pages."""

    def by_day() -> dict[datetime.date, Page]:
        found = place.newest(values["query"], "oldest", _ALL)
        return {page.published: page for page in found if page.published}

    dated = place.memory.get(("days", values["query"]), by_day)
    past = [day for day in dated if day <= place.lens.moment.date()]
    if not past:
        return None
    newest = max(past)
    weeks = months.Calendar().monthdatescalendar(newest.year, newest.month)
    return {
        "month": month_in(newest.replace(day=1), place.language),
        "weekdays": weekdays_in(place.language),
        "weeks": [
            [{"day": day.day, "page": dated.get(day), "inside": day.month == newest.month} for day in week]
            for week in weeks
        ],
    }


def contents(values: Values, place: Place) -> Drawn:
    """The second and third headings of the page's content that can be led to."""
    found = [
        {"level": int(heading["level"]), "id": unescape(name[1]), "text": text}
        for heading in HEADING.finditer(place.content)
        if (name := ID.search(heading["attributes"])) and (text := words_of(heading))
    ]
    if len(found) < 2:
        return None
    return {"heading": values["heading"] or place.words["on-this-page"], "found": found[:60]}


def embedded(values: Values, place: Place) -> Drawn:
    piece = place.document.layout.pieces.get(values["piece"])
    return {"embedded": piece} if piece is not None else None


def slot(values: Values, place: Place) -> Drawn:
    return {"slot": values["name"]} if values["name"] else None


def always(values: Values, place: Place) -> Drawn:
    return {}
