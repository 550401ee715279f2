"""The shapes of webhooks, on the wire."""

from rest_framework import serializers as s

from navrel.server.outward import MAX_ADDRESS

from .models import KINDS, STATES


class WebhookRequest(s.Serializer):
    """A server that is to be told."""

    kind = s.ChoiceField(
        choices=KINDS, help_text="message: a signed message for a program; purge: an order to a cache to drop the site"
    )
    address = s.CharField(max_length=MAX_ADDRESS, help_text="Where it is sent")


class WebhookRow(s.Serializer):
    """A server that is told of every publication."""

    id = s.IntegerField(help_text="Its id")
    kind = s.ChoiceField(choices=KINDS, help_text="What it is sent")
    address = s.CharField(help_text="Where it is sent")
    made = s.DateTimeField(help_text="Since when")
    last = s.ChoiceField(choices=STATES, allow_null=True, help_text="How the newest message stands; null for none yet")


class NewWebhook(WebhookRow):
    """A webhook as it is told once."""

    secret = s.CharField(help_text="By which messages are known to come from here; it is not told again")


class AttemptRow(s.Serializer):
    """An attempt at sending."""

    at = s.DateTimeField(help_text="When")
    status = s.IntegerField(help_text="The status that was answered; 0 for no answer")
    told = s.CharField(allow_blank=True, help_text="Why there was no answer")
    milliseconds = s.IntegerField(help_text="How long it took")


class SendingRow(s.Serializer):
    """A message that was sent, or is to be."""

    id = s.IntegerField(help_text="Its id here")
    message = s.CharField(help_text="Its id as the receiver sees it")
    type = s.CharField(help_text="What it is about: site.published, or webhook.tried")
    revision = s.IntegerField(allow_null=True, help_text="The number of the revision that it tells of")
    made = s.DateTimeField(help_text="When it was written")
    state = s.ChoiceField(choices=STATES, help_text="Whether it waits to be sent, was taken, or was given up")
    due = s.DateTimeField(allow_null=True, help_text="When it is sent next; null for never")
    attempts = AttemptRow(many=True, help_text="The attempts so far, the first of them first")
    body = s.CharField(help_text="What is sent")
