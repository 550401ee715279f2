"""The shapes of rules, pins and reach, on the wire."""

from rest_framework import serializers as s

from navrel.core.questions.checks import SEVERITIES
from navrel.server.api.shapes import DECISIVE, ActionTree, LensedRequest, PageRow, RuleTree


class SavedRule(s.Serializer):
    """A rule as it is kept."""

    id = s.IntegerField(help_text="Its id")
    version = s.IntegerField(help_text="Its version, as in the ETag")
    position = s.IntegerField(help_text="Where it stands in cascade order, from 1")
    rule = RuleTree(help_text="The rule itself")


class TargetMeasures(s.Serializer):
    """How far a rule gets with one of its targets."""

    target = s.CharField(help_text="The target")
    pages = s.IntegerField(help_text="Pages where it decides or adds, and that is to be seen")
    unplaced = s.IntegerField(help_text="Pages where it decides or adds, but the slot has no place")
    unbound = s.IntegerField(help_text="Of these, pages in their own HTML, no element of which is bound to the slot")
    templates = s.ListField(child=s.CharField(), help_text="Templates in which the slot has a place")


class Measures(s.Serializer):
    """How far a rule gets, through a lens."""

    wins = s.IntegerField(help_text="Pages where it decides or adds to at least one target, to be seen")
    unplaced = s.IntegerField(help_text="Further pages where it decides or adds, but nothing of it is to be seen")
    by_target = TargetMeasures(many=True, help_text="The same for each of its targets")
    lets_in = s.BooleanField(help_text="Whether it lets the lens through")
    specificity = s.ListField(child=s.IntegerField(), help_text="Its four counts, on most of its pages")
    specificity_on = s.ChoiceField(choices=["all", "most", "none"], help_text="On how many of its pages it is that")


class RuleRow(SavedRule, Measures):
    """A rule in the list of rules."""

    reach = s.IntegerField(help_text="Pages that its include matches and its exclude does not")
    pin = s.CharField(allow_null=True, help_text="The page that it is a pin on; null for other rules")
    where = s.CharField(allow_blank=True, help_text="On which pages, in words that follow `pages`; empty for none")
    who = s.CharField(help_text="For whom and when, in words")


class PagesRequest(s.Serializer):
    """Single pages that come into the reach of a rule, or leave it."""

    paths = s.ListField(child=s.CharField(max_length=1000), min_length=1, max_length=5000, help_text="Their paths")
    do = s.ChoiceField(choices=["add", "leave-out"], help_text="Whether the rule is to reach them, or not")


class ReachingInfo(s.Serializer):
    """A rule, and how many of some pages it reaches."""

    id = s.IntegerField(help_text="The id of the rule")
    pages = s.IntegerField(help_text="How many of the pages its include matches and its exclude does not")


class SeveralRequest(s.Serializer):
    """The same done to several rules."""

    ids = s.ListField(child=s.IntegerField(), min_length=1, max_length=500, help_text="Their ids")
    do = s.ChoiceField(choices=["switch-on", "switch-off", "prioritise", "remove"], help_text="What is done")
    priority = s.IntegerField(
        required=False, min_value=-1000, max_value=1000, help_text="The priority that they get, where that is done"
    )


class SeveralInfo(s.Serializer):
    """What was done to several rules."""

    rules = s.IntegerField(help_text="How many rules are otherwise now")


class MoveRequest(s.Serializer):
    """Where a rule is to stand."""

    position = s.IntegerField(min_value=1, help_text="The position in cascade order, from 1")
    priority = s.IntegerField(
        required=False, allow_null=True, min_value=-1000, max_value=1000,
        help_text="The priority that it gets on the way; its own when not given",
    )  # fmt: skip


class ReplaceRequest(s.Serializer):
    """What takes the place of a piece."""

    by = s.CharField(max_length=80, help_text="The slug of the other piece, of the same kind")


class Replaced(s.Serializer):
    """What came of it."""

    uses = s.IntegerField(help_text="In how many rules, sidebars and pieces")


class VaryRequest(s.Serializer):
    """Where a piece is to be the page's own."""

    path = s.CharField(max_length=1000, help_text="The page")
    target = s.CharField(max_length=200, help_text="The slot, or `template`")


class PinRequest(s.Serializer):
    """A choice for one page."""

    path = s.CharField(max_length=1000, help_text="The page")
    action = ActionTree(help_text="What is to be done there")
    priority = s.IntegerField(
        required=False, allow_null=True, min_value=-1000, max_value=1000,
        help_text="Its priority; that of the choice it replaces, or 0, when not given",
    )  # fmt: skip


class PinAllRequest(s.Serializer):
    """One choice for several pages, each alone."""

    paths = s.ListField(child=s.CharField(max_length=1000), min_length=1, max_length=100, help_text="The pages")
    action = ActionTree(help_text="What is to be done on each")


class PinnedInfo(s.Serializer):
    """What was pinned."""

    pages = s.IntegerField(help_text="On how many pages")


class EditedRuleRequest(LensedRequest):
    """A rule that is being edited."""

    rule = RuleTree(help_text="The rule as it stands in the editor")
    id = s.IntegerField(required=False, allow_null=True, help_text="The saved rule it came from; none for a new one")


class ReachRequest(EditedRuleRequest):
    """A rule that is being edited, and what is asked of it."""

    target = s.CharField(
        required=False, allow_blank=True, max_length=200, help_text="For which of its targets; all when not given"
    )
    path = s.CharField(required=False, allow_blank=True, max_length=1000, help_text="A page to be tested against it")


class MendingInfo(s.Serializer):
    """The change of an edited rule after which a finding is gone."""

    words = s.CharField(help_text="What is changed, in words")
    tree = RuleTree(help_text="The rule as it would be")


class JudgementInfo(s.Serializer):
    """What the checks find about an edited rule."""

    check = s.CharField(help_text="The kind of finding")
    severity = s.ChoiceField(choices=SEVERITIES, help_text="How bad it is")
    what = s.CharField(help_text="What is the matter")
    why = s.CharField(help_text="Why")
    mend = s.CharField(help_text="How to mend it")
    mending = MendingInfo(allow_null=True, help_text="What one click would do about it; none where there are choices")


class TrialRequest(s.Serializer):
    """A rule as it would be."""

    rule = RuleTree(help_text="The rule as it would be")
    id = s.IntegerField(help_text="The saved rule that it stands for")
    position = s.IntegerField(
        required=False, allow_null=True, min_value=1, help_text="Where it would stand; as now, when not given"
    )


class TrialInfo(s.Serializer):
    """What changing a rule would come to."""

    pages = s.IntegerField(help_text="On how many pages somebody would see a difference at some time")
    paths = s.ListField(child=s.CharField(), help_text="Some of them")
    untold = s.IntegerField(help_text="Pages with more combinations of visitors than can be told apart")


class FateInfo(s.Serializer):
    """What becomes of a rule on one target of a page."""

    target = s.CharField(help_text="The target")
    fate = s.ChoiceField(
        choices=["wins", "adds", "unplaced", "outranked", "cleared", "locked", "idle"],
        help_text="What becomes of it; idle: it is off, or not for this lens",
    )
    by = s.CharField(allow_blank=True, help_text="The rule that stands in the way")
    on = s.ChoiceField(choices=[*DECISIVE, ""], help_text="What decides between the two")


class ReachPage(PageRow):
    """A page that a rule concerns, and what becomes of it there."""

    standing = s.ChoiceField(
        choices=["reached", "excluded", "gone", "not-included"],
        help_text="How it stands to the rule; gone: the saved rule reaches it",
    )
    clause = s.CharField(allow_blank=True, help_text="The exclude clause that takes it out")
    new = s.BooleanField(help_text="Whether the saved rule does not reach it")
    fates = FateInfo(many=True, help_text="Where it is reached: what becomes of the rule, target by target")
    holds = s.ListField(child=s.IntegerField(), help_text="The terms that hold there, by their place in `terms`")


class TermPlaceInfo(s.Serializer):
    """A term about pages, and where in the condition it stands."""

    part = s.ChoiceField(choices=["include", "exclude"], help_text="In which query")
    clause = s.IntegerField(help_text="In which of its clauses, from 0")
    place = s.IntegerField(help_text="Where in the clause, from 0")
    text = s.CharField(help_text="The term")
    words = s.CharField(help_text="What it asks for, in words")


class TakenInfo(s.Serializer):
    """What a rule takes over from another."""

    target = s.CharField(help_text="The target")
    rule = s.CharField(allow_null=True, help_text="The rule that would decide without it; none where nothing would")
    pages = s.IntegerField(help_text="On how many pages")


class NearMissInfo(PageRow):
    """A page that one clause would match but for one term."""

    term = s.CharField(help_text="What does not hold, in words")


class ReachInfo(Measures):
    """How far a rule reaches that is being edited."""

    reached = s.IntegerField(help_text="Pages that it reaches")
    excluded = s.IntegerField(help_text="Pages that its exclude takes out")
    new = s.IntegerField(help_text="Pages reached that the saved rule does not reach")
    gone = s.IntegerField(help_text="Pages that the saved rule reaches and this one does not")
    pages = ReachPage(many=True, help_text="The first five hundred of each sort")
    nearly = NearMissInfo(many=True, help_text="Pages one term short; fifty at most")
    terms = TermPlaceInfo(many=True, help_text="The terms that ask about pages; a hundred at most")
    taken = TakenInfo(many=True, help_text="What it takes over, and from whom")
    gets = PageRow(allow_null=True, help_text="The first page on which something of it shows")
    lacks = PageRow(allow_null=True, help_text="The nearest page that it does not reach")
    tested = ReachPage(allow_null=True, help_text="The page that was asked about")
