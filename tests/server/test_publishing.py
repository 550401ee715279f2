"""Draft and live, revisions, previews, and the published site."""

import pytest
from django.test import Client, override_settings

from navrel.server.api.errors import Refused
from navrel.server.inventory.models import Site, Term
from navrel.server.publishing import live, services
from navrel.server.publishing.live import open_revision
from navrel.server.publishing.models import Revision
from navrel.server.publishing.services import publish
from navrel.server.rules.models import Rule
from navrel.server.settings import delivery
from navrel.server.sitestate import locking

RULE = {
    "name": "Harbour header",
    "condition": {"include": "within:/harbours"},
    "actions": [{"do": "fill", "slot": "header", "piece": "slim-header"}],
}


class Public:
    """The published site, as the public web reaches it."""

    def __init__(self):
        self.client = Client()

    def _ask(self, method, path, *data):
        with override_settings(
            ROOT_URLCONF=delivery.ROOT_URLCONF,
            MIDDLEWARE=delivery.MIDDLEWARE,
            ALLOWED_HOSTS=["testserver"],
            READERS_WAIT=0,
        ):
            return getattr(self.client, method)(path, *data)

    def get(self, path, *data):
        return self._ask("get", path, *data)

    def post(self, path):
        return self._ask("post", path)


@pytest.fixture
def public(site):
    return Public()


def test_publishing_freezes_the_draft_and_the_public_sees_only_that(api, public):
    slim = b'data-piece="slim-header"'
    api.post("rules", RULE)
    assert slim not in public.get("/harbours/norrvoe").content
    changes = api.get("impact").json()
    assert [(one["what"], one["how"], one["words"]) for one in changes["changes"]] == [
        ("rule", "added", "Harbour header: made")
    ]
    assert changes["pages"] == 9
    assert [(one["target"], one["before"]["pieces"], one["after"]["pieces"], one["pages"]) for one in changes["shifts"]] == [
        ("header", ["main-header"], ["slim-header"], 9)
    ]  # fmt: skip
    made = api.post("revisions", {"note": "Harbours", "version": changes["version"]})
    assert made.status_code == 201
    assert slim in public.get("/harbours/norrvoe").content
    assert slim not in public.get("/routes").content
    assert api.get("impact").json()["changes"] == []
    assert api.get("").json()["live"]["number"] == 2
    revisions = api.get("revisions").json()["items"]
    assert [(one["number"], one["live"], one["note"]) for one in revisions] == [
        (2, True, "Harbours"),
        (1, False, "The demo site as it comes"),
    ]


def test_an_edited_piece_changes_every_page_that_shows_it(api):
    piece = api.get("pieces/main-header").json()
    shown = {row["slug"]: row["pages"] for row in api.get("piece-pages").json()["items"]}["main-header"]
    content = {**piece["content"], "items": piece["content"]["items"][:1]}
    api.put("pieces/main-header", {**piece, "content": content}, piece["version"])
    changes = api.get("impact").json()
    told = {one["words"]: one["pages"] for one in changes["redraws"] if one["piece"] == "main-header"}
    assert told["everyone"] + told["visitors without the role crew"] == shown > 100
    assert changes["pages"] >= shown
    assert changes["shifts"] == []
    live, draft = (api.get("preview", path="/about", state=state).json() for state in ("live", "draft"))
    assert live["html"] != draft["html"]
    assert draft["standing"]["same_through_lens"] is False
    assert draft["standing"]["redraws"] == ["main-header"]
    same = api.get("preview", path="/tickets/pay").json()["standing"]
    told_of = same["same_through_lens"], same["redraws"], same["others"]
    assert told_of == (True, [], ["visitors with the role crew"])
    crew = api.get("preview", path="/tickets/pay", visitor="signed:in role:crew").json()["standing"]
    assert (crew["same_through_lens"], crew["redraws"], crew["others"]) == (False, ["main-header"], [])


def test_the_preview_says_what_differs_now_whatever_was_asked_before(api):
    """The impact may be worked out after the moment of the lens was taken."""
    piece = api.get("pieces/main-header").json()
    api.put("pieces/main-header", {**piece, "content": {"items": []}}, piece["version"])
    for at in ("", "2031-01-01T00:00"):
        standing = api.get("preview", path="/about", at=at).json()["standing"]
        assert (standing["same_through_lens"], standing["redraws"], standing["others"]) == (False, ["main-header"], [])


def test_changes_are_told_for_whom_and_when(api):
    out = {**RULE, "condition": {"include": "page:/about", "visitors": {"include": "signed:out"}}}
    nights = {"rrule": "FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR", "start": "2026-11-02T22:00", "duration": "PT12H"}
    crew = {
        "name": "Night crew", "actions": [{"do": "fill", "slot": "header", "piece": "crew-header"}],
        "condition": {"include": "type:route", "visitors": {"include": "browser:firefox"}, "schedule": {"repeats": nights}},
    }  # fmt: skip
    assert [api.post("rules", rule).status_code for rule in (out, crew)] == [201, 201]
    rows = api.get("rules", visitor="browser:firefox", at="2027-01-04T23:00").json()["items"]
    routes = next(row["wins"] for row in rows if row["rule"]["name"] == "Night crew")
    told = {one["words"]: one["pages"] for one in api.get("impact").json()["audiences"]}
    assert told == {"signed-out visitors": 1, "Firefox visitors, weeknights from 22:00 to 10:00": routes}


def test_a_page_of_which_the_content_differs_is_a_change(api, site):
    page = site.pages.get(path="/about")
    page.content = site.pages.get(path="/contact").content
    page.save()
    Site.objects.update(version=site.version + 1)
    changes = api.get("impact").json()
    assert (changes["own"], changes["pages"]) == ({"pages": 1, "paths": ["/about"]}, 1)
    standing = api.get("preview", path="/about").json()["standing"]
    assert (standing["same_through_lens"], standing["own"], standing["others"]) == (False, True, [])


def test_a_live_revision_that_cannot_be_read_is_passed_over_and_said(api, public):
    rule = api.post("rules", RULE).json()
    api.post("revisions", {"version": api.get("impact").json()["version"]})
    newest = Revision.objects.get(number=2)
    Revision.objects.filter(pk=newest.pk).delete()
    Revision.objects.create(site=newest.site, number=2, site_version=newest.site_version, archive=b"rubbish")
    assert public.get("/harbours/norrvoe").status_code == 200
    info = api.get("").json()
    assert (info["live"]["number"], info["unreadable"], info["edits"]) == (1, [2], 1)
    api.delete(f"rules/{rule['id']}")
    api.post("rules", {**RULE, "name": "Again"})
    assert api.post("revisions", {"version": api.get("impact").json()["version"]}).status_code == 201
    info = api.get("").json()
    assert (info["live"]["number"], info["unreadable"]) == (3, [])
    Revision.objects.all().delete()
    Revision.objects.create(site=newest.site, number=4, site_version=1, archive=b"")
    assert public.get("/").content == b"What is published here cannot be read.\n"


def test_what_could_not_be_read_back_is_not_published(api, public, site):
    """A term that is no slug once went in, and every published page answered 500 from then on."""
    term = Term.objects.filter(taxonomy__site=site).first()
    Term.objects.filter(pk=term.pk).update(slug="a" * 79 + "-")
    Site.objects.update(version=site.version + 1, inventory_version=site.inventory_version + 1)
    answer = api.post("revisions", {"version": api.get("impact").json()["version"]})
    assert (answer.status_code, answer.json()["code"]) == (422, "unreadable")
    assert "is no slug" in answer.json()["detail"]
    assert public.get("/about").status_code == 200


def test_a_draft_edited_since_its_changes_were_looked_at_is_not_published(api):
    version = api.get("impact").json()["version"]
    api.post("rules", RULE)
    answer = api.post("revisions", {"version": version})
    assert (answer.status_code, answer.json()["code"]) == (409, "edited-meanwhile")
    assert Revision.objects.count() == 1


def test_there_has_to_be_something_to_publish(site):
    with pytest.raises(Refused, match="already the same"):
        publish("marrowick", None)


def test_the_edit_count_stands_with_the_site(api):
    assert api.get("").json()["edits"] == 0
    api.post("rules", RULE)
    rule = Rule.objects.get(name="Legal")
    api.delete(f"rules/{rule.pk}")
    assert api.get("").json()["edits"] == 2


def test_a_preview_shows_draft_and_live_apart(api):
    api.post("rules", RULE)
    draft = api.get("preview", path="/harbours/norrvoe").json()
    live = api.get("preview", path="/harbours/norrvoe", state="live").json()
    by_target = lambda answer: {one["target"]: one["outcome"]["pieces"] for one in answer["targets"]}  # noqa: E731
    assert by_target(draft)["header"] == ["slim-header"]
    assert by_target(live)["header"] == ["main-header"]
    assert (draft["revision"], live["revision"]) == (None, 1)
    assert "data-slot" in draft["html"]
    assert 'class="outlined"' in api.get("preview", path="/", outlines="true").json()["html"]


def test_a_preview_follows_the_lens(api):
    crew = api.get("preview", path="/crew/rota", visitor="signed:in role:crew").json()
    assert 'data-piece="crew-header"' in crew["html"]
    assert 'data-piece="crew-header"' not in api.get("preview", path="/crew/rota").json()["html"]


@pytest.mark.parametrize(
    ("path", "holds", "lacks"),
    [
        (
            "/",
            ['data-piece="main-header"', 'data-piece="site-footer"', 'data-piece="home-title"', "Eight harbours"],
            ['data-slot="aside-end"', 'data-piece="plain-title"'],
        ),
        ("/tickets/pay", ['data-piece="slim-header"', "Card number"], ['data-slot="footer"', 'data-slot="aside-end"']),
        (
            "/journal/harbour-kitchens",
            ['data-piece="harbour-food"', "By Osei Brannagh", "More to eat"],
            ["meet-the-authors"],
        ),
        ("/nb/hjelp", ['lang="nb"', 'data-piece="norsk-header"', 'data-piece="norsk-footer"'], ["winter-notice"]),
        ("/legal/terms", ['data-piece="legal-footer"'], ["winter-notice"]),
    ],
)
def test_public_pages_have_their_layout(public, path, holds, lacks):
    answer = public.get(path)
    assert answer.status_code == 200
    html = answer.content.decode()
    assert all(text in html for text in holds)
    assert not any(text in html for text in lacks)


def test_every_public_page_is_served(api, public):
    for path in api.get("pages").json()["paths"]:
        assert public.get(path).status_code == (404 if path == "/404" else 200), path


def test_an_unknown_address_is_the_not_found_page_with_404(public):
    answer = public.get("/no/such/page")
    assert answer.status_code == 404
    assert b"There is no page at this address" in answer.content
    assert b'data-piece="main-header"' in answer.content


def test_a_closing_slash_leads_to_the_page(public):
    answer = public.get("/routes/")
    assert (answer.status_code, answer.headers["Location"]) == (308, "/routes")


def test_search_finds_titles_then_texts_and_escapes_the_words(public):
    html = public.get("/search", {"q": "farholm"}).content.decode()
    assert html.index('href="/harbours/farholm"') < html.index('href="/journal/rye-and-cardamom"')
    nasty = public.get("/search", {"q": "<script>alert(1)</script>\0"}).content.decode()
    assert "<script>" not in nasty


def test_public_answers_carry_security_headers_and_take_no_writes(public):
    answer = public.get("/")
    assert "default-src 'none'" in answer.headers["Content-Security-Policy"]
    assert answer.headers["X-Content-Type-Options"] == "nosniff"
    assert answer.headers["X-Frame-Options"] == "DENY"
    assert "Set-Cookie" not in answer.headers
    assert public.post("/").status_code == 405


def test_nothing_live_says_so(site, public):
    Revision.objects.all().delete()
    answer = public.get("/")
    assert (answer.status_code, answer.content) == (503, b"Nothing is published here yet.\n")


def test_a_page_that_is_gone_from_the_draft_stays_live_until_published(api, public, site):
    site.pages.filter(path="/about").update(gone=True)
    site.version += 1
    site.inventory_version += 1
    site.save()
    shown = api.get("preview", path="/about").json()
    assert (shown["asked"], shown["path"], shown["instead"]) == ("/about", "/404", True)
    assert public.get("/about").status_code == 200


def test_a_draft_is_packed_before_its_site_is_locked_and_anew_only_where_somebody_saved_meanwhile(
    api, site, monkeypatch
):
    """Whoever saves waits for the lock, so that what takes long comes before it."""
    done = []
    pack, lock = live.packed, locking.lock_site
    monkeypatch.setattr(f"{services.__name__}.packed", lambda *given: done.append("packed") or pack(*given))
    monkeypatch.setattr(f"{services.__name__}.lock_site", lambda slug: done.append("locked") or lock(slug))
    api.post("rules", {**RULE, "name": "First"})
    services.publish("marrowick", None)
    assert done == ["packed", "locked"]

    def save_meanwhile(*given):
        found = pack(*given)
        if "late" not in done:
            done.append("late")
            api.post("rules", {**RULE, "name": "Late"})
        return found

    api.post("rules", {**RULE, "name": "Second"})
    done.clear()
    monkeypatch.setattr(f"{services.__name__}.packed", save_meanwhile)
    newest = services.publish("marrowick", None)
    names = [one.name for one in open_revision(newest).layout.rules]
    assert {"First", "Second", "Late"} <= set(names), "what goes live is the draft of that moment, whole"
