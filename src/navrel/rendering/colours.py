"""Colours in contents: those of the site's dress by name, or written out."""

from __future__ import annotations

from typing import Any

from navrel.core.layout.dress import COLOURS, is_written_colour

#: The colours of a dress, each a custom property of the style sheet (CSS Custom Properties).
PALETTE = tuple(COLOURS)


def is_colour(value: Any) -> bool:
    """Whether a value is a colour: one of the palette, or six or three hexadecimal digits."""
    return isinstance(value, str) and (value in PALETTE or is_written_colour(value))


def css_colour(value: str) -> str:
    """A colour as it stands in CSS."""
    return f"var(--{value})" if value in PALETTE else value
