"""Blogs without linked data: entries marked by class names, and what links and class names beside them may tell."""

import pytest
from django.contrib.auth.models import User

from navrel.server.inventory.reading import read_page
from navrel.server.inventory.services import make_empty_site
from navrel.server.inventory.sources import take_in_folder

ENTRY = """<article class="h-entry"><h2 class="p-name"><a class="u-url" href="{address}">{title}</a></h2>
<p class="p-author h-card">By <span class="p-name">{author}</span></p>
<time class="dt-published" datetime="{day}">That day</time>
<p class="e-content">By sea.</p><a class="p-category" href="/about/terns">Terns</a> <a rel="tag" href="/tag/crew">Crew</a>
</article>"""
ATOM = """<div class="post hentry"><h3 class="entry-title">{title}</h3><abbr class="published" title="{day}">A day</abbr>
<address class="author vcard"><a class="fn" href="/crew">{author}</a></address><a rel="tag" href="/tag/terns">Terns</a>
<p>By sea.</p></div>"""
TOLD = {"title": "The terns", "author": "Maren Dufay", "day": "2026-05-09T05:40:00Z", "address": "terns.html"}
OTHER = {**TOLD, "title": "The gulls", "author": "Oskar Brandt", "day": "2026-04-01"}
NAMES = ("kind", "type", "author", "published", "terms")


def facts(*entries, title="The terns · Marrowick"):
    """The facts of a page of some entries that entries tell."""
    body = "".join(form.format(**told) for form, told in entries)
    data = f"<!doctype html><html lang=en><head><title>{title}</title></head><body><main>{body}</main></body></html>"
    found = read_page("terns.html", data.encode()).facts
    return tuple(found[name] for name in NAMES)


OWN = ("single", "article", "maren-dufay", "2026-05-09")


@pytest.mark.parametrize(
    ("entries", "told"),
    [
        ([(ENTRY, TOLD)], (*OWN, ["topic/crew", "topic/terns"])),
        ([(ATOM, TOLD)], (*OWN, ["topic/terns"])),
        # Entries that a page lists, or adds to its own, tell of other pages.
        ([(ENTRY, OTHER), (ENTRY, TOLD)], (*OWN, ["topic/crew", "topic/terns"])),
        ([(ATOM, OTHER), (ENTRY, {**OTHER, "title": "The auks"})], ("listing", "", "", None, [])),
        ([("<p>{title}: " + "a long voyage. " * 30 + "</p>", TOLD), (ATOM, OTHER), (ATOM, OTHER)], ("single", "", "", None, [])),
        ([(ATOM, OTHER)], ("single", "", "", None, [])),
        # What is marked as one but has no day is any page.
        ([(ENTRY.replace("dt-published", "day"), TOLD)], ("single", "", "maren-dufay", None, ["topic/crew", "topic/terns"])),
        ([], ("single", "", "", None, [])),
    ],
    ids=["microformats2", "hAtom", "with others", "listing", "leading to some", "listing of one", "no day", "none"],
)  # fmt: skip
def test_an_entry_tells_what_its_page_is(entries, told):
    assert facts(*entries) == told


CLOUD = '<a rel="tag" href="/tag/terns">Terns</a>'


@pytest.mark.parametrize(
    ("around", "terms"),
    [("<aside>{}</aside>", []), ("<nav>{}</nav>", []), ("<p>{}</p>", ["topic/terns"]),
     ("<article><nav>{}</nav></article>", ["topic/terns"])],
)  # fmt: skip
def test_links_of_a_tag_cloud_are_no_terms_of_the_page(around, terms):
    page = f"<title>Boats</title><body><main><h1>Boats</h1><p>By sea</p></main>{around.format(CLOUD)}</body>"
    assert read_page("boats.html", page.encode()).facts["terms"] == terms


def test_an_entry_in_an_entry_tells_of_itself_alone():
    quoted = '<div class="h-cite"><div class="h-entry"><p class="p-author">Oskar Brandt</p></div></div>'
    assert facts((ENTRY.replace('<p class="p-author', quoted + '<p class="p-author'), TOLD))[2] == "maren-dufay"


POST = """<!doctype html><html lang=en><head><title>{title}</title></head><body class="home"><nav><a class="category" href="/tag/all.html">{title}</a>
</nav><main>{articles}</main></body></html>"""
ARTICLE = """<article><h1><a href="/{name}.html">{title}</a></h1><abbr class="posted" title="{day}">That day</abbr>
<span class="writer">{author}</span> <a href="/tag/{tag}.html">{tag}</a><p>By sea.</p></article>"""


def test_places_are_proposed_by_addresses_and_titles_but_not_what_other_articles_tell(api, tmp_path):
    make_empty_site("quay", "Quay", "", "in-place", by=User.objects.get(username="una"))
    posts = [
        {"name": f"p{number}", "title": f"Post {number}", "day": f"2026-05-0{number}", "tag": ("terns", "crew")[number % 2],
         "author": ("Maren Dufay", "Oskar Brandt")[number % 2]}
        for number in range(1, 7)
    ]  # fmt: skip
    for post in posts:
        text = POST.format(title=f"{post['title']} | Quay", articles=ARTICLE.format(**post))
        (tmp_path / f"{post['name']}.html").write_text(text)
    listed = "".join(ARTICLE.format(**post) for post in posts)
    (tmp_path / "index.html").write_text(POST.format(title="Quay", articles=listed))
    (tmp_path / "all.html").write_text(POST.format(title="All | Quay", articles=listed))
    take_in_folder("quay", tmp_path)
    told = api.get("/api/sites/quay/recipe/proposed").json()["proposed"]
    found = {one["fact"]: (one["place"]["of"], one["place"].get("attribute", ""), one["pages"]) for one in told}
    assert found["published"] == (".posted", "title", 6)
    assert found["author"] == (".writer", "", 6)
    assert found["terms/topic"] == ('main a[href*="/tag/"]', "", 6)
    assert ".category" not in [one["place"]["of"] for one in told], "what leads about the site tells no terms of a page"
    assert "kind" not in found, "that all pages are the home page is told by none"
