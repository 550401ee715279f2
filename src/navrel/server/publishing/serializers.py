"""The shapes of changes, revisions and previews, on the wire."""

from rest_framework import serializers as s

from navrel.server.rules.serializers import OutcomeInfo


class ChangeInfo(s.Serializer):
    what = s.ChoiceField(choices=["rule", "piece", "order", "pages", "site"])
    how = s.ChoiceField(choices=["added", "removed", "changed", "moved"])
    name = s.CharField()
    details = s.ListField(child=s.CharField())
    count = s.IntegerField()


class PageChangeInfo(s.Serializer):
    target = s.CharField()
    before = OutcomeInfo(allow_null=True)
    after = OutcomeInfo(allow_null=True)
    pages = s.IntegerField()
    paths = s.ListField(child=s.CharField())


class ChangesInfo(s.Serializer):
    version = s.IntegerField()
    parts = ChangeInfo(many=True)
    pages = s.IntegerField(help_text="Pages of which at least one target changes, through the lens")
    targets = PageChangeInfo(many=True)


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


class PreviewInfo(s.Serializer):
    path = s.CharField()
    title = s.CharField()
    html = s.CharField()
    targets = PreviewTarget(many=True)
    revision = s.IntegerField(allow_null=True)
