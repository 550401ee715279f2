"""What was found of pages on a walk, previews for people without an account, and what they remark."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from navrel.server.inventory.models import Site

MAX_TEXT = 2000


class Mark(models.Model):
    """What somebody found of a page of the draft: fine or not, and a note.

    ``drawn`` is a digest of the page as it was drawn for everyone from the local date-time ``since`` on, when it was
    looked at: the mark holds as long as it is drawn so. It is no part of the draft.
    """

    site = models.ForeignKey(Site, models.CASCADE, related_name="marks")
    path = models.CharField(max_length=1000)
    fine = models.BooleanField()
    note = models.CharField(max_length=MAX_TEXT, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    made = models.DateTimeField(auto_now=True)
    since = models.CharField(max_length=30)
    drawn = models.CharField(max_length=64)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "path"], name="one_mark_a_page")]
        ordering = ["path"]

    def __str__(self) -> str:
        return f"{self.path}: {'fine' if self.fine else 'not fine'}"


class PreviewLink(models.Model):
    """A preview of some pages of the draft, through one lens, for whoever has its address until it ends."""

    site = models.ForeignKey(Site, models.CASCADE, related_name="preview_links")
    paths = models.JSONField()
    visitor = models.CharField(max_length=5000, blank=True)
    at = models.CharField(max_length=40, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    made = models.DateTimeField(auto_now_add=True)
    ends = models.DateTimeField()

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"preview of {len(self.paths)} pages until {self.ends:%Y-%m-%d %H:%M}"


class Remark(models.Model):
    """What somebody without an account says about a page of a preview. ``name`` is who they say they are."""

    link = models.ForeignKey(PreviewLink, models.CASCADE, related_name="remarks")
    path = models.CharField(max_length=1000)
    name = models.CharField(max_length=100, blank=True)
    text = models.CharField(max_length=MAX_TEXT)
    made = models.DateTimeField(auto_now_add=True)
    done = models.BooleanField(default=False)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return self.text
