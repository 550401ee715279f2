"""Findings that were set aside, and what was measured in drawn pages."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from navrel.server.inventory.models import Site


class SetAside(models.Model):
    """A finding that somebody has looked at and lets be, with why. ``key`` is of all that it says.

    It is no part of the draft: what pages get is not changed by it.
    """

    site = models.ForeignKey(Site, models.CASCADE, related_name="set_aside")
    key = models.CharField(max_length=64)
    reason = models.CharField(max_length=500)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "key"], name="one_reason_a_finding")]

    def __str__(self) -> str:
        return self.reason


class Measurement(models.Model):
    """What was last found amiss in drawn pages of a site, at which version of its draft.

    It stands until the pages are measured again: an edit may have mended it, or not.
    """

    site = models.OneToOneField(Site, models.CASCADE, related_name="measurement")
    version = models.BigIntegerField()
    items = models.JSONField(default=list)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    made = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"version {self.version} of {self.site.slug}"
