"""The shapes of the log, on the wire."""

from rest_framework import serializers as s

from .models import KINDS


class EventRow(s.Serializer):
    """Something that was done."""

    id = s.IntegerField(help_text="Its id")
    made = s.DateTimeField(help_text="When")
    by = s.CharField(allow_blank=True, help_text="Who; empty for the program itself")
    kind = s.ChoiceField(choices=KINDS, help_text="What it is")
    words = s.CharField(help_text="What was done, in words")
