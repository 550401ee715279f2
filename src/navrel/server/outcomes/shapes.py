"""The shapes of layouts and traces, on the wire."""

from rest_framework import serializers as s

from navrel.core.questions.checks import SEVERITIES
from navrel.server.api.shapes import BITS, DECISIVE, ActionTree, LensedRequest, OutcomeInfo, PageRow, RuleTree

from .drawn import KINDS, MOST_KEPT, WIDTHS


class LockedPage(s.Serializer):
    """Who owns a slot on a page."""

    page = s.IntegerField(help_text="The number of the page")
    owner = s.CharField(allow_blank=True, help_text="Who owns it")
    why = s.CharField(allow_blank=True, help_text="Why no rule changes it")


class TargetColumn(s.Serializer):
    """One target over all pages."""

    target = s.CharField(help_text="The target")
    codes = s.ListField(child=s.IntegerField(), help_text="For each page number a place in the outcomes")
    outcomes = OutcomeInfo(many=True, help_text="What it comes to anywhere")
    unseated = s.ListField(
        child=s.IntegerField(), help_text="The numbers of pages where it shows something that has no place"
    )
    locks = LockedPage(many=True, help_text="Who owns it where it is locked, as far as that is told")


class OtherTarget(s.Serializer):
    """A target that was not asked for, on the pages where a rule or a pin has something there."""

    target = s.CharField(help_text="The target")
    pages = s.CharField(help_text=BITS)


class LayoutInfo(s.Serializer):
    """What targets come to on every page."""

    version = s.IntegerField(help_text="The site's version that this is of")
    columns = TargetColumn(many=True, help_text="The targets that were asked for")
    others = OtherTarget(many=True, help_text="The other targets with anything in them")


class StrengthInfo(s.Serializer):
    """What rules are compared by, in turn."""

    priority = s.IntegerField(help_text="The priority")
    specificity = s.ListField(child=s.IntegerField(), help_text="Its four counts on this page")
    position = s.IntegerField(help_text="Where the rule stands in cascade order")


class TraceEntry(s.Serializer):
    """One action on the target, and what became of it."""

    rule = s.IntegerField(help_text="The id of its rule")
    name = s.CharField(help_text="The name of its rule")
    position = s.IntegerField(help_text="Where the rule stands in cascade order")
    action = ActionTree(help_text="What it does")
    state = s.ChoiceField(
        choices=["won", "added", "outranked", "cleared", "duplicate", "excluded", "not-included", "visitor", "time",
                 "off", "locked"],
        help_text="What became of it",
    )  # fmt: skip
    strength = StrengthInfo(allow_null=True, help_text="How strong it is here; null where it does not contend")
    by = s.CharField(allow_null=True, help_text="The rule that outranked or dropped it")
    on = s.ChoiceField(choices=DECISIVE, allow_null=True, help_text="What decided between the two")
    clause = s.CharField(allow_blank=True, help_text="The exclude clause that kept the page or the visitor out")
    next_start = s.CharField(allow_null=True, help_text="When a rule that is not in force will be, local date-time")
    ends = s.CharField(allow_null=True, help_text="When the schedule of a rule in force ends, local date-time")
    include = s.CharField(allow_blank=True, help_text="Where its rule applies, as a query")


class ObstacleInfo(s.Serializer):
    """A rule that a pin here would not beat."""

    rule = s.IntegerField(help_text="Its id")
    name = s.CharField(help_text="Its name")
    action = ActionTree(help_text="What it does here")
    on = s.ChoiceField(choices=DECISIVE, help_text="On what it is stronger")
    words = s.CharField(help_text="For whom and when, in words")


class PinInfo(s.Serializer):
    """What is pinned on this target, and what would stand in the way of a choice here."""

    rule = s.IntegerField(allow_null=True, help_text="The id of the pin's rule; null where nothing is pinned")
    action = ActionTree(allow_null=True, help_text="What is pinned; null where nothing is")
    locked = s.BooleanField(help_text="Whether another system owns the slot here")
    owner = s.CharField(allow_blank=True, help_text="Who owns a locked slot, where that is known")
    why = s.CharField(allow_blank=True, help_text="Why a locked slot is locked, where that is known")
    wins = s.BooleanField(help_text="Whether a pin of usual priority would decide for somebody at some time")
    deciders = ObstacleInfo(many=True, help_text="Would decide instead")
    additions = ObstacleInfo(many=True, help_text="Would be shown beside it, also where it leaves the slot empty")
    priority = s.IntegerField(allow_null=True, help_text="The lowest that beats all deciders; null where none does")
    clearing = s.IntegerField(
        allow_null=True, help_text="The lowest that beats all additions too; null where none does"
    )
    told = s.BooleanField(help_text="False where there are too many combinations of visitors to tell")


class TurnInfo(s.Serializer):
    """A moment at which a target changes by itself."""

    at = s.CharField(help_text="When, as a local date-time")
    outcome = OutcomeInfo(help_text="What it comes to on the far side of it")
    inside = s.BooleanField(help_text="Whether it is the widgets of a sidebar that change, not what stands there")


class UnlikeInfo(s.Serializer):
    """Where a page is not the same for everyone at any time."""

    path = s.CharField(help_text="The path of the page")
    told = s.BooleanField(help_text="False where there are too many combinations of visitors to tell")
    targets = s.ListField(child=s.CharField(), help_text="The targets that differ between visitors or times")


class TraceInfo(PageRow):
    """Why one target of one page comes to what it does."""

    target = s.CharField(help_text="The target")
    outcome = OutcomeInfo(help_text="What it comes to")
    by = s.CharField(allow_null=True, help_text="The name of the deciding rule")
    seated = s.BooleanField(help_text="Whether the slot has a place on the page, or the template is used there")
    in_place = s.BooleanField(help_text="Whether the page is drawn in its own HTML")
    alone = s.BooleanField(help_text="Whether no other rule acts on this here, for any visitor at any time")
    templates = s.ListField(child=s.CharField(), help_text="Templates in which the slot has a place")
    pin = PinInfo(help_text="What is pinned here, and what would stand in a pin's way")
    decisive = s.ChoiceField(choices=DECISIVE, allow_null=True, help_text="On what the decider beat the next one")
    runner_up = s.CharField(allow_null=True, help_text="The name of the next one")
    default_template = s.BooleanField(help_text="Whether it is the site's default template")
    entries = TraceEntry(many=True, help_text="Every action on the target, strongest first")
    last = TurnInfo(allow_null=True, help_text="When it last changed by itself for this visitor; null for not lately")
    next = TurnInfo(allow_null=True, help_text="When it will next; null for not soon")


class WhyNotRequest(LensedRequest):
    """A rule that one would have thought shows on a page."""

    path = s.CharField(max_length=1000, help_text="The path of the page")
    target = s.CharField(max_length=100, help_text="A slot, `template`, or `setting:NAME`")
    rule = s.IntegerField(help_text="The id of the rule")


class RemedyInfo(s.Serializer):
    """A change of one rule after which it would show there."""

    words = s.CharField(help_text="What is changed, in words")
    rule = s.IntegerField(help_text="The id of the rule that is changed")
    tree = RuleTree(help_text="The rule as it would be")
    position = s.IntegerField(allow_null=True, help_text="Where in the list it would stand; null where it stays")
    pages = s.IntegerField(help_text="On how many pages somebody would see a difference")


class WhyNotInfo(s.Serializer):
    """Why a rule does not show on a page."""

    shows = s.BooleanField(help_text="Whether it does show, through the lens")
    words = s.CharField(help_text="Why it does not, in a sentence without a full stop")
    remedies = RemedyInfo(many=True, help_text="What would change that, the smallest change first")


class BoundaryInfo(s.Serializer):
    """A moment at which something changes by itself."""

    at = s.CharField(help_text="When, as a local date-time")
    begins = s.ListField(child=s.CharField(), help_text="The names of the rules and widgets that come into force")
    ends = s.ListField(child=s.CharField(), help_text="The names of those that cease to be")


class LookDifference(s.Serializer):
    """What a target comes to in one look, where looks differ."""

    target = s.CharField(help_text="The target")
    outcome = OutcomeInfo(help_text="What it comes to")


class LookSidebar(s.Serializer):
    """What a sidebar shows in one look, where looks differ."""

    piece = s.CharField(help_text="The slug of the sidebar")
    shows = s.ListField(child=s.CharField(), help_text="The slugs of the widgets that it shows; none where it is not")


class LookInfo(s.Serializer):
    """One of the distinct layouts of a page."""

    words = s.CharField(help_text="Who sees it, and when")
    visitor = s.CharField(help_text="One of those who see it, as terms")
    at = s.CharField(allow_blank=True, help_text="When, as a local date-time; empty for now")
    current = s.BooleanField(help_text="Whether it is what is seen through the lens")
    differs = LookDifference(many=True, help_text="The targets that are not the same in all looks")
    sidebars = LookSidebar(many=True, help_text="The sidebars whose widgets are not the same in all looks")


class AudienceTableInfo(s.Serializer):
    """Who sees which look, and when."""

    visitors = s.ListField(child=s.CharField(), help_text="Visitors in words, one kind a row")
    times = s.ListField(child=s.CharField(), help_text="Times in words, one a column")
    looks = s.ListField(
        child=s.ListField(child=s.IntegerField()), help_text="The number of the look, from 0, for each row and column"
    )


class LooksInfo(s.Serializer):
    """Every look of a page."""

    told = s.BooleanField(help_text="False where there are too many combinations of visitors to tell")
    seen_until = s.CharField(allow_null=True, help_text="Where not all that comes was looked at: up to when")
    looks = LookInfo(many=True, help_text="In the order in which they first come up")
    table = AudienceTableInfo(
        allow_null=True, help_text="Who sees which; null for a single look, and where it would be too large to read"
    )


class OwnerInfo(s.Serializer):
    """Who owns a slot on some pages."""

    owner = s.CharField(help_text="Who")
    why = s.CharField(help_text="Why; may be empty")


class ShownInfo(s.Serializer):
    """A piece that is seen in a slot."""

    slug = s.CharField(help_text="The piece")
    pages = s.IntegerField(help_text="On how many pages")


class PlaceInfo(s.Serializer):
    """A slot through the lens."""

    slot = s.CharField(help_text="Its name")
    templates = s.ListField(child=s.CharField(), help_text="The slugs of the templates that have it")
    pieces = s.ListField(child=s.CharField(), help_text="The slugs of the pieces that hold it")
    menus = s.ListField(child=s.CharField(), help_text="The slugs of the menus with it in a panel")
    contents = s.IntegerField(help_text="In how many pages' own content it stands")
    seated = s.IntegerField(help_text="On how many pages it has a place")
    shows = s.IntegerField(help_text="On how many of them something is seen there")
    locked = s.IntegerField(help_text="On how many pages another system owns it")
    owners = OwnerInfo(many=True, help_text="Who owns it there, where that is known")
    shown = ShownInfo(many=True, help_text="The pieces that are seen there, most pages first")
    rules = s.IntegerField(help_text="How many rules act on it")


class Aside(s.Serializer):
    """Why a finding is let be."""

    reason = s.CharField(help_text="Why")
    by = s.CharField(allow_null=True, help_text="Who said so")


class AsideRequest(s.Serializer):
    """A finding that is to be let be."""

    reason = s.CharField(allow_blank=True, max_length=500, help_text="Why")


class MeasuredItem(s.Serializer):
    """Something that is amiss in drawn pages."""

    kind = s.ChoiceField(choices=KINDS, help_text="What is amiss")
    piece = s.CharField(allow_blank=True, max_length=200, help_text="The slug of its piece; empty for none")
    slot = s.CharField(allow_blank=True, max_length=200, help_text="The slot in which it is seen; empty for none")
    words = s.CharField(max_length=300, help_text="What is amiss, in words")
    widths = s.ListField(
        child=s.ChoiceField(choices=WIDTHS), min_length=1, max_length=len(WIDTHS), help_text="When drawn how wide"
    )
    paths = s.ListField(child=s.CharField(max_length=2000), max_length=1000, help_text="The paths of the pages")


class MeasuredRequest(s.Serializer):
    """What was found amiss in drawn pages."""

    version = s.IntegerField(min_value=0, help_text="The version of the draft that was drawn")
    items = s.ListField(child=MeasuredItem(), max_length=MOST_KEPT, help_text="All that was found")


class MeasuredInfo(s.Serializer):
    """When pages were last drawn and measured."""

    version = s.IntegerField(help_text="The version of the draft that was drawn")
    by = s.CharField(allow_null=True, help_text="By whom")
    made = s.DateTimeField(help_text="When")


class FindingInfo(s.Serializer):
    """Something that a check found about the draft."""

    key = s.CharField(help_text="What it is told by: another one once anything of it changes")
    check = s.CharField(help_text="The kind of finding")
    severity = s.ChoiceField(choices=SEVERITIES, help_text="How bad it is")
    what = s.CharField(help_text="What is the matter, in words")
    why = s.CharField(help_text="Why that is so")
    mend = s.CharField(help_text="How to mend it")
    rule = s.IntegerField(allow_null=True, help_text="The id of the rule that it is about; null for none")
    piece = s.CharField(allow_null=True, help_text="The slug of the piece that it is about; null for none")
    page_count = s.IntegerField(help_text="On how many pages")
    pages = PageRow(many=True, help_text="The first of them")
    slot = s.CharField(allow_blank=True, help_text="The slot in which it is seen; empty where there is none")
    width = s.ChoiceField(
        choices=WIDTHS,
        allow_null=True,
        help_text="A width of the drawn page at which it is so, if it was measured there",
    )
    aside = Aside(allow_null=True, help_text="Why it is let be, where somebody has set it aside")
