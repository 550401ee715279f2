"""A dress as CSS: custom properties that the style sheet, pieces and contents follow (CSS Custom Properties, W3C)."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from navrel.core.layout.document import SiteDocument, SiteFile
from navrel.core.layout.dress import FAMILIES, MEASURES, Dress

#: Whether a dress is shown in one of its forms, whatever the visitor's device asks for.
Form = Literal["", "light", "dark"]

_STACKS: Mapping[str, str] = {
    "book": '"Charter","Bitstream Charter","Noto Serif",Georgia,serif',
    "plain": '"Avenir Next","Segoe UI","DejaVu Sans","Liberation Sans",sans-serif',
    "round": 'ui-rounded,"Hiragino Maru Gothic ProN",Quicksand,Comfortaa,Calibri,"DejaVu Sans",sans-serif',
    "narrow": '"Avenir Next Condensed",Bahnschrift,"Liberation Sans Narrow","DejaVu Sans Condensed",sans-serif',
    "slab": 'Rockwell,"Rockwell Nova","Roboto Slab","DejaVu Serif",serif',
    "typewriter": 'ui-monospace,"Cascadia Mono","DejaVu Sans Mono","Liberation Mono",monospace',
}
#: What follows a font file while it loads, or where it is not to be had.
_MEANWHILE = {"text": "book", "head": "plain"}
_PROPERTIES = {"text": "text-width", "page": "page", "corner": "corner", "gap": "gap"}


def dress_css(dress: Dress | None, files: Mapping[str, SiteFile], form: Form = "") -> str:
    """The CSS of a dress; nothing for that of a site which has none. What stands in it was checked on the way in."""
    if dress is None:
        return ""
    light = {**_own(dress, files), **{f"--{name}": colour for name, colour in dress.colours.items()}}
    dark = {f"--{name}": colour for name, colour in dress.dark.items()}
    faces = "".join(_face(files[name]) for name in dress.font_files if name in files)
    if not dark or form == "light":
        return faces + _block(light)
    if form == "dark":
        return faces + _block({**light, **dark, "color-scheme": "dark"})
    there = _block({"color-scheme": "dark", **dark})
    return f"{faces}{_block({'color-scheme': 'light dark', **light})}@media(prefers-color-scheme:dark){{{there}}}"


def dresses_css(document: SiteDocument) -> dict[str, str]:
    """What each dress of a site comes to, by its slug."""
    return {slug: dress_css(dress, document.files_by_name) for slug, dress in document.layout.dresses.items()}


def _own(dress: Dress, files: Mapping[str, SiteFile]) -> dict[str, str]:
    found = {f"--{use}": _family(use, name, files) for use, name in dress.fonts.items()}
    for name, value in dress.measures.items():
        found[f"--{_PROPERTIES[name]}"] = f"{value:g}{MEASURES[name].unit}"
    return found


def _family(use: str, name: str, files: Mapping[str, SiteFile]) -> str:
    if name in FAMILIES:
        return _STACKS[name]
    meanwhile = _STACKS[_MEANWHILE[use]]
    return f"{_face_name(files[name])},{meanwhile}" if name in files else meanwhile


def _face_name(file: SiteFile) -> str:
    return f"site-{file.digest[:12]}"


def _face(file: SiteFile) -> str:
    """The font file as a family of its own (CSS Fonts, section 4)."""
    source = f'url("{file.address()}")format("woff2")'
    return f"@font-face{{font-family:{_face_name(file)};src:{source};font-display:swap}}"


def _block(properties: Mapping[str, str]) -> str:
    stated = ";".join(f"{name}:{value}" for name, value in properties.items())
    return f":root{{{stated}}}" if stated else ""
