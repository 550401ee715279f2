"""What people of a site are told that others, or the clock, have done."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.db.models import Q

from navrel.server.inventory.models import Site

KINDS = ("guard", "schedule", "publication", "remark")


class News(models.Model):
    """Something that happened. ``by`` is whoever did it, who is not told of it; None for nobody of the site.

    ``to``: where in the application it leads, below the site's address. ``key`` names what is told once
    only, empty for all else.
    """

    site = models.ForeignKey(Site, models.CASCADE, related_name="news")
    made = models.DateTimeField(auto_now_add=True)
    kind = models.CharField(max_length=12, choices=[(kind, kind) for kind in KINDS])
    words = models.CharField(max_length=2000)
    to = models.CharField(max_length=1200)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    key = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["-id"]
        constraints = [models.UniqueConstraint(fields=["site", "key"], condition=~Q(key=""), name="told_once")]

    def __str__(self) -> str:
        return self.words


class ReadUpTo(models.Model):
    """Up to which of a site's news somebody has read."""

    site = models.ForeignKey(Site, models.CASCADE, related_name="+")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    last = models.BigIntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "user"], name="one_place_a_reader")]

    def __str__(self) -> str:
        return f"{self.user} up to {self.last}"


class Watched(models.Model):
    """How the guards of a draft stood when the clock looked last."""

    site = models.OneToOneField(Site, models.CASCADE, related_name="+")
    version = models.BigIntegerField()
    #: The number of the last edit that it had.
    edit = models.PositiveIntegerField()
    broken = models.JSONField(default=list)

    def __str__(self) -> str:
        return f"{self.site} at {self.version}"
