"""The shapes of sites, pages and their taking-in, on the wire."""

from typing import Any

from rest_framework import serializers as s

from navrel.core.layout.document import MAX_NAME
from navrel.core.layout.model import ARRANGED, FORMS
from navrel.server.accounts.models import ROLES
from navrel.server.api.shapes import SettingTree


class LiveInfo(s.Serializer):
    """The revision that is served."""

    number = s.IntegerField(help_text="Its number")
    published = s.DateTimeField(help_text="When it was published")
    note = s.CharField(allow_blank=True, help_text="What was noted with it")


class KindCount(s.Serializer):
    """Pages that have something in common."""

    name = s.CharField(help_text="What they have in common")
    pages = s.IntegerField(help_text="How many there are")


class SiteRequest(s.Serializer):
    """A site that is to be made."""

    name = s.CharField(max_length=200, help_text="Its name")
    slug = s.CharField(max_length=50, help_text="What it is called in addresses")
    address = s.URLField(
        required=False, allow_blank=True, default="", max_length=200, help_text="Where it is published"
    )
    form = s.ChoiceField(choices=FORMS, required=False, default=ARRANGED, help_text="How its pages are drawn")


class SiteRow(s.Serializer):
    """A site as the list names it."""

    slug = s.CharField(help_text="Its slug, which addresses name")
    name = s.CharField(help_text="Its name")
    published_origin = s.CharField(allow_blank=True, help_text="Where it is served; empty where it is not")


class SetUpTree(s.Serializer):
    """What a site is."""

    name = s.CharField(max_length=MAX_NAME, help_text="Its name")
    base_url = s.CharField(max_length=300, allow_blank=True, help_text="Its address, as https://example.org")
    language = s.RegexField(
        r"^[A-Za-z]{1,8}(-[A-Za-z0-9]{1,8})*$", max_length=35,
        error_messages={"invalid": "write it as a language tag (BCP 47): en, nb, pt-BR"},
        help_text="The language of pages that state none, a BCP 47 tag",
    )  # fmt: skip
    time_zone = s.CharField(max_length=64, help_text="The zone of its times, as the tz database names it")
    roles = s.ListField(child=s.CharField(max_length=50), max_length=100, help_text="The roles that visitors can have")
    default_template = s.CharField(
        max_length=MAX_NAME, allow_blank=True, help_text="The template of pages where no rule uses another"
    )
    form = s.ChoiceField(
        choices=FORMS,
        help_text="How pages are drawn where no rule says: `arranged` from their content, `in-place` in their own HTML",
    )
    scripts = s.BooleanField(help_text="Whether scripts of pages in their own HTML run where they are published")


class SetUpInfo(s.Serializer):
    """What a site is, and the version of that."""

    facts = SetUpTree(help_text="What it is")
    version = s.IntegerField(help_text="What If-Match names to say it anew")


class StepInfo(s.Serializer):
    """An edit that a person can step over, back or forth."""

    number = s.IntegerField(help_text="The number of the edit")
    words = s.CharField(help_text="What it did")


class SiteInfo(s.Serializer):
    """What a site is, and how its draft stands to what is live."""

    slug = s.CharField(help_text="Its slug, which addresses name")
    name = s.CharField(help_text="Its name")
    base_url = s.CharField(allow_blank=True, help_text="Where the real site stands")
    language = s.CharField(help_text="The language of pages that state none, a BCP 47 tag")
    roles = s.ListField(child=s.CharField(), help_text="The roles that visitors can have")
    default_template = s.CharField(allow_blank=True, help_text="The template of pages where no rule uses another")
    version = s.IntegerField(help_text="Rises with every write")
    inventory_version = s.IntegerField(help_text="Rises with every write to pages and terms")
    pages = s.IntegerField(help_text="How many pages there are")
    gone = s.IntegerField(help_text="How many pages were there once")
    kinds = KindCount(many=True, help_text="The pages by kind")
    types = KindCount(many=True, help_text="The pages by type, fifty types at most")
    slots = s.ListField(child=s.CharField(), help_text="The slots that the site has")
    bound = s.ListField(child=s.CharField(), help_text="Those of them that are bound to places in pages' own HTML")
    settings = SettingTree(many=True, help_text="The settings that the site declares for its pages")
    edits = s.IntegerField(help_text="Edits that the draft is ahead of what is live; 0 where nothing differs")
    your_role = s.ChoiceField(choices=ROLES, help_text="What whoever asks may do here")
    undo = StepInfo(allow_null=True, help_text="The edit that undo takes back next, of those that you made")
    redo = StepInfo(allow_null=True, help_text="The edit that redo does again next")
    live = LiveInfo(allow_null=True, help_text="What is served; null where nothing is published")
    unreadable = s.ListField(
        child=s.IntegerField(), help_text="Revisions newer than the one that is served, which cannot be read"
    )
    published_origin = s.CharField(allow_blank=True, help_text="Where it is served; empty where it is not")
    knows_members = s.BooleanField(help_text="Whether anybody is signed in where it is served: its sign-in is set up")
    archived = s.BooleanField(help_text="Whether it is put away")
    by_hand = s.BooleanField(help_text="Whether the facts of its pages may be corrected by hand")
    now = s.CharField(help_text="The moment of the answer, a local date-time in the site's time zone")


class PageColumns(s.Serializer):
    """Pages in tree order, a list a fact; a page's number is its place in each, counted from the offset."""

    total = s.IntegerField(help_text="Pages in all")
    offset = s.IntegerField(help_text="Pages passed over before the first of these")
    inventory_version = s.IntegerField(help_text="The version of the pages that was read")
    paths = s.ListField(child=s.CharField(), help_text="Their paths")
    titles = s.ListField(child=s.CharField(), help_text="Their titles")
    kinds = s.ListField(child=s.CharField(), help_text="Their kinds")
    types = s.ListField(child=s.CharField(allow_blank=True), help_text="Their types")
    depths = s.ListField(child=s.IntegerField(), help_text="How far below the top each stands")


class FactColumn(s.Serializer):
    """One fact over all pages, in tree order."""

    values = s.ListField(child=s.CharField(allow_blank=True), help_text="What it comes to anywhere; empty for none")
    codes = s.ListField(child=s.IntegerField(), help_text="For each page number a place in the values")


class LockInfo(s.Serializer):
    """A slot that another system owns on a page."""

    slot = s.CharField(help_text="The slot")
    owner = s.CharField(allow_blank=True, help_text="Who owns it")
    why = s.CharField(allow_blank=True, help_text="Why no rule changes it")


class CorrectionRequest(s.Serializer):
    """Facts of a page, said by hand."""

    path = s.CharField(max_length=1000, help_text="The path of the page")
    facts = s.DictField(
        help_text="The facts as the layout file has them; null for one that is to be as it was taken in"
    )


class TermRow(s.Serializer):
    """A term, as the tree of its taxonomy has it."""

    path = s.CharField(help_text="The term, as taxonomy/term")
    name = s.CharField(help_text="What people call it")
    taxonomy = s.CharField(help_text="What people call its taxonomy")
    parent = s.CharField(allow_null=True, help_text="The term above it; null for a top one")
    pages = s.IntegerField(help_text="How many pages carry it")


class ByHandRequest(s.Serializer):
    """Whether the facts of pages may be corrected by hand."""

    allowed = s.BooleanField(help_text="Whether they may")


class FactsInfo(s.Serializer):
    """The facts of a page that people correct."""

    title = s.CharField(help_text="Its title")
    kind = s.CharField(help_text="What kind of page it is")
    type = s.CharField(allow_blank=True, help_text="Its type, as the site names it")
    parent = s.CharField(allow_null=True, help_text="The path of the page above; null for a top page")
    terms = s.ListField(child=s.CharField(), help_text="The terms it carries, as taxonomy/term")
    lists = s.CharField(allow_blank=True, help_text="What a listing lists")
    author = s.CharField(allow_blank=True, help_text="Who wrote it")
    language = s.CharField(help_text="Its language, a BCP 47 tag")
    published = s.DateField(allow_null=True, help_text="When it was published")
    locks = LockInfo(many=True, help_text="Slots that another system owns")

    def get_fields(self) -> dict[str, Any]:
        """Its fields, one of which is called as serializers call all of theirs."""
        free = s.DictField(child=s.CharField(allow_blank=True), help_text="Its free fields")
        return {**super().get_fields(), "fields": free}


class PageFacts(FactsInfo):
    """The facts of one page."""

    path = s.CharField(help_text="Its path")
    words = s.IntegerField(help_text="Words in its content")
    slots = s.ListField(child=s.CharField(), help_text="Slots in its own content")
    version = s.IntegerField(help_text="Rises with every correction")
    corrected = s.ListField(child=s.CharField(), help_text="The facts that were corrected by hand")
    taken = FactsInfo(help_text="The facts as they were taken in; a parent that no file states is null")


class IntakeRequest(s.Serializer):
    """An intake that is to be begun."""

    source = s.CharField(
        required=False, allow_blank=True, default="", max_length=2000,
        help_text="The address of the site, where that is asked; empty where files are sent",
    )  # fmt: skip


class IntakeInfo(s.Serializer):
    """An intake that is open."""

    id = s.IntegerField(help_text="Its id")
    started = s.DateTimeField(help_text="When it was begun")
    source = s.CharField(allow_blank=True, help_text="The address that is asked; empty where files are sent")
    files = s.IntegerField(help_text="Files that were read so far")
    asked = s.IntegerField(help_text="Addresses of the site that were asked so far")
    same = s.IntegerField(help_text="Those of them where nothing is new since the last time")
    waiting = s.IntegerField(help_text="Addresses that are known and still to be asked")


class FileNote(s.Serializer):
    """What is to be said of a file."""

    file = s.CharField(help_text="Its name below the folder")
    reason = s.CharField(help_text="What is to be said of it")


class DroppedInfo(s.Serializer):
    """What was left out of the contents of pages."""

    element = s.CharField(help_text="The name of the element")
    count = s.IntegerField(help_text="How often")


class IntakeReport(s.Serializer):
    """What an intake brought."""

    pages = s.IntegerField(help_text="Pages in the files")
    added = s.IntegerField(help_text="Pages that were not there before")
    updated = s.IntegerField(help_text="Pages that were there, and differ")
    unchanged = s.IntegerField(default=0, help_text="Pages that are as they were")
    returned = s.IntegerField(help_text="Pages that were gone, and are back")
    gone = s.IntegerField(help_text="Pages that are not in the files any more")
    added_pages = FileNote(many=True, required=False, help_text="The first two hundred that came to others")
    updated_pages = FileNote(many=True, required=False, help_text="The first two hundred that differ, with in what")
    gone_pages = FileNote(many=True, required=False, help_text="The first two hundred that are gone")
    moved_count = s.IntegerField(default=0, help_text="Pages that are at another path; what names them follows")
    moved = FileNote(many=True, required=False, help_text="The first two hundred of them, each with where it is now")
    aliases = s.IntegerField(default=0, help_text="Addresses that lead to others")
    assets = s.IntegerField(default=0, help_text="Files that are no pages")
    same = s.IntegerField(default=0, help_text="Addresses that were not sent again, as nothing is new there")
    corrected = s.IntegerField(help_text="Pages that keep facts which were corrected by hand")
    dropped = DroppedInfo(
        many=True,
        required=False,
        help_text="Elements that contents do not keep, as they could run, reach out, or are of no standard",
    )
    skipped_count = s.IntegerField(help_text="Files that were skipped")
    skipped = FileNote(many=True, help_text="The first two hundred of them, each with the reason")
    remark_count = s.IntegerField(help_text="Files with something to be said of")
    remarks = FileNote(many=True, help_text="The first two hundred of them, each with what is to be said")


class IntakeRow(s.Serializer):
    """An intake that is finished."""

    id = s.IntegerField(help_text="Its id")
    finished = s.DateTimeField(help_text="When it was finished")
    by = s.CharField(allow_null=True, help_text="Who did it; null for the command line")
    report = IntakeReport(help_text="What it brought")


class SourceRequest(s.Serializer):
    """One file that holds a whole source."""

    file = s.FileField(max_length=1000, help_text="An archive, a WARC file, or a table of facts")


class FilesRequest(s.Serializer):
    """A batch of files."""

    files = s.ListField(child=s.FileField(allow_empty_file=True), max_length=200, help_text="The files")
    names = s.ListField(
        child=s.CharField(max_length=1000), max_length=200, help_text="The path of each below the chosen folder"
    )
    too_large = s.ListField(
        child=s.CharField(max_length=1000), max_length=200, required=False,
        help_text="The paths of files that are too large to be sent",
    )  # fmt: skip
