"""Revisions."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from navrel.server.inventory.models import Site


class Revision(models.Model):
    """One published state, never changed again; the newest is live.

    ``archive`` is the layout file of the whole site and the content digest of every page, as gzipped JSON.
    ``last_edit`` is the number of the last edit in it, 0 for none. ``overruled``: the names of the guards in spite of
    which it was published, and the reason; None where none was broken.
    """

    site = models.ForeignKey(Site, models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    published = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    note = models.CharField(max_length=500, blank=True)
    summary = models.JSONField(default=list)
    site_version = models.PositiveBigIntegerField()
    last_edit = models.PositiveIntegerField(default=0)
    overruled = models.JSONField(null=True)
    archive = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "number"], name="one_revision_a_number")]
        ordering = ["-number"]

    def __str__(self) -> str:
        return f"revision {self.number}"
