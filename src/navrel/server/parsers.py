"""The gate for request bodies: JSON whose texts hold only what a text may hold."""

from __future__ import annotations

from collections.abc import Mapping
from typing import IO, Any

import orjson
from rest_framework.parsers import BaseParser

from navrel.core.errors import DocumentError, Problem
from navrel.core.text import misfit


class JSONParser(BaseParser):
    """Reads JSON (RFC 8259) strictly: no NaN, no lone surrogates, no boundless depth, no unseen characters."""

    media_type = "application/json"

    def parse(
        self, stream: IO[Any], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> Any:
        """The tree of a body. Raises DocumentError with the place."""
        try:
            tree = orjson.loads(stream.read())
        except orjson.JSONDecodeError as error:
            raise DocumentError([Problem("", f"this is not JSON: {error}", "syntax")]) from None
        if found := misfit(tree):
            raise DocumentError([Problem(found.pointer, found.message, "character")])
        return tree
