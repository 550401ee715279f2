"""The shapes of recipes, on the wire."""

from rest_framework import serializers as s

from navrel.core.layout.binding import MAX_SELECTOR
from navrel.core.layout.document import MAX_NAME
from navrel.core.layout.recipe import ATS, MAX_FACTS, MAX_PATTERN, MAX_PLACES


class FactPlaceTree(s.Serializer):
    """A place where a fact may stand, as in the layout file."""

    at = s.ChoiceField(choices=ATS, help_text="What kind of place it is")
    of = s.CharField(
        required=False, allow_blank=True, max_length=MAX_SELECTOR,
        help_text="The name, the property, the relation, the selector, the number of the part, or the value",
    )  # fmt: skip
    attribute = s.CharField(
        required=False, allow_blank=True, max_length=MAX_NAME, help_text="Of the element, for its text"
    )
    take = s.CharField(
        required=False, allow_blank=True, max_length=MAX_PATTERN, trim_whitespace=False,
        help_text="A regular expression: its first group counts, or all that it matches",
    )  # fmt: skip
    values = s.DictField(child=s.CharField(allow_blank=True), required=False, help_text="What values mean")
    form = s.CharField(
        required=False, allow_blank=True, max_length=MAX_NAME,
        help_text="How a date is written, as strptime has it: %d %B %Y",
    )  # fmt: skip


class FactRecipeTree(s.Serializer):
    """Where a fact is looked for, as in the layout file."""

    fact = s.CharField(max_length=2 * MAX_NAME, help_text="Which fact: `author`, `terms/topic`, `fields/deck`")
    places = s.ListField(
        child=FactPlaceTree(), max_length=MAX_PLACES, help_text="In turn: the first that has something tells it"
    )


class RecipeInfo(s.Serializer):
    """How the facts of a site's pages are read."""

    recipe = FactRecipeTree(many=True, help_text="What the site says of its own")
    standard = FactRecipeTree(many=True, help_text="How facts are read of which it says nothing")
    told = s.DictField(child=s.IntegerField(), help_text="On how many pages each fact is told")
    originals = s.IntegerField(help_text="How many pages have a file of their own")
    version = s.IntegerField(help_text="What If-Match names to say it anew")


class RecipeRequest(s.Serializer):
    """A recipe that is to be."""

    recipe = s.ListField(child=FactRecipeTree(), max_length=MAX_FACTS, help_text="All of it")


class TriedFact(s.Serializer):
    """What becomes of a fact on a page."""

    fact = s.CharField(help_text="Which")
    now = s.CharField(allow_blank=True, help_text="What the page has as it was taken in")
    after = s.CharField(allow_blank=True, help_text="What it would have")
    place = s.IntegerField(help_text="Which place of the recipe tells it, from 0; -1 for none")


class TriedPage(s.Serializer):
    """A page read by a recipe."""

    path = s.CharField(help_text="The page")
    facts = TriedFact(many=True, help_text="Its facts")


class TriedRecipe(s.Serializer):
    """What a recipe comes to on some pages."""

    pages = TriedPage(many=True, help_text="Pages of all sections, and those that are asked for")
    originals = s.IntegerField(help_text="How many pages have a file of their own")


class ProposedPlace(s.Serializer):
    """A place in which a fact stands on the pages of a site."""

    fact = s.CharField(help_text="Which fact")
    place = FactPlaceTree(help_text="Where")
    pages = s.IntegerField(help_text="On how many of the pages that were looked at it has something")
    more = s.IntegerField(help_text="On how many of those nothing tells the fact yet")
    distinct = s.IntegerField(help_text="How many different values it has")
    examples = s.ListField(child=s.CharField(), help_text="Some of them, the most frequent first")


class ProposedRecipe(s.Serializer):
    """Places in which facts stand on the pages of a site."""

    proposed = ProposedPlace(many=True, help_text="The most telling of each fact first")
    asked = s.IntegerField(help_text="On how many pages it was looked")
