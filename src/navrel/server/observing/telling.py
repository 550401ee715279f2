"""Logs: lines for people, or lines of JSON for programs, each with the id of the request that it is about."""

from __future__ import annotations

import logging
import re
from contextvars import ContextVar
from typing import Any
from uuid import uuid4

#: The id of the request that is being answered; empty for none.
REQUEST: ContextVar[str] = ContextVar("request", default="")
_ID = re.compile(r"[A-Za-z0-9._=+/-]{1,100}")


def request_id(stated: str) -> str:
    """The id of a request: as a server before this one states it, where that can be one, else one of its own."""
    return stated if _ID.fullmatch(stated) else uuid4().hex


class WithRequest(logging.Filter):
    """Adds to each line about which request it is."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Let every line pass."""
        record.request = REQUEST.get()
        return True


def logging_settings(form: str) -> dict[str, Any]:
    """What is logged, and how: ``form`` is `json`, with a line for each request, or empty, for people."""
    lines = {
        "()": "pythonjsonlogger.json.JsonFormatter",
        "fmt": "%(asctime)s %(levelname)s %(name)s %(message)s %(request)s",
        "timestamp": True,
    }
    return {
        "version": 1,
        "disable_existing_loggers": False,
        "filters": {"request": {"()": WithRequest}},
        "formatters": {"json": lines},
        "handlers": {
            "console": {
                "class": "logging.StreamHandler",
                "filters": ["request"],
                **({"formatter": "json"} if form == "json" else {}),
            }
        },
        "root": {"handlers": ["console"], "level": "WARNING"},
        "loggers": {"navrel.requests": {"level": "INFO" if form == "json" else "WARNING"}},
    }
