"""Findings that were set aside."""

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
