"""The shapes of pieces, on the wire."""

from rest_framework import serializers as s

from navrel.server.api.shapes import LensedRequest, PieceTree, SettingTree


class PiecePagesRow(s.Serializer):
    """How many pages show a piece."""

    slug = s.CharField(help_text="The piece")
    pages = s.IntegerField(help_text="How many pages")


class NameRequest(s.Serializer):
    """A name."""

    name = s.CharField(allow_blank=True, help_text="The name")


class Picture(s.Serializer):
    """A piece as it is rendered."""

    html = s.CharField(help_text="A whole HTML document")


class PictureRequest(s.Serializer):
    """A piece as it stands in the editor."""

    piece = PieceTree(help_text="The piece")
    path = s.CharField(
        required=False, allow_blank=True, max_length=1000, help_text="The page it is drawn on; the first when not given"
    )


class SidebarReachRequest(LensedRequest):
    """A sidebar as it stands in the editor, and the lens."""

    slug = s.CharField(max_length=80, help_text="Its slug")
    piece = PieceTree(help_text="The sidebar")


class EntryReachInfo(s.Serializer):
    """How far one entry reaches."""

    matched = s.IntegerField(help_text="Pages that its condition matches, whoever looks and whenever")
    shown = s.IntegerField(help_text="Pages on which it is to be seen through the lens")


class SidebarReachInfo(s.Serializer):
    """Where a sidebar stands, and how far its entries reach."""

    pages = s.IntegerField(help_text="Pages on which it stands through the lens")
    entries = EntryReachInfo(many=True, help_text="Its entries, in their order")


class SettingsRequest(s.Serializer):
    """The settings that a site is to declare."""

    items = SettingTree(many=True, help_text="The settings, in the order in which they are shown")


class SettingsInfo(s.Serializer):
    """The settings that a site declares."""

    items = SettingTree(many=True, help_text="The settings, in the order in which they are shown")
    version = s.IntegerField(help_text="Their version, as in the ETag")


class ItemPart(s.Serializer):
    """A setting of an item."""

    name = s.CharField(help_text="Its name")
    takes = s.ChoiceField(
        choices=["line", "text", "href", "own-href", "links", "number", "query", "tone"], help_text="What it takes"
    )
    default = s.JSONField(help_text="What it is when not given")


class ItemType(s.Serializer):
    """What a piece can be made of."""

    type = s.CharField(help_text="The item's type")
    parts = ItemPart(many=True, help_text="Its settings")


class ItemTypes(s.Serializer):
    """Everything that a piece can be made of."""

    items = ItemType(many=True, help_text="The types of items")


class UseInfo(s.Serializer):
    """Something that names a piece."""

    kind = s.ChoiceField(choices=["rule", "sidebar", "site"], help_text="What it is")
    key = s.CharField(help_text="The rule's id, the sidebar's slug, or the site's")
    name = s.CharField(help_text="Its name")
    ends = s.BooleanField(help_text="Whether it is a rule that does nothing else, and so would go with the piece")


class PieceUses(s.Serializer):
    """What names a piece."""

    items = UseInfo(many=True, help_text="Rules, sidebars, the site")
