"""The tag by which markup asks for an item, and the items in the HTML that comes of it.

The tag writes an element of its own. Markup is cleaned with that element in it, which then gives way to the item: what
is drawn for an item is the renderer's and goes by no allow-list, and no text can pass for it.
"""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from html import escape, unescape
from typing import Any, TextIO

from liquid import RenderContext
from liquid.ast import Node
from liquid.exceptions import LiquidSyntaxError
from liquid.stream import TokenStream
from liquid.tag import Tag
from liquid.token import TOKEN_EXPRESSION, TOKEN_TAG, Token
from markupsafe import Markup

from navrel.core.layout.asked import read_asked

#: The element that stands for an item, and its attribute.
ELEMENT, ATTRIBUTE = "asked-item", "is"
_STANDS = re.compile(f'<{ELEMENT} {ATTRIBUTE}="([^"]*)"></{ELEMENT}>')


class _ItemNode(Node):
    __slots__ = ("stands",)

    def __init__(self, token: Token, item: Mapping[str, Any]) -> None:
        super().__init__(token)
        self.stands = f'<{ELEMENT} {ATTRIBUTE}="{escape(json.dumps(item))}"></{ELEMENT}>'
        self.blank = False

    def render_to_output(self, context: RenderContext, buffer: TextIO) -> int:
        return buffer.write(self.stands)


class ItemTag(Tag):
    """`{% item {"type": "calendar"} %}`"""

    block = False
    name = "item"

    def parse(self, stream: TokenStream) -> Node:
        token = stream.eat(TOKEN_TAG)
        current = stream.current
        text = current.value if current.kind == TOKEN_EXPRESSION else ""
        try:
            return _ItemNode(token, read_asked(text))
        except ValueError as error:
            raise LiquidSyntaxError(str(error), token=token) from None


Part = Markup | Mapping[str, Any]


def parts_of(html: str, asked: Sequence[Mapping[str, Any]]) -> list[Part]:
    """Clean HTML in parts: as it is, and the items that stand in it, as far as they are among those asked for."""
    found: list[Part] = []
    for at, part in enumerate(_STANDS.split(html)):
        if at % 2 == 0:
            found.append(Markup(part))  # noqa: S704
        elif (item := _read(part)) in asked:
            found.append(item)
    return found


def _read(attribute: str) -> Mapping[str, Any]:
    try:
        return read_asked(unescape(attribute))
    except ValueError:
        return {}
