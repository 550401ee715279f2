"""Items that markup asks for: `{% item {"type": "calendar"} %}`, each as contents hold it, in JSON (RFC 8259).

An item that is asked for is one of the piece's like any other: what it embeds, holds and leads to is followed.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Mapping
from functools import lru_cache
from typing import Any

#: A tag as Liquid ends it: at the first `%}`, even in a text. Comments are passed over.
_TAG = re.compile(
    r"\{%-?\s*comment\s*-?%\}.*?\{%-?\s*endcomment\s*-?%\}|(?P<opens>\{%-?\s*item\b)(?P<item>.*?)(?P<closes>-?%\})",
    re.DOTALL,
)


def read_asked(text: str) -> dict[str, Any]:
    """The item of a tag. Raises ValueError that says what is wrong with it."""
    try:
        found = json.loads(text, parse_constant=_no_constant)
    except json.JSONDecodeError as error:
        raise ValueError(f"an item is an object in JSON: {error.msg.lower()} at column {error.colno} of it") from None
    except RecursionError:
        raise ValueError("this is nested too deep") from None
    if not isinstance(found, dict) or not isinstance(found.get("type"), str):
        raise ValueError('an item is an object with a type, as {"type": "calendar"}')
    return found


def _no_constant(name: str) -> None:
    raise ValueError(f"{name} is not JSON")


@lru_cache(maxsize=1024)
def asked_in(code: str) -> tuple[Mapping[str, Any], ...]:
    """The items that markup asks for, in reading order; what cannot be read is passed over."""
    return tuple(item for found in _TAG.finditer(code) if (item := _asked(found)) is not None)


def asking(item: Mapping[str, Any]) -> str:
    """Markup that asks for an item."""
    return f"{{% item {_written(item)} %}}"


def rewritten(code: str, made: Callable[[Mapping[str, Any]], Mapping[str, Any] | None]) -> str:
    """Markup with other items in place of those it asks for; None for none. What is the same stays as written."""

    def put(found: re.Match[str]) -> str:
        item = _asked(found)
        other = made(item) if item is not None else item
        if item is None or other == item:
            return found[0]
        return "" if other is None else f"{found['opens']} {_written(other)} {found['closes']}"

    return _TAG.sub(put, code)


def _asked(found: re.Match[str]) -> dict[str, Any] | None:
    try:
        return read_asked(found["item"]) if found["opens"] else None
    except ValueError:
        return None


def _written(item: Mapping[str, Any]) -> str:
    # An end of the tag inside of a text is written so that it is none (RFC 8259, section 7).
    return json.dumps(item, ensure_ascii=False).replace("%}", "%\\u007d")
