"""The shapes of walks, preview links and remarks, on the wire."""

from rest_framework import serializers as s

from navrel.server.api.shapes import LensedRequest, PageRow

from .models import MAX_TEXT
from .sharing import LONGEST, MOST_PAGES


class MarkInfo(s.Serializer):
    """What was found of a page."""

    fine = s.BooleanField(help_text="Whether it is as it should be")
    note = s.CharField(help_text="What was noted with it; may be empty")
    by = s.CharField(allow_null=True, help_text="Who looked")
    made = s.DateTimeField(help_text="When")
    holds = s.BooleanField(help_text="False where the page has changed since")


class WalkedPage(PageRow):
    """A page of a walk."""

    mark = MarkInfo(allow_null=True, help_text="What was found of it; null where nobody has looked")


class MarkRequest(s.Serializer):
    """What somebody finds of a page."""

    path = s.CharField(max_length=1000, help_text="The page")
    fine = s.BooleanField(help_text="Whether it is as it should be")
    note = s.CharField(required=False, allow_blank=True, default="", max_length=MAX_TEXT, help_text="A note")
    version = s.IntegerField(help_text="The site's version that was looked at")


class Looked(s.Serializer):
    """How far the pages that publishing changes have been looked at."""

    pages = s.IntegerField(help_text="Pages that change")
    fine = s.IntegerField(help_text="Of those, found fine")
    amiss = s.IntegerField(help_text="Of those, found not fine")
    again = s.IntegerField(help_text="Of those, looked at and changed since")
    noted = WalkedPage(many=True, help_text="Those found not fine, or with a note; two hundred at most")


class LinkRequest(LensedRequest):
    """A preview for somebody without an account."""

    paths = s.ListField(child=s.CharField(max_length=1000), min_length=1, max_length=MOST_PAGES, help_text="Its pages")
    hours = s.IntegerField(min_value=1, max_value=LONGEST, help_text="How long it lasts, in hours")


class LinkRow(s.Serializer):
    """A preview for somebody without an account."""

    id = s.IntegerField(help_text="Its id")
    token = s.CharField(help_text="What its address is known by")
    paths = s.ListField(child=s.CharField(), help_text="Its pages")
    by = s.CharField(allow_null=True, help_text="Who made it")
    ends = s.DateTimeField(help_text="When it ends")


class RemarkInfo(s.Serializer):
    """What somebody without an account says about a page."""

    id = s.IntegerField(help_text="Its id")
    path = s.CharField(help_text="The page")
    name = s.CharField(help_text="Who they say they are; may be empty")
    text = s.CharField(help_text="What they say")
    made = s.DateTimeField(help_text="When")
    done = s.BooleanField(help_text="Whether it is dealt with")


class DealtRequest(s.Serializer):
    """Whether a remark is dealt with."""

    done = s.BooleanField(help_text="Whether it is")


class SharedInfo(s.Serializer):
    """What a preview link leads to."""

    site = s.CharField(help_text="The name of the site")
    ends = s.DateTimeField(help_text="When the preview ends")
    pages = PageRow(many=True, help_text="Its pages, those that are still there")


class SharedPage(PageRow):
    """A page of a preview, as it is drawn in the draft now."""

    html = s.CharField(help_text="A whole HTML document")


class RemarkRequest(s.Serializer):
    """A remark about a page of a preview."""

    path = s.CharField(max_length=1000, help_text="The page")
    name = s.CharField(required=False, allow_blank=True, default="", max_length=100, help_text="Who says it")
    text = s.CharField(max_length=MAX_TEXT, help_text="What is said")
