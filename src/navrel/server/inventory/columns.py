"""Columns of JSON that are read for each of very many pages."""

from __future__ import annotations

from typing import Any

import orjson
from django.db import models


class PlainJSONField(models.JSONField):
    """JSON without a number that its parser cannot hold. Of very many rows reading it takes half of the time."""

    def from_db_value(self, value: Any, expression: Any, connection: Any) -> Any:
        """What stands in a row; a part of it that was asked for is read as Django reads it."""
        if isinstance(value, str) and isinstance(expression, models.expressions.Col):
            return orjson.loads(value)
        return super().from_db_value(value, expression, connection)

    def deconstruct(self) -> tuple[str, str, Any, Any]:
        """In the database it is what Django's own field is."""
        name, _, args, kwargs = super().deconstruct()
        return name, "django.db.models.JSONField", args, kwargs
