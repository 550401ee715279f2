"""The shapes of pieces, on the wire."""

from rest_framework import serializers as s

from navrel.core.layout.document import MAX_NAME
from navrel.rendering.items.parts import TAKES
from navrel.server.api.shapes import DressTree, LensedRequest, LostInfo, PieceTree, SettingTree


class PiecePagesRow(s.Serializer):
    """How many pages show a piece."""

    slug = s.CharField(help_text="The piece")
    pages = s.IntegerField(help_text="How many pages")
    some = s.ListField(child=s.CharField(), help_text="The paths of the first of them, one in the middle, and the last")


class StarterInfo(s.Serializer):
    """What a piece can start from."""

    slug = s.CharField(help_text="Its slug")
    kind = s.CharField(help_text="The kind of piece")
    name = s.CharField(help_text="Its name")
    about = s.CharField(help_text="What it is")
    html = s.CharField(help_text="Its real rendering on this site, a whole HTML document")


class NameRequest(s.Serializer):
    """A name."""

    name = s.CharField(allow_blank=True, help_text="The name")


class Picture(s.Serializer):
    """A piece as it is rendered."""

    html = s.CharField(help_text="A whole HTML document")


class LostOfItem(s.Serializer):
    """What the markup of an item loses."""

    pointer = s.CharField(help_text="The item, as a JSON Pointer (RFC 6901) from the piece")
    lost = LostInfo(many=True, help_text="What is lost, the most first")


class EditedPicture(Picture):
    """A piece as it is rendered while it is edited."""

    in_place = s.BooleanField(
        help_text="Whether it is the page in its own HTML, with the piece between two comments, `nv-picked` and "
        "`nv-picked-until`; else it is the piece alone"
    )
    lost = LostOfItem(many=True, help_text="The items of markup that lose what no piece may hold")


class PictureRequest(s.Serializer):
    """A piece as it stands in the editor."""

    piece = PieceTree(help_text="The piece")
    slug = s.SlugField(
        required=False, allow_blank=True, max_length=MAX_NAME,
        help_text="The slug that it has, to be drawn in the slot in which it shows",
    )  # fmt: skip
    path = s.CharField(
        required=False, allow_blank=True, max_length=1000, help_text="The page it is drawn on; the first when not given"
    )
    alone = s.BooleanField(
        required=False, help_text="Whether it is drawn by itself also where the page is drawn in its own HTML"
    )
    marked = s.BooleanField(required=False, help_text="Whether its items carry their place, to be chosen by pointing")


class PieceVersion(s.Serializer):
    """A piece as an edit left it."""

    edit = s.IntegerField(help_text="The edit's number")
    made = s.DateTimeField(help_text="When")
    by = s.CharField(allow_null=True, help_text="Who")
    words = s.CharField(help_text="What the edit did")
    piece = PieceTree(help_text="What the piece was then")


class PieceDifference(s.Serializer):
    """How a copy differs from its original by now."""

    origin = s.CharField(help_text="The original's slug; empty where it is no copy, or the original is gone")
    name = s.CharField(help_text="The original's name")
    words = s.ListField(child=s.CharField(), help_text="What differs; nothing where they are alike")


class FeedRequest(s.Serializer):
    """A feed of another service."""

    url = s.CharField(max_length=2000, help_text="Its address")


class FeedInfo(s.Serializer):
    """A feed of another service as it was last fetched."""

    url = s.CharField(help_text="Its address")
    title = s.CharField(help_text="What it is called")
    entries = s.IntegerField(help_text="How many entries are kept")
    fetched = s.DateTimeField(allow_null=True, help_text="When fetching it last went well")
    problem = s.CharField(help_text="Why it did not, when it was last tried; empty where it did")


class TurnedPiece(s.Serializer):
    """A piece's content with markup in place of its items."""

    content = s.DictField(help_text="The content")


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


class MenuEntryTree(s.Serializer):
    """A line of a menu, as in the layout file."""

    text = s.CharField(required=False, help_text="What it says; the page's title when not given")
    page = s.CharField(required=False, help_text="The path of the page that it leads to")
    href = s.CharField(required=False, help_text="Or the address that it leads to")
    panel = s.CharField(required=False, help_text="The slot in the panel that it opens")
    entries = s.ListField(child=s.DictField(), required=False, help_text="The lines below it, of the same form")


class MenuTree(s.Serializer):
    """A menu, as in the layout file."""

    slug = s.CharField(help_text="Its slug")
    name = s.CharField(help_text="Its name")
    entries = MenuEntryTree(many=True, help_text="Its lines")


class MenusRequest(s.Serializer):
    """The menus that a site is to have."""

    items = MenuTree(many=True, help_text="The menus")


class MenusInfo(s.Serializer):
    """The menus of a site."""

    items = MenuTree(many=True, help_text="The menus")
    version = s.IntegerField(help_text="Their version, as in the ETag")


class DressesRequest(s.Serializer):
    """The dresses that a site is to have."""

    items = DressTree(many=True, help_text="The dresses; pages wear the first unless the setting `dress` says another")


class DressesInfo(s.Serializer):
    """The dresses of a site."""

    items = DressTree(many=True, help_text="The dresses; pages wear the first unless the setting `dress` says another")
    version = s.IntegerField(help_text="Their version, as in the ETag")


class FileRequest(s.Serializer):
    """A picture or a font, sent as a form."""

    data = s.FileField(help_text="The file; what it is is told by its content")


class FileInfo(s.Serializer):
    """A picture or a font of a site."""

    name = s.CharField(help_text="Its name, by which items and dresses show it")
    type = s.CharField(help_text="Its media type")
    width = s.IntegerField(help_text="In pixels; 0 for a font")
    height = s.IntegerField(help_text="In pixels; 0 for a font")
    address = s.CharField(help_text="Where it is to be seen, in its smallest version")
    pieces = s.ListField(child=s.CharField(), help_text="The names of the pieces and dresses that show it")


class ItemPart(s.Serializer):
    """A setting of an item."""

    name = s.CharField(help_text="Its name in contents")
    takes = s.ChoiceField(choices=TAKES, help_text="What it takes")
    default = s.JSONField(help_text="What it is when not given")
    label = s.CharField(help_text="What it is called on screen")
    help = s.CharField(help_text="What it is for; may be empty")
    choices = s.ListField(child=s.CharField(), help_text="What a choice may be")
    bindable = s.BooleanField(help_text="Whether a page setting can say it")


class ItemType(s.Serializer):
    """What a piece can be made of."""

    type = s.CharField(help_text="The item's type in contents")
    name = s.CharField(help_text="What it is called on screen")
    group = s.CharField(help_text="What it stands with where one is chosen")
    help = s.CharField(help_text="What it is")
    parts = ItemPart(many=True, help_text="Its settings")


class DressMeasure(s.Serializer):
    """A measure of a dress."""

    name = s.CharField(help_text="Its name")
    usual = s.FloatField(help_text="What it is when not given")
    unit = s.CharField(help_text="Its unit in CSS")
    least = s.FloatField(help_text="The least that it may be")
    most = s.FloatField(help_text="The most that it may be")


class DressParts(s.Serializer):
    """What a dress is made of."""

    colours = s.DictField(child=s.CharField(), help_text="Its colours, each with what it is when not given")
    fonts = s.DictField(child=s.CharField(), help_text="Its fonts, each with what it is when not given")
    families = s.ListField(child=s.CharField(), help_text="The families that a font may be, besides font files")
    measures = DressMeasure(many=True, help_text="Its measures")


class MarkupWords(s.Serializer):
    """What may be written in markup."""

    names = s.ListField(child=s.CharField(), help_text="What it is told of")
    filters = s.ListField(child=s.CharField(), help_text="The names of its filters")
    tags = s.ListField(child=s.CharField(), help_text="The names of its tags")


class ItemTypes(s.Serializer):
    """Everything that a piece can be made of."""

    items = ItemType(many=True, help_text="The types of items")
    palette = s.ListField(child=s.CharField(), help_text="The colours of the dress, by name")
    dress = DressParts(help_text="What a dress is made of")
    markup = MarkupWords(help_text="What may be written in markup")
    placeholders = s.ListField(child=s.CharField(), help_text="What stands in braces in texts and is filled in")


class UseInfo(s.Serializer):
    """Something that names a piece."""

    kind = s.ChoiceField(choices=["rule", "sidebar", "piece", "guard", "site"], help_text="What it is")
    key = s.CharField(help_text="The rule's id, the slug of the sidebar or piece, or the site's")
    name = s.CharField(help_text="Its name")
    ends = s.BooleanField(help_text="Whether it is a rule that does nothing else, and so would go with the piece")


class PieceUses(s.Serializer):
    """What names a piece."""

    items = UseInfo(many=True, help_text="Rules, sidebars, the site")
