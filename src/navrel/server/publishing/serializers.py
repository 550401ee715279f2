"""The shapes of changes, revisions and previews, on the wire."""

from rest_framework import serializers as s

from navrel.server.rules.serializers import OutcomeInfo


class ChangeInfo(s.Serializer):
    what = s.ChoiceField(choices=["rule", "piece", "order", "pages", "site"])
    how = s.ChoiceField(choices=["added", "removed", "changed", "moved"])
    name = s.CharField()
    details = s.ListField(child=s.CharField())
    count = s.IntegerField()


class Somewhere(s.Serializer):
    """Pages: how many, and the first of them by path."""

    pages = s.IntegerField()
    paths = s.ListField(child=s.CharField())


class Audience(Somewhere):
    """Who sees a difference and when, in words, and on which pages."""

    words = s.CharField()


class ShiftInfo(Audience):
    """One target that comes out differently; ``before`` and ``after`` are null where the page is not there."""

    target = s.CharField()
    before = OutcomeInfo(allow_null=True)
    after = OutcomeInfo(allow_null=True)
    visible = s.BooleanField(help_text="False where the slot has no place, so that nobody sees it")


class RedrawInfo(Audience):
    """A piece that is drawn differently where it stands."""

    piece = s.CharField()


class ChangesInfo(s.Serializer):
    """What publishing would change, over all visitors and from now on."""

    version = s.IntegerField()
    parts = ChangeInfo(many=True)
    pages = s.IntegerField(help_text="Pages on which somebody can see a difference, now or later")
    audiences = Audience(many=True)
    shifts = ShiftInfo(many=True)
    redraws = RedrawInfo(many=True)
    own = Somewhere(help_text="Pages that come or go, or whose own content or facts differ")
    untold = Somewhere(help_text="Pages with more combinations of visitors than can be told apart")
    names = s.DictField(child=s.CharField(), help_text="The names of pieces, by slug")


class PublishRequest(s.Serializer):
    note = s.CharField(required=False, allow_blank=True, max_length=500)
    version = s.IntegerField(help_text="The site version whose changes were looked at")


class RevisionInfo(s.Serializer):
    number = s.IntegerField()
    published = s.DateTimeField()
    by = s.CharField(allow_null=True)
    note = s.CharField(allow_blank=True)
    live = s.BooleanField()
    changes = ChangeInfo(many=True)


class PreviewTarget(s.Serializer):
    target = s.CharField()
    outcome = OutcomeInfo()
    by = s.CharField(allow_null=True)
    seated = s.BooleanField()


class Standing(s.Serializer):
    """How the draft of a page stands to what is live."""

    same_through_lens = s.BooleanField(help_text="Whether it looks the same through this lens")
    targets = s.ListField(child=s.CharField(), help_text="Targets that come out differently through this lens")
    redraws = s.ListField(child=s.CharField(), help_text="Pieces that are drawn differently through this lens")
    own = s.BooleanField(help_text="Whether its own content or facts differ")
    others = s.ListField(child=s.CharField(), help_text="Who else sees a difference and when, in words")
    untold = s.BooleanField()


class PreviewInfo(s.Serializer):
    path = s.CharField()
    title = s.CharField()
    html = s.CharField()
    targets = PreviewTarget(many=True)
    revision = s.IntegerField(allow_null=True)
    standing = Standing(allow_null=True, help_text="Of a draft, where there is a live page to compare it with")
