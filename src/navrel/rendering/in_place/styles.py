"""The project's styles on pages with styles of their own: neither touches what is the other's.

On such a page the project's class names carry a beginning of their own, and its style sheet is scoped to the slots, but
for what markup in them holds (CSS Cascade 6, @scope): that is styled by the page.
"""

from __future__ import annotations

import hashlib
import re
from functools import cache

from ..environment import stylesheet
from ..markup.html import SITE_CLASS
from ..sanitising import is_own_class

#: What the project's class names begin with there, and the class of an element that holds a slot.
BEGINNING = "nv-"
SLOT_CLASS = "nv-place"
_BEYOND_ASCII = re.compile(r"[^\x00-\x7f]")
_CLASSES = re.compile(r'class="([^"]*)"')
_SELECTORS = re.compile(r"[^{}]+(?=\{)")
_CLASS_NAME = re.compile(r"\.([a-z][a-z-]*)")
#: What is said of the page as a whole: it stays as the page says.
_OF_PAGE = re.compile(r"(?:^|(?<=\}))\s*(?:html|body|\*)\{[^}]*\}", re.MULTILINE)
#: A piece is written in the fonts of the page, as long as no dress says otherwise.
_FONTS = "--text:inherit;--head:inherit;box-sizing:border-box"


@cache
def in_place_stylesheet() -> bytes:
    """The style sheet of pages in their own HTML."""
    css = _OF_PAGE.sub("", stylesheet().decode())
    css = _SELECTORS.sub(lambda found: _CLASS_NAME.sub(rf".{BEGINNING}\1", found[0]), css)
    css = css.replace(":root{", ":scope{", 1)
    scope = f"@scope (.{SLOT_CLASS}) to (.{BEGINNING}markup>*>*)"
    return f"{scope}{{\n{css}\n:scope{{{_FONTS}}}\n:scope *{{box-sizing:border-box}}\n}}\n".encode()


@cache
def in_place_stylesheet_address() -> str:
    """Where it is served: an address that never shows anything else."""
    return f"/-/place-{hashlib.sha256(in_place_stylesheet()).hexdigest()[:16]}.css"


def with_beginnings(markup: str) -> str:
    """Drawn markup with the project's class names as they are called there, and those of the page as they are."""
    return _CLASSES.sub(lambda found: f'class="{" ".join(map(_renamed, found[1].split()))}"', markup)


def _renamed(name: str) -> str:
    if name.startswith(SITE_CLASS):
        return name.removeprefix(SITE_CLASS)
    return f"{BEGINNING}{name}" if is_own_class(name) else name


def in_place_styles(dress: str, markup: str) -> str:
    """What a page takes to show the project's pieces: the style sheet, the dress that it wears, styles of markup."""
    own = f"{dress.replace(':root{', f'.{SLOT_CLASS}{{')}\n{markup}".strip()
    # Written so that every encoding of a page has it (CSS Syntax, escapes).
    own = _BEYOND_ASCII.sub(lambda found: f"\\{ord(found[0]):x} ", own)
    link = f'<link rel="stylesheet" href="{in_place_stylesheet_address()}">'
    return f"{link}<style>{own}</style>" if own else link
