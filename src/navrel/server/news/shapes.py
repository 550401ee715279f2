"""The shapes of news, on the wire."""

from rest_framework import serializers as s

from .models import KINDS


class NewsRow(s.Serializer):
    """Something that happened."""

    id = s.IntegerField(help_text="Its id")
    made = s.DateTimeField(help_text="When it was told")
    kind = s.ChoiceField(choices=KINDS, help_text="What it is about")
    words = s.CharField(help_text="What happened, in words")
    to = s.CharField(help_text="Where in the application it leads, below the site")
    unread = s.BooleanField(help_text="Whether whoever asks has not read it")


class ReadRequest(s.Serializer):
    """Up to where news was read."""

    last = s.IntegerField(min_value=0, max_value=2**62, help_text="The id of the last news that was read")


class Unread(s.Serializer):
    """How many news somebody has not read."""

    unread = s.IntegerField(help_text="How many there are")
