"""The shapes of queries, their values, visitors and suggestions, on the wire."""

from rest_framework import serializers as s

from navrel.server.api.shapes import BITS, PageRow, ScheduleTree

MAX_TEXT = 200_000


class ValueTree(s.Serializer):
    """One value of a term."""

    text = s.CharField(allow_blank=True, max_length=1000, trim_whitespace=False, help_text="The value as it is meant")
    wild = s.BooleanField(required=False, help_text="Whether it ends in a wildcard")


class TermTree(s.Serializer):
    """One term of a clause, in its parts."""

    fact = s.CharField(max_length=100, help_text="What it asks about")
    key = s.CharField(required=False, allow_blank=True, max_length=200, help_text="Which field, or which parameter")
    values = ValueTree(many=True, help_text="The values, any of which will do")
    negated = s.BooleanField(required=False, help_text="Whether it has to be otherwise")


class ClauseTree(s.Serializer):
    """Terms that have to hold together."""

    terms = TermTree(many=True, help_text="The terms")


class QueryRequest(s.Serializer):
    """A query, as a text or in its parts."""

    text = s.CharField(
        required=False, allow_blank=True, max_length=MAX_TEXT, trim_whitespace=False, help_text="The query as a text"
    )
    clauses = ClauseTree(many=True, required=False, help_text="Or its clauses, to be written as a text")
    domain = s.ChoiceField(
        choices=["page", "visitor", "search"], help_text="What it is about; a search may have bare words"
    )


class OppositeRequest(s.Serializer):
    """An include and an exclude that are to be turned round."""

    include = s.CharField(allow_blank=True, max_length=MAX_TEXT, help_text="What is reached")
    exclude = s.CharField(allow_blank=True, max_length=MAX_TEXT, help_text="What is taken out again")
    domain = s.ChoiceField(choices=["page", "visitor"], help_text="What they are about")
    empty_is_all = s.BooleanField(
        required=False, default=False, help_text="Whether an empty include means all, as in a sidebar's entry"
    )


class OppositeInfo(s.Serializer):
    """The include and exclude that match exactly where the others do not."""

    include = s.CharField(allow_blank=True, help_text="What is reached")
    exclude = s.CharField(allow_blank=True, help_text="What is taken out again")


class TermInfo(s.Serializer):
    """One term of a query that was read."""

    fact = s.CharField(help_text="What it asks about")
    key = s.CharField(allow_blank=True, help_text="Which field, or which parameter")
    values = ValueTree(many=True, help_text="The values, any of which will do")
    names = s.ListField(child=s.CharField(), help_text="What people call each value: titles, names")
    negated = s.BooleanField(help_text="Whether it has to be otherwise")
    text = s.CharField(help_text="The term without its negation, as a text")
    column = s.IntegerField(help_text="Where in the text it stands, from 1")
    length = s.IntegerField(help_text="How many characters it takes")
    pages = s.IntegerField(help_text="Pages on which it holds; 0 for visitors")


class QueryProblem(s.Serializer):
    """Why a query cannot be read."""

    message = s.CharField(help_text="What is wrong")
    hint = s.CharField(allow_blank=True, help_text="What to write instead")
    column = s.IntegerField(help_text="Where in the text, from 1")
    length = s.IntegerField(help_text="How many characters are concerned")
    code = s.CharField(help_text="What is wrong, for machines")


class QueryInfo(s.Serializer):
    """A query that was read, or what is wrong with it."""

    normal = s.CharField(allow_blank=True, help_text="Its normal form; empty where it cannot be read")
    clauses = s.ListField(child=TermInfo(many=True), help_text="Its terms, clause by clause")
    pages = s.IntegerField(help_text="Pages that it matches; 0 for visitors")
    problem = QueryProblem(allow_null=True, help_text="What is wrong with it; null where nothing is")


class SearchResult(s.Serializer):
    """The pages that a search finds."""

    condition = s.CharField(allow_blank=True, help_text="Its normal form where a rule can have it, else empty")
    total = s.IntegerField(help_text="Pages in all")
    pages = s.CharField(allow_blank=True, help_text=BITS)


class ChoiceInfo(s.Serializer):
    """A value that a fact can take here."""

    text = s.CharField(help_text="The value, ready to stand in a query")
    label = s.CharField(help_text="The value as people call it")
    about = s.CharField(allow_blank=True, help_text="What there is to say of it")
    pages = s.IntegerField(help_text="Pages on which it holds; 0 for visitors")
    wild = s.BooleanField(help_text="Whether it ends in a wildcard")


class ChoicesInfo(s.Serializer):
    """The values that fit."""

    items = ChoiceInfo(many=True, help_text="The values, best first; fifty at most")
    more = s.BooleanField(help_text="Whether there are more")


class CompletionRequest(s.Serializer):
    """A query text that is being written."""

    text = s.CharField(
        allow_blank=True, max_length=MAX_TEXT, trim_whitespace=False, help_text="The text, which need not be whole"
    )
    caret = s.IntegerField(min_value=0, help_text="Where the caret stands, from 0, in characters")
    domain = s.ChoiceField(choices=["page", "visitor"], help_text="What the query is about")


class OfferInfo(s.Serializer):
    """One thing to write at the caret."""

    insert = s.CharField(help_text="What to put there")
    label = s.CharField(help_text="What people call it")
    about = s.CharField(allow_blank=True, help_text="What there is to say of it")
    pages = s.IntegerField(allow_null=True, help_text="Pages that the term would match; null in a visitor query")


class CompletionInfo(s.Serializer):
    """What fits at the caret."""

    start = s.IntegerField(help_text="Where the part begins that an offer takes the place of")
    end = s.IntegerField(help_text="Where it ends")
    what = s.ChoiceField(choices=["fact", "value"], help_text="What is being written there")
    offers = OfferInfo(many=True, help_text="What fits, best first; fifty at most")


class LensFacts(s.Serializer):
    """Everything that can be so about a visitor."""

    signed = s.ChoiceField(choices=["in", "out"], help_text="Whether signed in")
    roles = s.ListField(child=s.CharField(max_length=200), max_length=100, help_text="The roles held when signed in")
    device = s.ChoiceField(choices=["phone", "tablet", "desktop"], help_text="The kind of device")
    browser = s.ChoiceField(choices=["chrome", "edge", "firefox", "safari", "other"], help_text="The browser")
    accepts = s.ListField(child=s.CharField(max_length=100), max_length=20, help_text="Language tags, best first")
    query = s.DictField(
        child=s.CharField(max_length=500, allow_blank=True), help_text="Parameters in the page's address"
    )
    referrer = s.CharField(allow_blank=True, max_length=253, help_text="The host that the visitor came from")


class LensRequest(s.Serializer):
    """A lens: the visitor as terms or by facts, and the moment."""

    visitor = s.CharField(required=False, allow_blank=True, max_length=5000, help_text="The visitor as terms")
    facts = LensFacts(required=False, help_text="Or everything that is so about the visitor")
    at = s.CharField(required=False, allow_blank=True, max_length=40, help_text="A local date-time; empty for now")


class LensInfo(s.Serializer):
    """A lens that was read."""

    visitor = s.CharField(allow_blank=True, help_text="The visitor as terms, in their normal form")
    facts = LensFacts(help_text="Everything that is so about the visitor")
    words = s.ListField(child=s.CharField(), help_text="The visitor in words, the most telling first")
    at = s.CharField(allow_blank=True, help_text="The moment; empty for now")


class ScheduleRequest(s.Serializer):
    """A schedule as it is being edited."""

    schedule = ScheduleTree(help_text="When, as it stands in the layout file")


class SpanInfo(s.Serializer):
    """A time in force."""

    start = s.CharField(help_text="From when on, a local date-time")
    end = s.CharField(allow_null=True, help_text="Until when; null where it never ends")


class ScheduleInfo(s.Serializer):
    """A schedule as it was read."""

    words = s.CharField(help_text="When it is in force, in words; empty where it cannot be read")
    spans = SpanInfo(many=True, help_text="The next times in force, from today on; sixty at most")
    more = s.BooleanField(help_text="Whether there are more than those")


class SuggestionInfo(s.Serializer):
    """A condition that the picked pages have in common."""

    include = s.CharField(help_text="Which pages it reaches")
    exclude = s.CharField(allow_blank=True, help_text="Which it takes out again")
    words = s.CharField(help_text="Which pages that are, in words that follow `pages`")
    adds = s.IntegerField(help_text="Pages that it would add to those picked")
    misses = s.IntegerField(help_text="Picked pages that it leaves out")
    examples = PageRow(many=True, help_text="The first eight of the pages it would add")
    added = s.ListField(child=s.IntegerField(), help_text="The numbers of the first 500 pages that it would add")
    missed = s.ListField(child=s.IntegerField(), help_text="The numbers of the first 500 that it leaves out")
    lasting = s.BooleanField(help_text="Whether it meets later pages like these too")


class SuggestionsInfo(s.Serializer):
    """Conditions that picked pages have in common."""

    items = SuggestionInfo(many=True, help_text="The conditions, best first; five at most")
