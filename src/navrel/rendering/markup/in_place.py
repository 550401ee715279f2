"""What markup may hold besides where it stands in HTML of a page's own, as a part of it that was found there.

All that shows, leads or is told to programs, in old HTML as in new; nothing that runs, and nothing fetched from
elsewhere. Sources: the HTML Standard (with 16.2, what is obsolete and still shows), SVG 2, microdata, RDFa Lite 1.1.
"""

from __future__ import annotations

_CELLS = {"align", "valign", "bgcolor", "width", "height", "background", "headers", "abbr", "axis", "nowrap", "char"}
_PICTURE = {"src", "srcset", "sizes", "alt", "width", "height"}
#: Attributes of drawings.
PAINT_IN_PLACE = {
    "fill-rule", "fill-opacity", "clip-rule", "clip-path", "mask", "stroke-opacity", "stroke-miterlimit",
    "stroke-dashoffset", "color", "transform", "preserveAspectRatio", "vector-effect", "xmlns", "version", "focusable",
    "dx", "dy", "rotate", "textLength", "font-family", "font-style", "dominant-baseline",
}  # fmt: skip
#: The elements of drawings, each with the attributes that it has besides.
DRAWING_IN_PLACE: dict[str, set[str]] = {
    "use": {"href", "xlink:href"},
    "symbol": set(),
    "defs": set(),
    "linearGradient": {"gradientUnits", "gradientTransform", "spreadMethod"},
    "radialGradient": {"gradientUnits", "gradientTransform", "spreadMethod", "fx", "fy", "fr"},
    "stop": {"offset", "stop-color", "stop-opacity"},
    "clipPath": {"clipPathUnits"},
    "mask": {"maskUnits", "maskContentUnits"},
}
#: Other elements, each with the attributes that it has besides those of any.
MORE_IN_PLACE: dict[str, set[str]] = {
    "header": set(),
    "footer": set(),
    "menu": {"compact"},
    "search": set(),
    "hgroup": set(),
    "font": {"color", "face", "size"},
    "big": set(),
    "nobr": set(),
    "map": {"name"},
    "area": {"alt", "coords", "shape", "href", "target", "rel", "hreflang", "nohref"},
    "meta": {"content"},
    "link": {"href"},
    "optgroup": {"label", "disabled"},
    "datalist": set(),
    "output": {"for", "name"},
    "progress": {"value", "max"},
    "meter": {"value", "min", "max", "low", "high", "optimum"},
    "a": {"name", "target", "type", "media", "rev", "charset", "download"},
    "img": {*_PICTURE, "usemap", "ismap", "border", "hspace", "vspace", "align", "name", "decoding", "fetchpriority"},
    "form": {"name", "target", "enctype", "accept-charset", "novalidate", "autocomplete"},
    "input": {
        *_PICTURE, "disabled", "readonly", "size", "maxlength", "minlength", "pattern", "step", "multiple", "list",
        "autofocus", "inputmode", "enterkeyhint", "form", "align", "border",
    },
    "select": {"multiple", "size", "required", "disabled", "autocomplete", "form"},
    "option": {"label", "disabled"},
    "button": {"disabled", "form", "popovertarget", "popovertargetaction"},
    "textarea": {"cols", "wrap", "readonly", "disabled", "required", "maxlength", "minlength", "autocomplete"},
    "label": {"for"},
    "fieldset": {"disabled", "name", "form"},
    "details": {"open", "name"},
    "dialog": {"open"},
    # Some themes write the address of a site so.
    "data": {"value", "href"},
    "table": {"border", "cellpadding", "cellspacing", "summary", "frame", "rules", "bordercolor", *_CELLS},
    "td": _CELLS,
    "th": _CELLS,
    "tr": _CELLS,
    "thead": _CELLS,
    "tbody": _CELLS,
    "tfoot": _CELLS,
    "col": {"span", *_CELLS},
    "colgroup": {"span", *_CELLS},
    "caption": {"align"},
    "hr": {"align", "size", "noshade", "color", "width"},
    "br": {"clear"},
    "ul": {"type", "compact"},
    "ol": {"type", "compact"},
    "dl": {"compact"},
    "li": {"type", "value"},
    "blockquote": {"cite"},
    "q": {"cite"},
}  # fmt: skip

#: Attributes of any element.
ANYWHERE_IN_PLACE = {
    "id", "style", "align", "tabindex", "accesskey", "translate", "spellcheck", "autocapitalize", "autocorrect",
    "inert", "popover", "draggable", "part", "xml:lang",
    "itemscope", "itemprop", "itemtype", "itemid", "itemref",
    "property", "typeof", "vocab", "resource", "about", "prefix", "datatype", "content",
}  # fmt: skip
