"""The shapes of rules, layouts, traces and reach, on the wire."""

from rest_framework import serializers as s

DOINGS = ["fill", "empty", "prepend", "append", "use", "set"]


class ActionTree(s.Serializer):
    do = s.ChoiceField(choices=DOINGS)
    slot = s.CharField(required=False)
    piece = s.CharField(required=False)
    template = s.CharField(required=False)
    exclusive = s.BooleanField(required=False)
    setting = s.CharField(required=False)
    value = s.JSONField(required=False)


class VisitorsTree(s.Serializer):
    include = s.CharField(required=False, allow_blank=True)
    exclude = s.CharField(required=False, allow_blank=True)


class RepeatsTree(s.Serializer):
    """Occurrences: an RRULE of RFC 5545, the local date-time of the first, and an ISO 8601 duration."""

    rrule = s.CharField(allow_blank=True)
    start = s.CharField(allow_blank=True)
    duration = s.CharField(allow_blank=True)


ScheduleTree = type(
    "ScheduleTree",
    (s.Serializer,),
    {
        "__doc__": "When a condition holds: local date-times in the site's time zone.",
        "from": s.CharField(required=False, allow_blank=True),
        "until": s.CharField(required=False, allow_blank=True),
        "repeats": RepeatsTree(required=False),
    },
)


class ConditionTree(s.Serializer):
    include = s.CharField(required=False, allow_blank=True)
    exclude = s.CharField(required=False, allow_blank=True)
    visitors = VisitorsTree(required=False)
    schedule = ScheduleTree(required=False)


class RuleTree(s.Serializer):
    """A rule as it stands in the layout file."""

    name = s.CharField(allow_blank=True)
    note = s.CharField(required=False, allow_blank=True)
    on = s.BooleanField(required=False)
    priority = s.IntegerField(required=False)
    condition = ConditionTree(required=False)
    actions = ActionTree(many=True, required=False)


class TargetWins(s.Serializer):
    target = s.CharField()
    pages = s.IntegerField(help_text="Pages where it decides or adds, and that is to be seen")
    no_place = s.IntegerField(help_text="Pages where it decides or adds, but the slot has no place")
    templates = s.ListField(child=s.CharField(), help_text="Templates in which the slot has a place")


class RuleRow(s.Serializer):
    """A rule in the list, with how far it reaches through the lens."""

    id = s.IntegerField()
    version = s.IntegerField()
    place = s.IntegerField()
    rule = RuleTree()
    reach = s.IntegerField()
    wins = s.IntegerField(help_text="Pages where it decides or adds to at least one target, to be seen")
    no_place = s.IntegerField(help_text="Further pages where it decides or adds, but nothing of it is to be seen")
    pin = s.CharField(allow_null=True, help_text="The page that the rule is a pin on; null for other rules")
    by_target = TargetWins(many=True)
    let_in = s.BooleanField(help_text="Whether the lens is let through")
    specificity = s.ListField(child=s.IntegerField())
    specificity_on = s.ChoiceField(choices=["all", "most", "none"])


class SavedRule(s.Serializer):
    id = s.IntegerField()
    version = s.IntegerField()
    place = s.IntegerField()
    rule = RuleTree()


class PlaceRequest(s.Serializer):
    place = s.IntegerField(min_value=1)


class OutcomeInfo(s.Serializer):
    state = s.ChoiceField(choices=["filled", "empty", "unset", "locked"])
    pieces = s.ListField(child=s.CharField())
    by = s.IntegerField(allow_null=True, help_text="The id of the deciding rule")
    value = s.JSONField(allow_null=True, help_text="Of a setting, its value; null for all else")


class TargetColumn(s.Serializer):
    """One target over all pages: ``codes`` gives for each page number a place in ``outcomes``."""

    target = s.CharField()
    codes = s.ListField(child=s.IntegerField())
    outcomes = OutcomeInfo(many=True)
    unseated = s.ListField(child=s.IntegerField(), help_text="Pages where it shows something that has no place")


class LayoutInfo(s.Serializer):
    version = s.IntegerField()
    columns = TargetColumn(many=True)


class StrengthInfo(s.Serializer):
    priority = s.IntegerField()
    specificity = s.ListField(child=s.IntegerField())
    place = s.IntegerField()


class TraceEntry(s.Serializer):
    rule = s.IntegerField()
    name = s.CharField()
    place = s.IntegerField()
    action = ActionTree()
    state = s.ChoiceField(
        choices=["won", "added", "outranked", "cleared", "duplicate", "excluded", "not-included", "visitor", "time",
                 "off", "locked"]
    )  # fmt: skip
    strength = StrengthInfo(allow_null=True)
    by = s.CharField(allow_null=True)
    on = s.ChoiceField(choices=["priority", "specificity", "order"], allow_null=True)
    clause = s.CharField(allow_blank=True)
    next_start = s.CharField(allow_null=True, help_text="When a rule that is not in force will be, local date-time")
    ends = s.CharField(allow_null=True, help_text="When the schedule of a rule in force ends, local date-time")
    include = s.CharField(allow_blank=True)


class ObstacleInfo(s.Serializer):
    """A rule that a pin here would not beat, on what, and for whom and when in words."""

    rule = s.IntegerField()
    name = s.CharField()
    action = ActionTree()
    on = s.ChoiceField(choices=["priority", "specificity", "order"])
    words = s.CharField()


class PinInfo(s.Serializer):
    """What is pinned on this target, and what would stand in the way of a choice here."""

    rule = s.IntegerField(allow_null=True)
    action = ActionTree(allow_null=True)
    locked = s.BooleanField()
    owner = s.CharField(allow_blank=True, help_text="Who owns a locked slot, where that is known")
    why = s.CharField(allow_blank=True)
    wins = s.BooleanField(help_text="Whether a pin of usual priority would decide for somebody at some time")
    deciders = ObstacleInfo(many=True, help_text="Would decide instead")
    additions = ObstacleInfo(many=True, help_text="Would be shown beside it, also where it leaves the slot empty")
    priority = s.IntegerField(allow_null=True, help_text="The lowest that beats all deciders")
    clearing = s.IntegerField(allow_null=True, help_text="The lowest that beats all additions too")
    told = s.BooleanField(help_text="False where there are too many combinations of visitors to tell")


class PinRequest(s.Serializer):
    path = s.CharField(max_length=1000)
    action = ActionTree()
    priority = s.IntegerField(required=False, allow_null=True, min_value=-1000, max_value=1000)


class LensFacts(s.Serializer):
    """Everything that can be so about a visitor."""

    signed = s.ChoiceField(choices=["in", "out"])
    roles = s.ListField(child=s.CharField(max_length=200), max_length=100)
    device = s.ChoiceField(choices=["phone", "tablet", "desktop"])
    browser = s.ChoiceField(choices=["chrome", "edge", "firefox", "safari", "other"])
    accepts = s.ListField(child=s.CharField(max_length=100), max_length=20, help_text="Language tags, best first")
    query = s.DictField(child=s.CharField(max_length=500, allow_blank=True))
    referrer = s.CharField(allow_blank=True, max_length=253)


class LensRequest(s.Serializer):
    """Either the visitor as terms, or its facts."""

    visitor = s.CharField(required=False, allow_blank=True, max_length=5000)
    facts = LensFacts(required=False)
    at = s.CharField(required=False, allow_blank=True)


class LensInfo(s.Serializer):
    visitor = s.CharField(allow_blank=True, help_text="The visitor as terms, in their normal form")
    facts = LensFacts()
    words = s.ListField(child=s.CharField(), help_text="The visitor in words, the most telling first")
    at = s.CharField(allow_blank=True)


class TraceInfo(s.Serializer):
    path = s.CharField()
    title = s.CharField()
    target = s.CharField()
    outcome = OutcomeInfo()
    by = s.CharField(allow_null=True)
    seated = s.BooleanField()
    alone = s.BooleanField(help_text="Whether no other rule acts on this here, for any visitor at any time")
    templates = s.ListField(child=s.CharField(), help_text="Templates in which the slot has a place")
    pin = PinInfo()
    decisive = s.ChoiceField(choices=["priority", "specificity", "order"], allow_null=True)
    runner_up = s.CharField(allow_null=True)
    default_template = s.BooleanField()
    entries = TraceEntry(many=True)


class ReachRequest(s.Serializer):
    rule = RuleTree()
    id = s.IntegerField(required=False, allow_null=True)
    visitor = s.CharField(required=False, allow_blank=True)
    at = s.CharField(required=False, allow_blank=True)
    target = s.CharField(required=False, allow_blank=True)


class ReachPage(s.Serializer):
    path = s.CharField()
    title = s.CharField()
    state = s.ChoiceField(
        choices=[
            "wins",
            "adds",
            "no-place",
            "outranked",
            "cleared",
            "duplicate",
            "locked",
            "excluded",
            "gone",
            "reached",
        ]
    )
    by = s.CharField(allow_blank=True)
    on = s.CharField(allow_blank=True)
    new = s.BooleanField()


class NearMissInfo(s.Serializer):
    path = s.CharField()
    title = s.CharField()
    term = s.CharField()


class ReachInfo(s.Serializer):
    reached = s.IntegerField()
    wins = s.IntegerField()
    no_place = s.IntegerField()
    by_target = TargetWins(many=True)
    excluded = s.IntegerField()
    new = s.IntegerField(help_text="Pages reached that the saved rule does not reach")
    gone = s.IntegerField(help_text="Pages that the saved rule reaches and this one does not")
    pages = ReachPage(many=True)
    nearly = NearMissInfo(many=True)
    let_in = s.BooleanField()
    specificity = s.ListField(child=s.IntegerField())
    specificity_on = s.ChoiceField(choices=["all", "most", "none"])


class QueryRequest(s.Serializer):
    text = s.CharField(allow_blank=True, max_length=200_000, trim_whitespace=False)
    domain = s.ChoiceField(choices=["page", "visitor", "search"])


class TermInfo(s.Serializer):
    fact = s.CharField()
    key = s.CharField(allow_blank=True)
    values = s.ListField(child=s.CharField())
    negated = s.BooleanField()
    text = s.CharField()
    column = s.IntegerField()
    length = s.IntegerField()
    pages = s.IntegerField(help_text="Pages on which the term holds; 0 for visitors")


class QueryProblem(s.Serializer):
    message = s.CharField()
    hint = s.CharField(allow_blank=True)
    column = s.IntegerField()
    length = s.IntegerField()
    code = s.CharField()


class QueryInfo(s.Serializer):
    normal = s.CharField(allow_blank=True)
    clauses = s.ListField(child=TermInfo(many=True))
    pages = s.IntegerField()
    problem = QueryProblem(allow_null=True)


class SuggestRequest(s.Serializer):
    paths = s.ListField(child=s.CharField(max_length=1000), max_length=5000)


class SuggestionInfo(s.Serializer):
    include = s.CharField()
    exclude = s.CharField(allow_blank=True)
    adds = s.IntegerField(help_text="Pages that it would add to those picked")
    misses = s.IntegerField(help_text="Picked pages that it leaves out")
    examples = s.ListField(child=s.CharField())
    lasting = s.BooleanField()
