"""The shapes that answers of several rooms share: errors, outcomes, pages, and the trees of the layout file."""

from rest_framework import serializers as s

from navrel.core.layout.model import PIECE_KINDS, SETTING_TYPES

DOINGS = ["fill", "empty", "prepend", "append", "use", "set"]
#: How sets of pages are told: by one bit for each page, however many there are in it.
BITS = "The pages in it, by one bit for each in tree order, the highest of a byte first, in base64 (RFC 4648)"
DECISIVE = ["priority", "specificity", "order"]


class SingleProblem(s.Serializer):
    """One thing that is wrong with a request. Every part of it is a field of its own, to be worded by whoever asks."""

    pointer = s.CharField(allow_blank=True, help_text="Where in the body it stands, as a JSON Pointer (RFC 6901)")
    parameter = s.CharField(allow_blank=True, help_text="Or which parameter of the address, or which header, has it")
    message = s.CharField(help_text="What is wrong, for people")
    hint = s.CharField(allow_blank=True, help_text="What to write instead, where that can be said")
    code = s.CharField(help_text="What is wrong, for machines")
    column = s.IntegerField(help_text="Where in a text it begins, from 1; 0 where that says nothing")
    length = s.IntegerField(help_text="How many characters of the text are concerned; 0 where that says nothing")


class ProblemDetails(s.Serializer):
    """An error (RFC 9457)."""

    type = s.CharField(help_text="A URI of this kind of error")
    title = s.CharField(help_text="What is wrong, in one sentence")
    status = s.IntegerField(help_text="The status of the answer")
    detail = s.CharField(allow_blank=True, help_text="What to do about it, where that can be said")
    code = s.CharField(help_text="This kind of error, for machines")
    problems = SingleProblem(many=True, help_text="The single problems where there are several places; 100 at most")
    theirs = s.DictField(required=False, help_text="With 412: what stands there now, made by somebody else")
    version = s.IntegerField(required=False, help_text="With 412: the version of that")
    uses = s.ListField(child=s.DictField(), required=False, help_text="With 409: what uses a piece")


class PageRow(s.Serializer):
    """A page as lists name it."""

    path = s.CharField(help_text="Its path")
    title = s.CharField(help_text="Its title")


class Somewhere(s.Serializer):
    """Pages: how many, and the first of them by path."""

    pages = s.IntegerField(help_text="How many pages")
    paths = s.ListField(child=s.CharField(), help_text="The first two hundred of their paths")


class OutcomeInfo(s.Serializer):
    """What a target of a page comes to."""

    state = s.ChoiceField(
        choices=["filled", "empty", "unset", "locked"],
        help_text="Whether something stands there, it is left empty, no rule says anything, or another system owns it",
    )
    pieces = s.ListField(child=s.CharField(), help_text="The slugs of the pieces that stand there, in order")
    by = s.IntegerField(allow_null=True, help_text="The id of the deciding rule; null where none decides")
    value = s.JSONField(help_text="Of a setting, its value; null for all else")
    own_at = s.IntegerField(
        allow_null=True,
        help_text="Of a slot to which pieces are only added, how many of them stand before what a page in its own HTML "
        "has there; null where something fills it, or nothing is added",
    )


class ActionTree(s.Serializer):
    """One thing that a rule does, as it stands in the layout file."""

    do = s.ChoiceField(choices=DOINGS, help_text="What is done")
    slot = s.CharField(required=False, help_text="The slot that it is done to")
    piece = s.CharField(required=False, help_text="The slug of the piece that is put there")
    template = s.CharField(required=False, help_text="The slug of the template that is used")
    exclusive = s.BooleanField(required=False, help_text="Whether weaker additions are dropped")
    setting = s.CharField(required=False, help_text="The setting that is set")
    value = s.JSONField(required=False, help_text="The value that it is set to")


class PathsRequest(s.Serializer):
    """Some pages, such as those that were picked."""

    paths = s.ListField(child=s.CharField(max_length=1000), max_length=5000, help_text="Their paths")


class LensedRequest(s.Serializer):
    """A question that is asked through a lens."""

    visitor = s.CharField(required=False, allow_blank=True, max_length=5000, help_text="The visitor as terms")
    at = s.CharField(required=False, allow_blank=True, max_length=40, help_text="A local date-time; empty for now")


class SettingTree(s.Serializer):
    """A page setting that the site declares, as it stands in the layout file."""

    name = s.CharField(help_text="Its name: lower-case letters, digits and hyphens")
    type = s.ChoiceField(choices=SETTING_TYPES, help_text="What values it takes")
    choices = s.ListField(child=s.CharField(), required=False, help_text="Of a choice: its values")
    default = s.JSONField(required=False, help_text="Its value on pages where no rule sets it")
    help = s.CharField(required=False, allow_blank=True, help_text="What it is for")


class DressTree(s.Serializer):
    """A dress, as it stands in the layout file: what differs from the usual."""

    slug = s.CharField(help_text="Its slug, a value of the setting `dress`")
    name = s.CharField(required=False, help_text="Its name")
    colours = s.DictField(child=s.CharField(), required=False, help_text="Colours, # and hexadecimal digits, by name")
    dark = s.DictField(child=s.CharField(), required=False, help_text="Colours for devices that ask for dark pages")
    fonts = s.DictField(child=s.CharField(), required=False, help_text="For text and for headings: family or font file")
    measures = s.DictField(child=s.FloatField(), required=False, help_text="Measures by name")


class VisitorsTree(s.Serializer):
    """For whom a condition holds; an empty include means everyone."""

    include = s.CharField(required=False, allow_blank=True, help_text="A query about visitors: who is let through")
    exclude = s.CharField(required=False, allow_blank=True, help_text="A query about visitors: who is not")


class RepeatsTree(s.Serializer):
    """Times that come again."""

    rrule = s.CharField(allow_blank=True, help_text="An RRULE of RFC 5545, without its name")
    start = s.CharField(allow_blank=True, help_text="The first time, a local date-time")
    duration = s.CharField(allow_blank=True, help_text="How long each lasts, an ISO 8601 duration")


ScheduleTree = type(
    "ScheduleTree",
    (s.Serializer,),
    {
        "__doc__": "When a condition holds, in the site's time zone.",
        "from": s.CharField(required=False, allow_blank=True, help_text="From when on, a local date-time"),
        "until": s.CharField(required=False, allow_blank=True, help_text="Until when, a local date-time"),
        "repeats": RepeatsTree(required=False, help_text="Only at times that come again"),
    },
)


class ConditionTree(s.Serializer):
    """Where, for whom and when something holds, as it stands in the layout file."""

    include = s.CharField(required=False, allow_blank=True, help_text="A query about pages: which are reached")
    exclude = s.CharField(required=False, allow_blank=True, help_text="A query about pages: which are taken out again")
    visitors = VisitorsTree(required=False, help_text="For whom")
    schedule = ScheduleTree(required=False, help_text="When")


class RuleTree(s.Serializer):
    """A rule as it stands in the layout file."""

    name = s.CharField(allow_blank=True, help_text="Its name, one on the site")
    note = s.CharField(required=False, allow_blank=True, help_text="Why it is there")
    on = s.BooleanField(required=False, help_text="Whether it is in force")
    priority = s.IntegerField(required=False, help_text="From -1000 to 1000; the higher wins")
    condition = ConditionTree(required=False, help_text="Where, for whom and when")
    actions = ActionTree(many=True, required=False, help_text="What it does")


class EntryTree(s.Serializer):
    """A widget in a sidebar."""

    piece = s.CharField(help_text="The slug of the widget")
    condition = ConditionTree(required=False, help_text="Where, for whom and when it shows; everywhere where empty")
    note = s.CharField(required=False, allow_blank=True, help_text="Why it is there")
    on = s.BooleanField(required=False, help_text="Whether it shows at all")


class PieceTree(s.Serializer):
    """A piece as it stands in the layout file, without its slug."""

    name = s.CharField(allow_blank=True, help_text="Its name, one of its kind on the site")
    kind = s.ChoiceField(choices=PIECE_KINDS, help_text="Its kind, which stays for life")
    note = s.CharField(required=False, allow_blank=True, help_text="What it is for")
    content = s.DictField(required=False, help_text="What it is made of: items, and a look")
    slots = s.ListField(
        child=s.CharField(),
        required=False,
        allow_null=True,
        help_text="The slots it holds. Of a template: absent or null are the ten standard ones, an empty list is none",
    )
    entries = EntryTree(many=True, required=False, help_text="Of a sidebar: the widgets in it")


class LostInfo(s.Serializer):
    """Something that no piece may hold."""

    what = s.CharField(help_text="An element by its name, an attribute as in `a[onclick]`, or in words")
    count = s.IntegerField(help_text="How many of it")


class PieceInfo(PieceTree):
    """A piece of a site."""

    slug = s.CharField(help_text="Its slug, made from its first name, which stays for life")
    version = s.IntegerField(help_text="Its version, as in the ETag")
    colour = s.CharField(help_text="The colour that it has everywhere in the interface")
    origin = s.CharField(help_text="The slug of the piece that it began as a copy of; empty for none")


class PieceRow(PieceInfo):
    """A piece in the list of pieces."""

    uses = s.IntegerField(help_text="Rules, sidebars, other pieces and the site, as far as they name it")
