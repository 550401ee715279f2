"""The shapes of pages and their taking-in, on the wire."""

from rest_framework import serializers as s


class LiveInfo(s.Serializer):
    number = s.IntegerField()
    published = s.DateTimeField()
    note = s.CharField()


class KindCount(s.Serializer):
    name = s.CharField()
    pages = s.IntegerField()


class SiteShort(s.Serializer):
    slug = s.CharField()
    name = s.CharField()


class SiteInfo(s.Serializer):
    slug = s.CharField()
    name = s.CharField()
    base_url = s.CharField(allow_blank=True)
    language = s.CharField()
    roles = s.ListField(child=s.CharField())
    default_template = s.CharField(allow_blank=True)
    version = s.IntegerField()
    inventory_version = s.IntegerField()
    pages = s.IntegerField()
    gone = s.IntegerField()
    kinds = KindCount(many=True)
    types = KindCount(many=True)
    slots = s.ListField(child=s.CharField())
    edits = s.IntegerField(help_text="Parts in which the draft differs from the live state")
    live = LiveInfo(allow_null=True)
    unreadable = s.ListField(
        child=s.IntegerField(), help_text="Revisions newer than the one that is served, which cannot be read"
    )
    published_origin = s.CharField()


class PageTree(s.Serializer):
    """The pages in tree order, a list a fact; a page's number is its place in each."""

    total = s.IntegerField()
    inventory_version = s.IntegerField()
    paths = s.ListField(child=s.CharField())
    titles = s.ListField(child=s.CharField())
    kinds = s.ListField(child=s.CharField())
    types = s.ListField(child=s.CharField())
    depths = s.ListField(child=s.IntegerField())


class PageFacts(s.Serializer):
    path = s.CharField()
    title = s.CharField()
    kind = s.CharField()
    type = s.CharField(allow_blank=True)
    parent = s.CharField(allow_null=True)
    terms = s.ListField(child=s.CharField())
    lists = s.CharField(allow_blank=True)
    author = s.CharField(allow_blank=True)
    language = s.CharField()
    published = s.DateField(allow_null=True)
    words = s.IntegerField()
    extra = s.DictField(child=s.CharField(), help_text="The free fields")
    slots = s.ListField(child=s.CharField())
    locks = s.ListField(child=s.CharField())


class SearchResult(s.Serializer):
    """The numbers of the pages that a search finds; ``condition`` is its normal form where a rule can have it."""

    condition = s.CharField(allow_blank=True)
    total = s.IntegerField()
    numbers = s.ListField(child=s.IntegerField())


class Choice(s.Serializer):
    """A value that a fact can take here. ``text`` is ready to stand in a query."""

    text = s.CharField()
    label = s.CharField()
    about = s.CharField(allow_blank=True)
    pages = s.IntegerField()


class CompletionRequest(s.Serializer):
    text = s.CharField(allow_blank=True, max_length=200_000, trim_whitespace=False)
    caret = s.IntegerField(min_value=0, help_text="Counted from 0, in characters")
    domain = s.ChoiceField(choices=["page", "visitor"])


class Offer(s.Serializer):
    """One thing to write at the caret."""

    insert = s.CharField()
    label = s.CharField()
    about = s.CharField(allow_blank=True)
    pages = s.IntegerField(allow_null=True, help_text="Pages that the term would match; null in a visitor query")


class CompletionInfo(s.Serializer):
    start = s.IntegerField()
    end = s.IntegerField()
    what = s.ChoiceField(choices=["fact", "value"])
    offers = Offer(many=True)


class IntakeInfo(s.Serializer):
    id = s.IntegerField()
    files = s.IntegerField()


class FileNote(s.Serializer):
    file = s.CharField()
    reason = s.CharField()


class IntakeReport(s.Serializer):
    pages = s.IntegerField()
    added = s.IntegerField()
    updated = s.IntegerField()
    returned = s.IntegerField()
    gone = s.IntegerField()
    skipped_count = s.IntegerField()
    skipped = FileNote(many=True)
    remark_count = s.IntegerField()
    remarks = FileNote(many=True)


class IntakeRecord(s.Serializer):
    id = s.IntegerField()
    finished = s.DateTimeField()
    by = s.CharField(allow_null=True)
    report = IntakeReport()


class FilesRequest(s.Serializer):
    files = s.ListField(child=s.FileField(allow_empty_file=True), max_length=200)
    names = s.ListField(child=s.CharField(max_length=1000), max_length=200)
    too_large = s.ListField(child=s.CharField(max_length=1000), max_length=200, required=False)
