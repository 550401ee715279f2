"""The shapes of pieces, on the wire."""

from rest_framework import serializers as s

from navrel.core.layout.model import PIECE_KINDS
from navrel.server.rules.serializers import ConditionTree


class EntryTree(s.Serializer):
    piece = s.CharField()
    condition = ConditionTree(required=False)


class PieceTree(s.Serializer):
    """A piece as it stands in the layout file, without its slug."""

    name = s.CharField(allow_blank=True)
    kind = s.ChoiceField(choices=PIECE_KINDS)
    note = s.CharField(required=False, allow_blank=True)
    content = s.DictField(required=False)
    slots = s.ListField(
        child=s.CharField(),
        required=False,
        allow_null=True,
        help_text="Of a template: absent or null are the ten standard slots, an empty list is none",
    )
    entries = EntryTree(many=True, required=False)


class PieceInfo(PieceTree):
    slug = s.CharField()
    version = s.IntegerField()
    colour = s.CharField(help_text="The colour that the piece has everywhere in the interface")


class PieceRow(PieceInfo):
    uses = s.IntegerField(help_text="Rules and sidebars that name it")


class PiecePages(s.Serializer):
    slug = s.CharField()
    pages = s.IntegerField()


class NameRequest(s.Serializer):
    name = s.CharField(allow_blank=True)


class Picture(s.Serializer):
    html = s.CharField()


class PictureRequest(s.Serializer):
    piece = PieceTree()
    path = s.CharField(required=False, allow_blank=True)


class ItemPart(s.Serializer):
    name = s.CharField()
    takes = s.ChoiceField(choices=["line", "text", "href", "links", "number", "query", "tone"])
    default = s.JSONField()


class ItemType(s.Serializer):
    type = s.CharField()
    parts = ItemPart(many=True)


class PieceUses(s.Serializer):
    uses = s.ListField(child=s.CharField())
