"""Rules."""

from __future__ import annotations

from django.db import models

from navrel.core.layout.document import MAX_NAME
from navrel.server.inventory.models import Site


class Rule(models.Model):
    """A rule; ``condition`` and ``actions`` are as in the layout file. ``position`` counts from 1, highest first."""

    site = models.ForeignKey(Site, models.CASCADE, related_name="rules")
    name = models.CharField(max_length=MAX_NAME)
    note = models.TextField(blank=True)
    on = models.BooleanField(default=True)
    priority = models.SmallIntegerField(default=0)
    position = models.PositiveIntegerField()
    condition = models.JSONField(default=dict)
    actions = models.JSONField(default=list)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["site", "name"], name="one_rule_a_name", deferrable=models.Deferrable.DEFERRED
            )
        ]
        ordering = ["position"]

    def __str__(self) -> str:
        return self.name
