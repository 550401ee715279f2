"""Lists in stretches: every list of the API is bounded, and asked for in the same way."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db.models import QuerySet
from drf_spectacular.utils import OpenApiParameter, inline_serializer
from rest_framework import serializers as s
from rest_framework.request import Request

from .errors import Malformed, ParameterProblem

#: Entries in one answer: when nothing is said, and at the most.
USUAL = 100
MOST = 2_000


@dataclass(frozen=True)
class Stretch:
    """The part of a list that a request asks for: so many entries from ``offset`` on."""

    offset: int
    limit: int

    @classmethod
    def asked(cls, request: Request, usual: int = USUAL, most: int = MOST) -> Stretch:
        """The stretch that a request names; a greater one than is given is cut to that. Raises Malformed."""
        return cls(_whole(request, "offset", 0), min(_whole(request, "limit", usual), most))

    def of(self, entries: Sequence[Any]) -> Sequence[Any]:
        """These entries of a list."""
        return entries[self.offset : self.offset + self.limit]

    def listed(self, entries: list[Any], total: int) -> dict[str, Any]:
        """The body of an answer with these entries of so many."""
        return {"total": total, "offset": self.offset, "items": entries}

    def of_records(self, records: QuerySet[Any]) -> tuple[list[Any], int]:
        """These records of a query, and how many there are."""
        return list(records[self.offset : self.offset + self.limit]), records.count()


def stretch_parameters(usual: int = USUAL, most: int = MOST) -> list[OpenApiParameter]:
    """The two parameters that every list takes."""
    return [
        OpenApiParameter("offset", int, description="How many entries are passed over; 0 when not given"),
        OpenApiParameter(
            "limit", int, description=f"How many entries are wanted; {usual:,} when not given, {most:,} at most"
        ),
    ]


def listing(row: type[s.Serializer[Any]]) -> s.Serializer[Any]:
    """The shape of a list of rows."""
    return inline_serializer(
        f"{row.__name__}List",
        {
            "total": s.IntegerField(help_text="Entries in the whole list"),
            "offset": s.IntegerField(help_text="Entries passed over before the first of these"),
            "items": row(many=True, help_text="The entries asked for, in their order"),
        },
    )


def _whole(request: Request, name: str, default: int) -> int:
    text = request.query_params.get(name, "")
    if not text:
        return default
    if not re.fullmatch(r"\d{1,9}", text, re.ASCII):
        raise Malformed.for_parameter(ParameterProblem(name, "this has to be a whole number from 0 on", "bad-number"))
    return int(text)
