"""Draft and live, revisions, previews, and the published site."""

import pytest
from django.test import Client, override_settings

from navrel.server.problems import Refused
from navrel.server.publishing.models import Revision
from navrel.server.publishing.services import publish
from navrel.server.rules.models import Rule

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
        with override_settings(ROOT_URLCONF="navrel.server.delivery.urls", ALLOWED_HOSTS=["testserver"]):
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
    changes = api.get("changes").json()
    assert [(part["what"], part["how"], part["name"]) for part in changes["parts"]] == [
        ("rule", "added", "Harbour header")
    ]
    assert changes["pages"] == 9
    assert [(one["target"], one["before"]["pieces"], one["after"]["pieces"], one["pages"]) for one in changes["targets"]] == [
        ("header", ["main-header"], ["slim-header"], 9)
    ]  # fmt: skip
    made = api.post("revisions", {"note": "Harbours", "version": changes["version"]})
    assert made.status_code == 201
    assert slim in public.get("/harbours/norrvoe").content
    assert slim not in public.get("/routes").content
    assert api.get("changes").json()["parts"] == []
    assert api.get("").json()["live"]["number"] == 2
    revisions = api.get("revisions").json()
    assert [(one["number"], one["live"], one["note"]) for one in revisions] == [
        (2, True, "Harbours"),
        (1, False, "The demo site as it comes"),
    ]


def test_a_draft_edited_since_its_changes_were_looked_at_is_not_published(api):
    version = api.get("changes").json()["version"]
    api.post("rules", RULE)
    answer = api.post("revisions", {"version": version})
    assert (answer.status_code, answer.json()["code"]) == (422, "edited-meanwhile")
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
        ("/", ['data-piece="main-header"', 'data-piece="site-footer"'], ['data-slot="title"']),
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
    assert api.get("preview", path="/about").status_code == 404
    assert public.get("/about").status_code == 200
