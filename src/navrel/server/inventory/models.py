"""Sites, their taxonomies and pages, and the staging of pages being taken in."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from navrel.core.layout.document import MAX_NAME

from .columns import PlainJSONField


class Site(models.Model):
    """A site. ``settings`` are as in the layout file; ``by_hand``: the facts of its pages may be corrected by hand.

    One that is archived is put away: it is neither listed nor served, and comes back as it was.
    ``scripts``: what pages that are drawn in their own HTML bring along may run where they are published.
    ``version`` rises with every write in it, ``inventory_version`` with those to pages and terms.
    """

    slug = models.SlugField(unique=True, max_length=MAX_NAME)
    name = models.CharField(max_length=MAX_NAME)
    base_url = models.CharField(max_length=300, blank=True)
    language = models.CharField(max_length=35, default="en")
    time_zone = models.CharField(max_length=64, default="UTC")
    roles = models.JSONField(default=list)
    default_template = models.CharField(max_length=MAX_NAME, blank=True)
    settings = models.JSONField(default=list)
    menus = models.JSONField(default=list)
    dresses = models.JSONField(default=list)
    guards = models.JSONField(default=list)
    bindings = models.JSONField(default=list)
    recipe = models.JSONField(default=list)
    scripts = models.BooleanField(default=False)
    files = models.JSONField(default=list)
    version = models.PositiveBigIntegerField(default=1)
    inventory_version = models.PositiveBigIntegerField(default=1)
    by_hand = models.BooleanField(default=True)
    archived = models.DateTimeField(null=True, blank=True)

    #: Whether this record was read for a write: what the transaction sees under it is not committed yet.
    is_locked = False

    def __str__(self) -> str:
        return self.name


class Taxonomy(models.Model):
    """A way of sorting pages, such as topics."""

    site = models.ForeignKey(Site, models.CASCADE, related_name="taxonomies")
    slug = models.CharField(max_length=MAX_NAME)
    name = models.CharField(max_length=200)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "slug"], name="one_taxonomy_a_slug")]
        ordering = ["slug"]

    def __str__(self) -> str:
        return self.slug


class Term(models.Model):
    """A term of a taxonomy; ``parent`` stands above it in the same one."""

    taxonomy = models.ForeignKey(Taxonomy, models.CASCADE, related_name="terms")
    slug = models.CharField(max_length=MAX_NAME)
    name = models.CharField(max_length=200)
    parent = models.ForeignKey("self", models.SET_NULL, null=True, blank=True, related_name="children")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["taxonomy", "slug"], name="one_term_a_slug")]
        ordering = ["slug"]

    def __str__(self) -> str:
        return self.slug


class Content(models.Model):
    """A page's own content, sanitised, filed under the SHA-256 of itself. Never changed, so revisions share it."""

    digest = models.CharField(primary_key=True, max_length=64)
    html = models.TextField()
    text = models.TextField()

    def __str__(self) -> str:
        return self.digest


class Original(models.Model):
    """The file of a page as it was taken in, filed under its SHA-256 and never changed; its bytes lie with the assets.

    ``title``: from which byte to which what stands in its title element; ``places``: where selectors found their
    places in it, by how and selector; null for nowhere.
    """

    digest = models.CharField(primary_key=True, max_length=64)
    encoding = models.CharField(max_length=40)
    title = PlainJSONField(null=True)
    places = PlainJSONField(default=dict)

    def __str__(self) -> str:
        return self.digest


class Page(models.Model):
    """One address of a site with its facts. A page that its source no longer has is gone, not deleted.

    ``corrections`` are facts that were said by hand, over those that were taken in; null for none. ``address``: where
    it is served, where that is not its path. ``bound``: what a layout file says of the slots in its own HTML, where
    that file itself was not taken in. ``file``: what it was read from, as its source calls it.
    """

    site = models.ForeignKey(Site, models.CASCADE, related_name="pages")
    path = models.CharField(max_length=1000)
    position = models.PositiveIntegerField(default=0)
    title = models.CharField(max_length=500, blank=True)
    kind = models.CharField(max_length=10, default="single")
    type = models.CharField(max_length=MAX_NAME, blank=True)
    parent = models.CharField(max_length=1000, blank=True)
    terms = PlainJSONField(default=list)
    lists = models.CharField(max_length=200, blank=True)
    author = models.CharField(max_length=200, blank=True)
    language = models.CharField(max_length=35, blank=True)
    published = models.DateField(null=True, blank=True)
    words = models.PositiveIntegerField(default=0)
    fields = PlainJSONField(default=dict)
    slots = PlainJSONField(default=list)
    locks = PlainJSONField(default=list)
    content = models.ForeignKey(Content, models.PROTECT, null=True, blank=True, related_name="+")
    original = models.ForeignKey(Original, models.PROTECT, null=True, blank=True, related_name="+")
    bound = PlainJSONField(null=True)
    file = models.CharField(max_length=1000, blank=True)
    gone = models.BooleanField(default=False)
    corrections = PlainJSONField(null=True, blank=True)
    corrections_version = models.PositiveIntegerField(default=1)
    address = models.CharField(max_length=1000, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "path"], name="one_page_a_path")]
        # Looked for at every write, and there are few.
        indexes = [models.Index(fields=["site"], condition=models.Q(corrections__isnull=False), name="pages_corrected")]
        ordering = ["position", "path"]

    def __str__(self) -> str:
        return self.path


class Standing(models.Model):
    """What a piece's markup is known to show: what stands in the place of a slot in the files of some pages.

    ``code``: the digest of the markup; ``pages``: by path the digest of the page's file, from which byte to which it
    stands there, and a digest of the paths of the pages above.
    """

    site = models.ForeignKey(Site, models.CASCADE, related_name="standings")
    slot = models.CharField(max_length=MAX_NAME)
    code = models.CharField(max_length=64)
    pages = PlainJSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "slot", "code"], name="one_standing_a_code")]

    def __str__(self) -> str:
        return f"{self.slot} {self.code}"


class Alias(models.Model):
    """An address that leads to another: one that a file had, or a page that leads on by itself."""

    site = models.ForeignKey(Site, models.CASCADE, related_name="aliases")
    address = models.CharField(max_length=1000)
    target = models.CharField(max_length=2000)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "address"], name="one_target_an_alias")]

    def __str__(self) -> str:
        return self.address


class Asset(models.Model):
    """A file of a site that is no page, at its own address; its bytes are kept by their digest.

    One that was at an address once stays known, as revisions name it: ``current`` tells which the source has now.
    """

    site = models.ForeignKey(Site, models.CASCADE, related_name="assets")
    address = models.CharField(max_length=1000)
    digest = models.CharField(max_length=64)
    type = models.CharField(max_length=100)
    size = models.PositiveBigIntegerField()
    current = models.BooleanField(default=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "address", "digest"], name="one_asset_an_address")]

    def __str__(self) -> str:
        return self.address


class Intake(models.Model):
    """One taking-in of pages: files are staged here, and reach the site together when it is finished.

    ``source``: the address of the site, where it is asked; ``crawl``: what is known of how that is done.
    """

    site = models.ForeignKey(Site, models.CASCADE, related_name="intakes")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    started = models.DateTimeField(auto_now_add=True)
    finished = models.DateTimeField(null=True, blank=True)
    report = models.JSONField(default=dict)
    source = models.CharField(max_length=2000, blank=True)
    crawl = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"intake {self.pk}"

    @property
    def base_url(self) -> str:
        """The address of its site; where that says none, the one that is asked."""
        return self.site.base_url or "/".join(self.source.split("/", 3)[:3])


class Visit(models.Model):
    """An address that an intake met while it asked a site: asked already, or waiting to be, from the lowest id on.

    What was answered is kept by its ``digest``, with its type and what to ask with next time; ``depth``: steps from
    the first address; ``tries``: how often nothing came back.
    """

    intake = models.ForeignKey(Intake, models.CASCADE, related_name="visits")
    path = models.CharField(max_length=2000)
    depth = models.PositiveSmallIntegerField()
    is_asked = models.BooleanField(default=False)
    tries = models.PositiveSmallIntegerField(default=0)
    digest = models.CharField(max_length=64, blank=True)
    type = models.CharField(max_length=100, blank=True)
    asks = models.JSONField(default=dict)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["intake", "path"], name="one_visit_a_path")]
        indexes = [models.Index("intake", "tries", "id", condition=models.Q(is_asked=False), name="visits_waiting")]

    def __str__(self) -> str:
        return self.path


class StagedPage(models.Model):
    """A page read from a file, waiting for its intake to be finished; or the reason why the file was skipped.

    ``also``: other addresses that lead to it. One with ``leads_to`` is no page, but leads there.
    """

    intake = models.ForeignKey(Intake, models.CASCADE, related_name="staged")
    file = models.CharField(max_length=1000)
    path = models.CharField(max_length=1000, blank=True)
    facts = PlainJSONField(default=dict)
    content = models.ForeignKey(Content, models.PROTECT, null=True, related_name="+")
    original = models.ForeignKey(Original, models.PROTECT, null=True, related_name="+")
    skipped = models.TextField(blank=True)
    remark = models.TextField(blank=True)
    address = models.CharField(max_length=1000, blank=True)
    also = PlainJSONField(default=list)
    leads_to = models.CharField(max_length=2000, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["intake", "file"], name="one_staged_page_a_file")]

    def __str__(self) -> str:
        return self.file


class StagedAsset(models.Model):
    """A file that is no page, kept already, waiting for its intake to be finished."""

    intake = models.ForeignKey(Intake, models.CASCADE, related_name="staged_assets")
    address = models.CharField(max_length=1000)
    digest = models.CharField(max_length=64)
    type = models.CharField(max_length=100)
    size = models.PositiveBigIntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["intake", "address"], name="one_staged_asset_an_address")]

    def __str__(self) -> str:
        return self.address
