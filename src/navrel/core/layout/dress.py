"""A site's dresses: a palette, fonts and measures under one name; the page setting `dress` says which a page wears."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field

#: The colours of a dress, with what they are where it says nothing.
COLOURS: Mapping[str, str] = {
    "paper": "#ffffff", "ink": "#22303a", "soft": "#eef3f4", "line": "#d9e0e2", "brand": "#0f5c7a",
    "on-brand": "#ffffff", "accent": "#e0a338", "on-accent": "#22303a",
}  # fmt: skip
#: The fonts of a dress, by what is written in them.
FONTS: Mapping[str, str] = {"text": "book", "head": "plain"}
#: Families that every computer has in some form. Any other name is that of a font file of the site.
FAMILIES = ("book", "plain", "round", "narrow", "slab", "typewriter")
#: The ending of font files (WOFF 2.0, W3C).
FONT_ENDING = ".woff2"

_WRITTEN = re.compile(r"#(?:[0-9A-Fa-f]{3}|[0-9A-Fa-f]{6})\Z")


def is_written_colour(text: str) -> bool:
    """Whether a text is a colour as CSS Color writes it in hexadecimal digits, without transparency."""
    return _WRITTEN.match(text) is not None


@dataclass(frozen=True)
class Measure:
    """A measure of a dress: what it is where it says nothing, its unit in CSS, and between what it lies."""

    usual: float
    unit: str
    least: float
    most: float


MEASURES: Mapping[str, Measure] = {
    "text": Measure(46, "rem", 20, 100),
    "page": Measure(76, "rem", 40, 160),
    "corner": Measure(4, "px", 0, 40),
    "gap": Measure(1.4, "rem", 0, 6),
}


@dataclass(frozen=True)
class Dress:
    """A dress. What it does not state is as in COLOURS, FONTS and MEASURES; without ``dark`` it has no dark form."""

    slug: str
    name: str
    colours: Mapping[str, str] = field(default_factory=dict, hash=False)
    dark: Mapping[str, str] = field(default_factory=dict, hash=False)
    fonts: Mapping[str, str] = field(default_factory=dict, hash=False)
    measures: Mapping[str, float] = field(default_factory=dict, hash=False)

    @property
    def font_files(self) -> tuple[str, ...]:
        """The names of the font files that it is written in."""
        return tuple(dict.fromkeys(name for name in self.fonts.values() if name not in FAMILIES))
