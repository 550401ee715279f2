"""HTML of a piece's markup, by an allow-list that suits layout: nothing runs, reaches out, or leaves its box."""

from __future__ import annotations

import re
from collections.abc import Mapping, Set
from functools import lru_cache

import nh3

from ..links import scheme_of, stays_here
from ..sanitising import (
    DRAWING_ATTRIBUTES,
    DRAWING_TAGS,
    FORM_ATTRIBUTES,
    FORMULA_ATTRIBUTES,
    FORMULA_TAGS,
    MEDIA_ATTRIBUTES,
    PAGE_ROLES,
    PICTURE_DATA,
    SCHEMES,
    is_own_class,
)
from .asking import ATTRIBUTE, ELEMENT
from .custom import may_stay, names_in
from .in_place import ANYWHERE_IN_PLACE, DRAWING_IN_PLACE, MORE_IN_PLACE, PAINT_IN_PLACE

#: Landmarks and headings of the page are the page's: an address list is no `main`, a band no second banner.
_TAGS = (
    (nh3.ALLOWED_TAGS | DRAWING_TAGS | set(FORM_ATTRIBUTES) | {"section", "fieldset", "legend", "address", "picture",
     ELEMENT})
    - {"main", "header", "footer", "slot", "map", "area"}
)  # fmt: skip
_TAGS_IN_PLACE = _TAGS | FORMULA_TAGS | set(MEDIA_ATTRIBUTES) | set(DRAWING_IN_PLACE) | set(MORE_IN_PLACE)
_EVERYWHERE = {"lang", "dir", "class", "title", "role", "aria-label", "aria-hidden", "aria-current", "hidden"}
_MORE = {
    "a": {"href", "rel", "hreflang"},
    "img": {"src", "srcset", "sizes", "alt", "width", "height", "loading"},
    "details": {"open"},
    "time": {"datetime"},
    "td": {"colspan", "rowspan"},
    "th": {"colspan", "rowspan", "scope"},
    "ol": {"start", "reversed"},
}
#: Before a class name of markup that the project has too, until it is written.
SITE_CLASS = "-site-"
#: Elements that draw what their address leads to.
_DRAWN_FROM = {"use"}
_SCHEMES = SCHEMES | {"data"}
#: Beginnings of the names of attributes that are for programs.
_GENERIC_IN_PLACE = ("aria-", "data-")
_OWN_ADDRESSES = {"action", "src", "srcset", "cite", "poster", "background"}
_WIDTHS = re.compile(r"\s+\d+(?:\.\d+)?[wx]\s*\Z")


def _merged(*groups: Mapping[str, Set[str]]) -> dict[str, set[str]]:
    """The attributes of each element in all of some groups."""
    found: dict[str, set[str]] = {}
    for group in groups:
        for tag, names in group.items():
            found[tag] = found.get(tag, set()) | names
    return found


def _attributes() -> dict[str, set[str]]:
    forms = {tag: names for tag, names in FORM_ATTRIBUTES.items() if tag in _TAGS}
    found = _merged(forms, _MORE, dict.fromkeys(DRAWING_TAGS, DRAWING_ATTRIBUTES))
    # Without ids, what is told of by one is told of by nothing.
    return {**found, ELEMENT: {ATTRIBUTE}, "label": set(), "*": _EVERYWHERE}


def _attributes_in_place() -> dict[str, set[str]]:
    drawing = dict.fromkeys(DRAWING_TAGS | set(DRAWING_IN_PLACE), DRAWING_ATTRIBUTES | PAINT_IN_PLACE)
    formulas = dict.fromkeys(FORMULA_TAGS, FORMULA_ATTRIBUTES)
    everywhere = {"*": ANYWHERE_IN_PLACE}
    return _merged(_attributes(), MEDIA_ATTRIBUTES, MORE_IN_PLACE, drawing, DRAWING_IN_PLACE, formulas, everywhere)


def _filtered(tag: str, name: str, value: str) -> str | None:
    if name == "srcset":
        own = all(_is_own(_WIDTHS.sub("", one).strip()) for one in value.split(","))
        return value if own else None
    if name in _OWN_ADDRESSES:
        return value if (tag == "img" and name == "src" and PICTURE_DATA.match(value)) or _is_own(value) else None
    if name == "href":
        return value if scheme_of(value) in ("", *SCHEMES) else None
    if name == "role" and value.strip().lower() in PAGE_ROLES:
        return None
    return value


def _filtered_in_place(tag: str, name: str, value: str) -> str | None:
    """The same where the page's own styles give class names their meaning; those of the project's are kept apart."""
    if name == "class":
        return " ".join(f"{SITE_CLASS}{one}" if is_own_class(one) else one for one in value.split()) or value
    if name == "href" and tag in _DRAWN_FROM:
        return value if _is_own(value) else None
    if name == "role":
        # A banner that was found is the banner; what is the content of the page stays with the page.
        return None if value.strip().lower() == "main" else value
    if not _is_known_in_place(tag, name) and not (may_stay(tag, name, value) and _is_own(value)):
        return None
    return _filtered(tag, name, value)


def _is_known_in_place(tag: str, name: str) -> bool:
    """Whether an attribute may stand by its name, and is none that a site made up."""
    known = _ATTRIBUTES_IN_PLACE
    return name in known.get(tag, ()) or name in known["*"] or name.startswith(_GENERIC_IN_PLACE)


def _is_own(address: str) -> bool:
    return stays_here(address) and not scheme_of(address)


@lru_cache(maxsize=128)
def clean_markup(html: str, *, in_place: bool = False) -> str:
    """Markup by the allow-list. Its class names may be any: what they style stays in the box of the markup.

    ``in_place``: it stands in HTML of the page's own, as a part of it, and may name and style itself as that does.
    What was cleaned last is kept: most pieces come out alike on page after page.
    """
    if not in_place:
        return nh3.clean(
            html, tags=_TAGS, attributes=_ATTRIBUTES, attribute_filter=_filtered, url_schemes=_SCHEMES, link_rel=None
        )
    made_up = names_in(html)
    more = {"*": made_up.anywhere, **dict.fromkeys(made_up.elements, made_up.theirs)}
    return nh3.clean(
        html,
        tags=_TAGS_IN_PLACE | made_up.elements,
        attributes=_merged(_ATTRIBUTES_IN_PLACE, more),
        attribute_filter=_filtered_in_place,
        generic_attribute_prefixes=set(_GENERIC_IN_PLACE),
        url_schemes=_SCHEMES,
        link_rel=None,
    )


_ATTRIBUTES = _attributes()
_ATTRIBUTES_IN_PLACE = _attributes_in_place()
