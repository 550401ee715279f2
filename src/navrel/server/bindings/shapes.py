"""The shapes of bindings and finds, on the wire."""

from rest_framework import serializers as s

from navrel.core.layout.binding import HOWS, MAX_BINDINGS, MAX_SELECTOR
from navrel.core.layout.document import MAX_NAME
from navrel.server.api.shapes import LostInfo

#: Finds that are left as they are, at the most: their keys have to fit into an address.
MOST_LEFT = 600


class BindingTree(s.Serializer):
    """The place of a slot in the HTML of pages, as in the layout file."""

    slot = s.CharField(max_length=MAX_NAME, help_text="The slot")
    selector = s.CharField(
        max_length=MAX_SELECTOR, help_text="A CSS selector; the first element that it matches counts"
    )
    how = s.ChoiceField(
        choices=HOWS, required=False, default="element",
        help_text="Whether the element is the place, or the place is beside it, or inside at its start or end",
    )  # fmt: skip
    where = s.CharField(
        required=False,
        default="",
        allow_blank=True,
        max_length=2000,
        help_text="The pages built so, a query; empty: all",
    )


class BindingFit(s.Serializer):
    """How a binding fits the pages that it is for."""

    pages = s.IntegerField(help_text="On how many it is asked for")
    found = s.IntegerField(help_text="On how many it finds its place")
    several = s.IntegerField(help_text="On how many its selector matches more than one element; the first counts")
    inside = s.IntegerField(help_text="On how many its place lies inside another slot's, so that it has none")
    missed = s.ListField(child=s.CharField(), help_text="Some pages where it finds nothing")
    seen = s.ListField(child=s.CharField(), help_text="Some pages where it finds its place, as different as can be")
    problem = s.CharField(allow_blank=True, help_text="Why it cannot be asked; empty where it can")


class BindingsInfo(s.Serializer):
    """The bindings of a site, with how each fits."""

    bindings = BindingTree(
        many=True, help_text="In their order: of those of a slot, the first that finds a place counts"
    )
    fits = BindingFit(many=True, help_text="How each fits")
    originals = s.IntegerField(help_text="How many pages have HTML of their own")
    asked = s.IntegerField(help_text="On how many of them it was looked")
    version = s.IntegerField(help_text="What If-Match names to say them anew")


class BindingsRequest(s.Serializer):
    """Bindings that are to be."""

    bindings = s.ListField(child=BindingTree(), max_length=MAX_BINDINGS, help_text="All of them")


class ProposedBinding(s.Serializer):
    """A place that may be a slot's."""

    binding = BindingTree(help_text="The binding")
    why = s.CharField(help_text="What tells that it is one")
    sure = s.BooleanField(
        help_text="Whether a landmark, a name or links tell so, not only that it stands on many pages"
    )
    distinct = s.IntegerField(help_text="How many different contents stand there on the pages that were looked at")
    fit = BindingFit(help_text="How it fits")


class ProposedBindings(s.Serializer):
    """Places that may be those of slots."""

    proposed = ProposedBinding(many=True, help_text="The likeliest of each slot first")
    asked = s.IntegerField(help_text="On how many pages it was looked")


class PlacePictureRequest(s.Serializer):
    """A place on a page."""

    path = s.CharField(max_length=1000, help_text="The path of the page")
    binding = BindingTree(help_text="The binding whose place is shown")


class PlacePicture(s.Serializer):
    """A page in its own HTML with a place marked."""

    html = s.CharField(
        help_text="A whole HTML document, with the place between two comments, `nv-picked` and `nv-picked-until`"
    )


class FindInfo(s.Serializer):
    """What stands in the place of a slot on two pages or more."""

    key = s.CharField(help_text="What it is called by, the same as long as it shows the same in that slot")
    name = s.CharField(help_text="What its piece and its rule will be called")
    pages = s.IntegerField(help_text="On how many pages it stands")
    first = s.ListField(child=s.CharField(), help_text="Some of these pages")
    include = s.CharField(allow_blank=True, help_text="The condition that comes to it: pages, a query")
    exclude = s.CharField(allow_blank=True, help_text="And those taken out, a query")
    problem = s.CharField(allow_blank=True, help_text="Why it stays as it is on its pages; empty where it need not")
    left = s.BooleanField(help_text="Whether it stays as it is though it need not")
    lost = LostInfo(many=True, help_text="What its piece would lack of what stands there, the most first")
    pieces = s.IntegerField(help_text="How many pieces are made of it: at the side a sidebar and the widget in it")


class SlotFinds(s.Serializer):
    """What was found in one slot."""

    slot = s.CharField(help_text="The slot")
    finds = FindInfo(many=True, help_text="What stands on two pages or more, the most pages first")
    alone = s.IntegerField(help_text="How many pages show something there that no other does, and keep it")
    alone_first = s.ListField(child=s.CharField(), help_text="Some of them")
    decided = s.IntegerField(help_text="On how many pages a rule or a lock decides already, so that none is made")


class FindsInfo(s.Serializer):
    """What stands in the places of slots today, and whether rules come to just that."""

    slots = SlotFinds(many=True, help_text="Slot by slot")
    right = s.IntegerField(help_text="Places of slots on pages that come out as they are, resolved page by page")
    lessened = s.IntegerField(help_text="How many of these get a piece that lacks something of what stands there")
    wrong = s.IntegerField(help_text="Places that do not")
    wrong_first = s.ListField(child=s.CharField(), help_text="Some of the pages with such a place")
    pieces = s.IntegerField(help_text="How many pieces would be made")
    rules = s.IntegerField(help_text="How many rules would be made")


class TakeFindsRequest(s.Serializer):
    """What is taken of what was found."""

    slots = s.ListField(child=s.CharField(max_length=MAX_NAME), max_length=MAX_BINDINGS, help_text="In which slots")
    left = s.ListField(
        child=s.CharField(max_length=MAX_NAME),
        max_length=MOST_LEFT,
        default=None,
        allow_null=True,
        help_text="The keys of finds that stay as they are; null: of those whose pieces would lack something",
    )


class TakenFinds(s.Serializer):
    """What came of taking finds."""

    pieces = s.IntegerField(help_text="Pieces that were made")
    rules = s.IntegerField(help_text="Rules that were made")
    right = s.IntegerField(help_text="Places of slots on pages that come out as they were")
    wrong = s.IntegerField(help_text="Places that do not")
    lessened = s.IntegerField(help_text="How many of the places get a piece that lacks something of what stood there")
