"""The shapes of impact, revisions and previews, on the wire."""

from rest_framework import serializers as s

from navrel.server.api.shapes import DressTree, LensedRequest, OutcomeInfo, PageRow, Somewhere
from navrel.server.inventory.shapes import IntakeReport


class ChangeInfo(s.Serializer):
    """A part in which the draft differs from what is live."""

    what = s.ChoiceField(choices=["rule", "piece", "order", "pages", "site"], help_text="What it is")
    how = s.ChoiceField(choices=["added", "removed", "changed", "moved"], help_text="How it differs")
    words = s.CharField(help_text="What differs, in words")
    part = s.CharField(allow_blank=True, help_text="Its key, to take it back; empty for what is not taken back")
    count = s.IntegerField(help_text="How many there are, of pages and of moves")


class Audience(Somewhere):
    """Who sees a difference, and on which pages."""

    words = s.CharField(help_text="For whom and when, in words")


class ShiftInfo(Audience):
    """One target that comes out differently."""

    target = s.CharField(help_text="The target")
    before = OutcomeInfo(allow_null=True, help_text="What it comes to live; null where the page is not there")
    after = OutcomeInfo(allow_null=True, help_text="What it comes to in the draft; null where the page is not there")
    visible = s.BooleanField(help_text="False where nobody sees it: without a place, or drawn as before")
    alike = s.BooleanField(
        help_text="Whether it looks as before: another piece is drawn from the same, or shows what stood there"
    )


class RedrawInfo(Audience):
    """A piece that is drawn differently where it stands, or a dress where it is worn."""

    piece = s.CharField(help_text="The piece's slug; empty for a dress")
    dress = s.CharField(help_text="The dress' slug; empty for a piece")


class ImpactInfo(s.Serializer):
    """What publishing would change, over all visitors and from now on."""

    version = s.IntegerField(
        help_text="The site's version that this is of, to publish what was looked at; 0 for a revision"
    )
    changes = ChangeInfo(many=True, help_text="The parts that differ")
    pages = s.IntegerField(help_text="Pages on which somebody can see a difference, now or later")
    audiences = Audience(many=True, help_text="For whom; two hundred at most, most pages first")
    shifts = ShiftInfo(many=True, help_text="What comes out differently; two hundred at most, most pages first")
    redraws = RedrawInfo(many=True, help_text="What is drawn differently; two hundred at most, most pages first")
    own = Somewhere(help_text="Pages that come or go, or whose own content or facts differ")
    untold = Somewhere(help_text="Pages with more combinations of visitors than can be told apart")
    broken = s.ListField(
        child=s.CharField(), allow_null=True,
        help_text="The names of the guards that only these changes would break; null where all are asked about",
    )  # fmt: skip
    names = s.DictField(child=s.CharField(), help_text="The names of pieces, by slug")
    dresses = s.DictField(child=s.CharField(), help_text="The names of dresses, by slug")


class ChosenRequest(s.Serializer):
    """Some of the draft's changes."""

    parts = s.ListField(
        child=s.CharField(max_length=1010), allow_null=True, required=False, default=None, max_length=2000,
        help_text="The keys of the changes that go along, as the impact names them; null for all",
    )  # fmt: skip


class WeighRequest(s.Serializer):
    """An edit as it would be saved."""

    to = s.RegexField(
        r"^[a-z0-9/-]+$",
        max_length=200,
        help_text="What is edited: where it stands below the site, as pieces/site-footer",
    )
    body = s.DictField(help_text="What would be put there")
    version = s.IntegerField(min_value=0, max_value=999_999_999, help_text="The version that the edit was made from")


class PublishRequest(ChosenRequest):
    """Publishing what was looked at."""

    note = s.CharField(
        required=False, allow_blank=True, max_length=500, default="", help_text="What whoever looks back should know"
    )
    version = s.IntegerField(help_text="The site's version whose impact was looked at")
    overrule = s.CharField(
        required=False, allow_blank=True, max_length=500, default="",
        help_text="Why it is published in spite of guards that are broken",
    )  # fmt: skip


class Overruled(s.Serializer):
    """Guards that were broken when a revision was published."""

    guards = s.ListField(child=s.CharField(), help_text="Their names")
    reason = s.CharField(help_text="Why it was published all the same")


class AgainRequest(s.Serializer):
    """A revision that is made live again."""

    note = s.CharField(required=False, allow_blank=True, max_length=500, default="", help_text="A note")
    overrule = s.CharField(
        required=False, allow_blank=True, max_length=500, default="",
        help_text="Why it is published in spite of guards that are broken",
    )  # fmt: skip


class PlanRequest(PublishRequest):
    """Publishing what was looked at, at a moment."""

    at = s.CharField(max_length=30, help_text="The moment on the site's clock: 2026-12-03T06:00")


class PlanRow(s.Serializer):
    """A publication at a moment."""

    id = s.IntegerField(help_text="Its id")
    at = s.CharField(help_text="The moment on the site's clock")
    by = s.CharField(allow_null=True, help_text="Who planned it; null for the program itself")
    note = s.CharField(allow_blank=True, help_text="What was noted with it")
    state = s.ChoiceField(choices=["waiting", "done", "refused", "dropped"], help_text="What became of it")
    told = s.CharField(allow_blank=True, help_text="Why it was refused")
    revision = s.IntegerField(allow_null=True, help_text="The revision that it became")
    changes = s.IntegerField(help_text="How many parts differ from what was live when it was planned")


class RevisionRow(s.Serializer):
    """One published state."""

    number = s.IntegerField(help_text="Its number, counted from 1")
    published = s.DateTimeField(help_text="When it was published")
    by = s.CharField(allow_null=True, help_text="Who published it; null for the program itself")
    note = s.CharField(allow_blank=True, help_text="What was noted with it")
    live = s.BooleanField(help_text="Whether it is the newest")
    overruled = Overruled(allow_null=True, help_text="The guards in spite of which it was published; null for none")
    chosen = s.BooleanField(help_text="Whether only some of the changes that the draft had then are in it")
    changes = ChangeInfo(many=True, help_text="What differed from the one before; two hundred at most")


class BackRequest(s.Serializer):
    """What is taken back."""

    part = s.CharField(
        required=False, allow_blank=True, max_length=200, default="",
        help_text="The key of one part, as the impact names it; empty for everything",
    )  # fmt: skip


class PreviewTarget(s.Serializer):
    """What one target of the page comes to."""

    target = s.CharField(help_text="The target")
    outcome = OutcomeInfo(help_text="What it comes to")
    by = s.CharField(allow_null=True, help_text="The name of the deciding rule")
    seated = s.BooleanField(help_text="Whether the slot has a place on the page")


class Standing(s.Serializer):
    """How the draft of a page stands to what is live."""

    same_through_lens = s.BooleanField(help_text="Whether it looks the same through this lens")
    targets = s.ListField(child=s.CharField(), help_text="Targets that come out differently through this lens")
    redraws = s.ListField(child=s.CharField(), help_text="Pieces that are drawn differently through this lens")
    dress = s.BooleanField(help_text="Whether the dress that it wears is drawn differently through this lens")
    own = s.BooleanField(help_text="Whether its own content or facts differ")
    others = s.ListField(child=s.CharField(), help_text="Who else sees a difference and when, in words")
    untold = s.BooleanField(help_text="Whether there are more combinations of visitors than can be told apart")


class DressedRequest(LensedRequest):
    """A dress as it stands in the editor, and the page that is to wear it."""

    dress = DressTree(help_text="The dress")
    path = s.CharField(max_length=1000, help_text="The page")
    form = s.ChoiceField(
        choices=["", "light", "dark"], required=False, help_text="One form of it; as the device asks when not given"
    )


class Dressed(s.Serializer):
    """A page in a dress."""

    html = s.CharField(help_text="A whole HTML document")


class PreviewInfo(PageRow):
    """A page as it is rendered."""

    asked = s.CharField(allow_blank=True, help_text="The address that was asked for")
    version = s.IntegerField(help_text="Of a draft, the site's version that is drawn; 0 for all else")
    instead = s.BooleanField(help_text="Whether there is no page at that address, and this is served instead")
    html = s.CharField(help_text="A whole HTML document")
    in_place = s.BooleanField(help_text="Whether the page is drawn in its own HTML")
    targets = PreviewTarget(many=True, help_text="What its targets come to")
    revision = s.IntegerField(allow_null=True, help_text="Of what was published, its revision")
    standing = Standing(allow_null=True, help_text="Of a draft, where there is a live page to compare it with")


class WeighedIntake(s.Serializer):
    """What an intake would bring."""

    report = IntakeReport(help_text="What it would bring")
    impact = ImpactInfo(help_text="What that would change on pages")
