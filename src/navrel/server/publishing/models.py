"""Revisions, and what is to become one at a moment."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import models

from navrel.server.inventory.models import Site


class Published(models.Model):
    """A state as it is published: frozen, and never changed again.

    ``archive`` is the layout file of the whole site and the content digest of every page, as gzipped JSON.
    ``last_edit`` is the number of the last edit in it, 0 for none. ``overruled``: the names of the guards in spite of
    which it is published, and the reason; None where none was broken. ``chosen``: whether only some of the changes
    that the draft had then are in it.
    """

    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    note = models.CharField(max_length=500, blank=True)
    summary = models.JSONField(default=list)
    site_version = models.PositiveBigIntegerField()
    last_edit = models.PositiveIntegerField(default=0)
    overruled = models.JSONField(null=True)
    chosen = models.BooleanField(default=False)
    archive = models.BinaryField()

    class Meta:
        abstract = True

    @property
    def frozen(self) -> dict[str, Any]:
        """All that is published of it."""
        return {field.name: getattr(self, field.name) for field in Published._meta.get_fields()}


class Revision(Published):
    """One published state; the newest is live."""

    site = models.ForeignKey(Site, models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    published = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "number"], name="one_revision_a_number")]
        ordering = ["-number"]

    def __str__(self) -> str:
        return f"revision {self.number}"


class Plan(Published):
    """A state that is published at a moment. It was frozen when it was planned, after the revision ``after``.

    ``told`` says why it was refused; ``revision`` is the number that it got.
    """

    STATES = ("waiting", "done", "refused", "dropped")

    site = models.ForeignKey(Site, models.CASCADE, related_name="plans")
    at = models.DateTimeField()
    planned = models.DateTimeField(auto_now_add=True)
    after = models.PositiveIntegerField(default=0)
    state = models.CharField(max_length=10, default="waiting", choices=[(one, one) for one in STATES])
    told = models.CharField(max_length=500, blank=True)
    revision = models.PositiveIntegerField(null=True)

    class Meta:
        indexes = [models.Index(fields=["at"], condition=models.Q(state="waiting"), name="plans_waiting")]
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"publication at {self.at:%Y-%m-%d %H:%M}"
