"""The shapes of edits, on the wire."""

from rest_framework import serializers as s


class EditRow(s.Serializer):
    """One write to the draft."""

    number = s.IntegerField(help_text="Its number, counted from 1")
    made = s.DateTimeField(help_text="When it was made")
    by = s.CharField(allow_null=True, help_text="Who made it; null for the program itself")
    words = s.CharField(help_text="What it did")
    parts = s.ListField(child=s.CharField(), help_text="What it touched: `rule/12`, `place/12`, `piece/SLUG`, `site`")
    undone = s.BooleanField(help_text="Whether it is taken back")
    undoable = s.BooleanField(help_text="Whether it is of a kind that can be undone")
    in_the_way = s.CharField(allow_null=True, help_text="The later edit that has to be undone first, in words")


class TurnedEdit(s.Serializer):
    """An edit that was undone, or done again."""

    number = s.IntegerField(help_text="The edit's number")
    words = s.CharField(help_text="What it did")
    undone = s.BooleanField(help_text="Whether it is taken back now")


class PresenceRequest(s.Serializer):
    """What somebody has before them."""

    thing = s.RegexField(
        r"^(?:rule|piece)/[a-z0-9-]+$", max_length=120, help_text="The thing, as edits name it: `rule/12`, `piece/SLUG`"
    )


class PresentInfo(s.Serializer):
    """Who else has it before them."""

    names = s.ListField(child=s.CharField(), help_text="Their accounts' names; twenty at most")
