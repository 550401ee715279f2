"""Everything that was done: edits, publications, rights, sign-ins."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from navrel.server.inventory.models import Site

KINDS = ("edit", "publication", "rights", "sign-in")


class Event(models.Model):
    """Something that somebody did, in words. ``name`` is who, and stays when the account does not.

    ``site`` is None for what is about an account alone. ``by`` is None for the program itself.
    """

    site = models.ForeignKey(Site, models.CASCADE, null=True, related_name="events")
    made = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    name = models.CharField(max_length=150, blank=True)
    kind = models.CharField(max_length=12, choices=[(kind, kind) for kind in KINDS])
    words = models.TextField()

    class Meta:
        indexes = [models.Index(fields=["site", "-id"], name="events_of_a_site")]
        ordering = ["-id"]

    def __str__(self) -> str:
        return self.words
