"""The shapes of guards, on the wire."""

from rest_framework import serializers as s

from navrel.core.layout.model import DEMANDS, PIECE_KINDS
from navrel.server.api.shapes import ConditionTree, Somewhere


class DemandTree(s.Serializer):
    """What a guard asks for, as it stands in the layout file."""

    vars()["is"] = s.ChoiceField(choices=DEMANDS, help_text="What is asked for")
    slot = s.CharField(required=False, allow_blank=True, help_text="Of which slot")
    setting = s.CharField(required=False, allow_blank=True, help_text="Of which setting")
    pieces = s.ListField(child=s.CharField(), required=False, help_text="Slugs of pieces")
    templates = s.ListField(child=s.CharField(), required=False, help_text="Slugs of templates, one of which it is")
    values = s.ListField(child=s.JSONField(), required=False, help_text="Values, one of which the setting has")
    kind = s.ChoiceField(
        choices=["", *PIECE_KINDS], required=False, help_text="Pieces of which kind are counted; empty for no kind"
    )
    item = s.CharField(required=False, allow_blank=True, help_text="Pieces with an item of which type are counted")
    most = s.IntegerField(required=False, help_text="How many of them may be seen")


class GuardTree(s.Serializer):
    """A guard as it stands in the layout file."""

    name = s.CharField(allow_blank=True, help_text="Its name, one on the site")
    note = s.CharField(required=False, allow_blank=True, help_text="Why it is there")
    on = s.BooleanField(required=False, help_text="Whether it is asked")
    condition = ConditionTree(required=False, help_text="Where, for whom and when")
    demand = DemandTree(help_text="What has to be so")


class BreachInfo(Somewhere):
    """Looks that do not meet what a guard asks for."""

    words = s.CharField(help_text="What is seen instead, and by which rule, in words")
    who = s.CharField(help_text="For whom and when, in words")
    rule = s.IntegerField(allow_null=True, help_text="The id of the rule that made it so; null for none")


class GuardInfo(s.Serializer):
    """A guard, and how it stands over all visitors and from now on."""

    guard = GuardTree(help_text="The guard")
    demands = s.CharField(help_text="What it asks for, in words")
    where = s.CharField(allow_blank=True, help_text="On which pages, in words; empty for none")
    who = s.CharField(help_text="For whom and when, in words")
    reached = s.IntegerField(help_text="Pages on which it is asked")
    broken = s.IntegerField(help_text="Pages of them with a look that does not meet it")
    breaches = BreachInfo(many=True, help_text="How they do not; twenty at most, most pages first")
    unknown = Somewhere(help_text="Pages on which it cannot be told")


class GuardsInfo(s.Serializer):
    """The guards of a site."""

    items = GuardInfo(many=True, help_text="The guards in their order")
    version = s.IntegerField(help_text="What If-Match names to put them anew")


class GuardsRequest(s.Serializer):
    """All guards, as they are to be."""

    items = GuardTree(many=True, help_text="The guards in their order")


class GuardRequest(s.Serializer):
    """A guard as it stands in the editor."""

    guard = GuardTree(help_text="The guard")
