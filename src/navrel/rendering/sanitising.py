"""Markup from outside, with nothing left in it that could run, reach out, or pass for what is not its own."""

from __future__ import annotations

import re
from functools import cache, lru_cache
from importlib import resources

import nh3

from .links import scheme_of, stays_here

DRAWING_TAGS = {
    "svg", "g", "path", "rect", "circle", "ellipse", "line", "polyline", "polygon", "text", "tspan", "title", "desc",
}  # fmt: skip
DRAWING_ATTRIBUTES = {
    "viewBox", "width", "height", "d", "x", "y", "x1", "x2", "y1", "y2", "cx", "cy", "r", "rx", "ry", "points",
    "fill", "stroke", "stroke-width", "stroke-linecap", "stroke-linejoin", "stroke-dasharray", "opacity",
    "text-anchor", "font-size", "font-weight",
}  # fmt: skip
FORM_ATTRIBUTES = {
    "form": {"action", "method"},
    "input": {"type", "name", "value", "placeholder", "required", "autocomplete", "checked", "min", "max"},
    "label": {"for"},
    "select": {"name"},
    "option": {"value", "selected"},
    "button": {"type", "name", "value"},
    "textarea": {"name", "rows", "placeholder"},
    "slot": {"name"},
    "time": {"datetime"},
}
#: What is heard and seen (HTML Standard, 4.8).
MEDIA_ATTRIBUTES = {
    "picture": set[str](),
    "source": {"src", "srcset", "sizes", "media", "type", "width", "height"},
    "video": {"src", "poster", "controls", "loop", "muted", "preload", "width", "height"},
    "audio": {"src", "controls", "loop", "muted", "preload"},
    "track": {"src", "kind", "srclang", "label", "default"},
    "img": {"srcset", "sizes", "loading"},
    "details": {"open"},
}
#: Formulas (MathML Core), but for what holds other markup or does something.
FORMULA_TAGS = {
    "math", "mrow", "mi", "mn", "mo", "ms", "mtext", "mspace", "mfrac", "msqrt", "mroot", "mstyle", "mpadded",
    "mphantom", "msub", "msup", "msubsup", "munder", "mover", "munderover", "mmultiscripts", "mprescripts", "mtable",
    "mtr", "mtd",
    "semantics",
}  # fmt: skip
FORMULA_ATTRIBUTES = {
    "display", "displaystyle", "mathvariant", "stretchy", "form", "fence", "separator", "accent", "accentunder",
    "movablelimits", "linethickness", "columnspan", "rowspan", "minsize", "maxsize", "lspace", "rspace", "scriptlevel",
    "width", "height", "depth",
}  # fmt: skip
#: What goes with all that is in it: a second form of a formula, for programs.
_UNSEEN = {"script", "style", "annotation", "annotation-xml"}
_TAGS = (
    nh3.ALLOWED_TAGS | DRAWING_TAGS | FORMULA_TAGS | set(MEDIA_ATTRIBUTES) | set(FORM_ATTRIBUTES)
    | {"section", "fieldset", "legend", "main", "address"}
)  # fmt: skip
_EVERYWHERE = {"lang", "dir", "id", "class", "title", "role", "aria-label", "aria-hidden", "aria-labelledby"}
SCHEMES = {"http", "https", "mailto", "tel"}
#: Attributes whose address is fetched or sent to, so that it has to be the site's own.
_OWN_ADDRESSES = {"action", "formaction", "src", "poster", "background", "cite"}
PICTURE_DATA = re.compile(r"data:image/(?:png|jpeg|gif|webp|avif)[;,]", re.IGNORECASE)
#: Roles that would make a part of the content pass for a part of the page around it.
PAGE_ROLES = {"banner", "contentinfo", "main"}


def _attributes() -> dict[str, set[str]]:
    found = {tag: set(names) for tag, names in nh3.ALLOWED_ATTRIBUTES.items()}
    for tag in DRAWING_TAGS:
        found[tag] = found.get(tag, set()) | DRAWING_ATTRIBUTES
    for tag in FORMULA_TAGS:
        found[tag] = found.get(tag, set()) | FORMULA_ATTRIBUTES
    for tag, names in (*FORM_ATTRIBUTES.items(), *MEDIA_ATTRIBUTES.items()):
        found[tag] = found.get(tag, set()) | names
    return {**found, "*": _EVERYWHERE}


_ATTRIBUTES = _attributes()


@cache
def own_classes() -> frozenset[str]:
    """The class names that the project's own styles give a meaning outside of a page's content."""
    styles = resources.files("navrel.rendering").joinpath("site.css").read_text()
    outside = " ".join(part for part in re.findall(r"[^{}]+(?=\{)", styles) if not part.strip().startswith(".content "))
    return frozenset(re.findall(r"\.([a-z][a-z-]*)", outside))


#: Beginnings of class names that are made from the names of slots, kinds and areas.
_OWN_BEGINNINGS = (
    "slot-",
    "piece-",
    "arrange-",
    "tone-",
    "area-",
    "alone-",
    "space-",
    "align-",
    "not-on-",
    "to-",
    "as-",
)


def is_own_class(name: str) -> bool:
    """Whether a class name is one of the project's."""
    return name in own_classes() or name.startswith(_OWN_BEGINNINGS)


# What stands in markup stands there many times.
@lru_cache(maxsize=8192)
def _filtered(tag: str, name: str, value: str) -> str | None:
    """An attribute's value as it may stand, None for not at all."""
    if name == "srcset":
        return value if all(stays_here(one) for one in value.split(",")) else None
    if name in _OWN_ADDRESSES:
        picture = tag == "img" and name == "src" and PICTURE_DATA.match(value)
        return value if picture or (stays_here(value) and not scheme_of(value)) else None
    if name == "class":
        return " ".join(one for one in value.split() if not is_own_class(one)) or None
    if name == "href":
        return value if scheme_of(value) in ("", *SCHEMES) else None
    if name == "role" and value.strip().lower() in PAGE_ROLES:
        return None
    return value


def sanitise(markup: str) -> str:
    """Markup by an allow-list of elements, attributes, addresses and class names."""
    return nh3.clean(
        markup,
        tags=_TAGS,
        clean_content_tags=_UNSEEN,
        attributes=_ATTRIBUTES,
        attribute_filter=_filtered,
        url_schemes=SCHEMES | {"data"},
        link_rel=None,
    )
