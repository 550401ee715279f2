"""Edits: what was written to the draft, by whom, and how to take it back."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from navrel.server.inventory.models import Site

KINDS = ("edit", "undo", "redo")


class Edit(models.Model):
    """One write to the draft. ``number`` counts the edits of a site from 1.

    ``parts`` has every part of the layout that it changed, before and after (see `parts.py`). An undo, and a redo, is
    an edit too: ``of`` is the one that it takes back, or does again. ``undone`` says how an edit stands now.
    """

    site = models.ForeignKey(Site, models.CASCADE, related_name="edits")
    number = models.PositiveIntegerField()
    made = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    kind = models.CharField(max_length=4, choices=[(kind, kind) for kind in KINDS], default="edit")
    of = models.ForeignKey("self", models.CASCADE, null=True, related_name="turns")
    undone = models.BooleanField(default=False)
    words = models.TextField()
    parts = models.JSONField(default=list)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "number"], name="one_edit_a_number")]
        indexes = [models.Index(fields=["site", "by", "-number"], name="edits_of_a_person")]
        ordering = ["-number"]

    def __str__(self) -> str:
        return f"edit {self.number}"


class Presence(models.Model):
    """That somebody has something of a site before them: a rule or a piece, as edits name what they touch."""

    site = models.ForeignKey(Site, models.CASCADE, related_name="+")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    thing = models.CharField(max_length=120)
    seen = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "user", "thing"], name="one_presence_a_thing")]

    def __str__(self) -> str:
        return f"{self.user} at {self.thing}"
