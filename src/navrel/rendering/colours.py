"""Colours in contents: those of the site's dress by name, or written out."""

from __future__ import annotations

import re
from typing import Any

#: The colours of a dress, each a custom property of the style sheet (CSS Custom Properties).
PALETTE = ("paper", "ink", "soft", "line", "brand", "on-brand", "accent", "on-accent")
_WRITTEN = re.compile(r"#(?:[0-9A-Fa-f]{3}|[0-9A-Fa-f]{6})\Z")


def is_colour(value: Any) -> bool:
    """Whether a value is a colour: one of the palette, or six or three hexadecimal digits."""
    return isinstance(value, str) and (value in PALETTE or _WRITTEN.match(value) is not None)


def css_colour(value: str) -> str:
    """A colour as it stands in CSS."""
    return f"var(--{value})" if value in PALETTE else value
