"""Servers that are told when a site is published, and what was sent to them."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from navrel.server.inventory.models import Site
from navrel.server.outward import MAX_ADDRESS

#: A signed message for a program, or an order to a cache to drop what it has.
KINDS = ("message", "purge")
#: Of a sending: it waits to be sent (again), it was taken, or it was given up.
STATES = ("waiting", "taken", "given-up")


class Webhook(models.Model):
    """A server that is told of every publication. ``secret``: by which it knows that it was Navrel (base64)."""

    site = models.ForeignKey(Site, models.CASCADE, related_name="webhooks")
    kind = models.CharField(max_length=8, choices=[(kind, kind) for kind in KINDS])
    address = models.CharField(max_length=MAX_ADDRESS)
    secret = models.CharField(max_length=100)
    made = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.address


class Sending(models.Model):
    """A message to one server. ``due``: when it is sent next; ``attempts``: when it was, and what was answered.

    ``after``: the key of the revision that every process has to serve before it is sent; None for at once.
    """

    webhook = models.ForeignKey(Webhook, models.CASCADE, related_name="sendings")
    message = models.CharField(max_length=40)
    body = models.TextField()
    after = models.BigIntegerField(null=True)
    made = models.DateTimeField(auto_now_add=True)
    due = models.DateTimeField(null=True)
    state = models.CharField(max_length=8, default="waiting", choices=[(state, state) for state in STATES])
    attempts = models.JSONField(default=list)

    class Meta:
        ordering = ["-pk"]
        indexes = [models.Index(fields=["due"], condition=models.Q(state="waiting"), name="sendings_waiting")]

    def __str__(self) -> str:
        return self.message
