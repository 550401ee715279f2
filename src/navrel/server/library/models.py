"""Pieces, and the pictures and feeds that they show."""

from __future__ import annotations

from django.db import models

from navrel.core.layout.document import MAX_NAME
from navrel.core.layout.model import PIECE_KINDS
from navrel.server.inventory.models import Site


class Piece(models.Model):
    """A reusable layout part. The slug stays for life; ``colour`` is the place in the interface's palette.

    ``origin`` is the slug of the piece that it began as a copy of.
    """

    site = models.ForeignKey(Site, models.CASCADE, related_name="pieces")
    slug = models.CharField(max_length=MAX_NAME)
    kind = models.CharField(max_length=10, choices=[(kind, kind) for kind in PIECE_KINDS])
    name = models.CharField(max_length=MAX_NAME)
    note = models.TextField(blank=True)
    content = models.JSONField(default=dict)
    slots = models.JSONField(default=list)
    entries = models.JSONField(default=list)
    colour = models.PositiveSmallIntegerField(default=0)
    position = models.PositiveIntegerField(default=0)
    origin = models.CharField(max_length=MAX_NAME, blank=True, default="")
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["site", "slug"], name="one_piece_a_slug"),
            models.UniqueConstraint(
                fields=["site", "kind", "name"], name="one_piece_a_kind_and_name", deferrable=models.Deferrable.DEFERRED
            ),
        ]
        ordering = ["position", "id"]

    def __str__(self) -> str:
        return self.name


class FileData(models.Model):
    """The bytes of a picture, filed under the SHA-256 of the whole one, at a width; 0 is the whole one. Never changed.

    Sites and revisions name pictures by their digests, so that they share them.
    """

    digest = models.CharField(max_length=64)
    width = models.PositiveIntegerField(default=0)
    type = models.CharField(max_length=40)
    data = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["digest", "width"], name="one_file_a_digest_and_width")]

    def __str__(self) -> str:
        return f"{self.digest[:12]} {self.width}"


class Feed(models.Model):
    """A feed of another service as it was last fetched. ``asks``: with what to ask whether anything is new.

    ``tried`` is when it was last asked for, ``fetched`` when that last went well; ``problem`` is why it did not.
    """

    url = models.CharField(max_length=2000, unique=True)
    title = models.CharField(max_length=300, blank=True)
    entries = models.JSONField(default=list)
    asks = models.JSONField(default=dict)
    tried = models.DateTimeField(null=True)
    fetched = models.DateTimeField(null=True)
    problem = models.CharField(max_length=500, blank=True)

    def __str__(self) -> str:
        return self.url
