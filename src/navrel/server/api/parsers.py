"""The gate for request bodies: JSON whose texts hold only what a text may hold."""

from __future__ import annotations

from collections.abc import Mapping
from typing import IO, Any

import orjson
from rest_framework import status
from rest_framework.parsers import BaseParser

from navrel.core.errors import DocumentError, Problem
from navrel.core.text import misfit

from .errors import Refused

#: The largest body, in bytes; files come in batches below it.
MAX_BODY = 32 * 1024 * 1024


class TooLarge(Refused):
    """The body is larger than any that is read."""

    status = status.HTTP_413_REQUEST_ENTITY_TOO_LARGE


class JSONParser(BaseParser):
    """Reads JSON (RFC 8259) strictly: no NaN, no lone surrogates, no boundless depth, no unseen characters."""

    media_type = "application/json"

    def parse(
        self, stream: IO[Any], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> Any:
        """The tree of a body. Raises DocumentError with the place, and TooLarge."""
        body = stream.read(MAX_BODY + 1)
        if len(body) > MAX_BODY:
            raise TooLarge("too-large", f"The body is larger than {MAX_BODY // 2**20} MiB")
        try:
            tree = orjson.loads(body)
        except orjson.JSONDecodeError as error:
            raise DocumentError([Problem("", f"this is not JSON: {error}", "syntax")]) from None
        if found := misfit(tree):
            raise DocumentError([Problem(found.pointer, found.message, "character")])
        return tree
