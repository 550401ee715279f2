"""What the checks find, as the API tells it: about what, in words, with its pages, and anew after each edit."""

import hashlib

from django.contrib.auth.models import User
from django.db import transaction

from navrel.rendering.sanitising import sanitise
from navrel.server.inventory.decoding import MAX_FILE
from navrel.server.inventory.models import Content, Page
from navrel.server.inventory.services import make_empty_site
from navrel.server.inventory.sources import take_in_folder
from navrel.server.library.services import make_piece
from navrel.server.sitestate.locking import lock_site


def rule_on(include):
    return {
        "name": "Wind up there",
        "condition": {"include": include},
        "actions": [{"do": "append", "slot": "above-header", "piece": "wind-line"}],
    }


def findings(api, **query):
    return api.get("findings", **query).json()


def test_findings_lead_to_the_rule_or_the_piece_that_they_are_about(api):
    made = api.post("rules", rule_on("page:/nowhere-at-all")).json()
    found = [one for one in findings(api)["items"] if one["rule"] == made["id"]]
    assert {one["check"] for one in found} >= {"gone"}
    assert all(one["what"] and one["why"] and one["mend"] and one["piece"] is None for one in found)
    assert not [one for one in findings(api)["items"] if one["rule"] == made["id"] + 1]


def test_what_is_said_twice_on_a_page_is_told_after_the_edit_and_not_before(api):
    def doubled():
        told = [one for one in findings(api)["items"] if one["check"] == "twice" and one["piece"] == "winter-notice"]
        return [page["path"] for one in told for page in one["pages"]]

    assert "/contact" not in doubled()
    api.post("rules", rule_on("page:/contact"))
    assert "/contact" in doubled()


def test_the_list_is_bounded(api):
    whole = findings(api)
    part = findings(api, limit=1, offset=1)
    assert part["items"] == whole["items"][1:2]
    assert part["total"] == whole["total"] > 2


def aside(api, key, reason="It comes with the spring timetable"):
    address = f"/api/sites/marrowick/findings/{key}/aside"
    return api.client.put(address, {"reason": reason}, content_type="application/json")


def test_a_finding_is_let_be_with_a_reason_until_anything_of_it_changes(api):
    made = api.post("rules", rule_on("page:/nowhere-at-all")).json()

    def gone():
        return next(one for one in findings(api)["items"] if one["rule"] == made["id"] and one["check"] == "gone")

    key = gone()["key"]
    assert gone()["aside"] is None
    assert aside(api, key).status_code == 204
    assert gone()["aside"] == {"reason": "It comes with the spring timetable", "by": "una"}
    # Something else is edited: it stays aside. The thing itself changes: it is told again.
    api.post("rules", {**rule_on("page:/contact"), "name": "Another"})
    assert gone()["aside"] is not None
    api.put(f"rules/{made['id']}", rule_on("page:/nowhere-at-all,/nowhere-else"), made["version"])
    assert gone()["aside"] is None
    assert gone()["key"] != key


def test_it_is_told_again_when_somebody_wants_to(api):
    key = findings(api)["items"][0]["key"]
    aside(api, key)
    address = f"/api/sites/marrowick/findings/{key}/aside"
    assert api.client.delete(address).status_code == 204
    assert findings(api)["items"][0]["aside"] is None
    assert api.client.delete(address).status_code == 404


def test_only_what_is_found_is_let_be_and_only_with_a_reason(api):
    key = findings(api)["items"][0]["key"]
    assert aside(api, key, "  ").status_code == 422
    assert aside(api, "0" * 64).status_code == 404
    assert findings(api)["items"][0]["aside"] is None


def test_what_is_wrong_in_the_pages_own_text_is_told_and_gone_once_they_are_taken_in_again(api, site):
    def told(check):
        return [one for one in findings(api)["items"] if one["check"] == check]

    assert told("page-link") == told("no-alt") == told("id-twice") == []
    about = Page.objects.select_related("content").get(site=site, path="/about")
    right = about.content

    def says(html):
        with transaction.atomic():
            lock_site(site.slug, inventory=True)
            clean = sanitise(html)
            digest = hashlib.sha256(clean.encode()).hexdigest()
            about.content, _ = Content.objects.get_or_create(digest=digest, defaults={"html": clean, "text": ""})
            about.save()

    says('<h2 id="x">A</h2><h4 id="x">B</h4><a href="/sold">c</a><a href="/files/map.pdf">d</a><img src="/a.png">')
    (link,) = told("page-link")
    assert link["what"] == "1 page leads to /sold, where there is no page"
    assert [page["path"] for page in link["pages"]] == ["/about"]
    assert (link["rule"], link["piece"]) == (None, None)
    assert [len(told(check)) for check in ("no-alt", "id-twice", "heading-order")] == [1, 1, 1]
    about.content = right
    with transaction.atomic():
        lock_site(site.slug, inventory=True)
        about.save()
    assert told("page-link") == []


def test_what_leads_to_files_and_to_what_leads_on_is_no_finding(api, tmp_path):
    links = ["/plan.html", "/map of boats.html", "/map%20of%20boats.html", "/boats/", "/old/", "/-/files/0/a.pdf"]
    written = "".join(f'<a href="{link}">x</a>' for link in (*links, "/gone"))
    (tmp_path / "index.html").write_text(f"<title>Shore</title><main>{written}</main>")
    (tmp_path / "old").mkdir()
    (tmp_path / "old" / "index.html").write_text('<meta http-equiv="refresh" content="0; url=/"><title>Old</title>')
    (tmp_path / "boats").mkdir()
    # Too large to be pages: they are served as they are.
    for name in ("plan.html", "map of boats.html", "boats/index.html"):
        (tmp_path / name).write_text("<title>Large</title>" + "<p>Boats</p>" * (MAX_FILE // 10))
    make_empty_site("shore", "Shore", "", "in-place", by=User.objects.get(username="una"))
    take_in_folder("shore", tmp_path)
    items = [{"type": "button", "text": link, "href": link} for link in (*links, "/lost")]
    make_piece("shore", {"kind": "header", "name": "Top", "content": {"items": items}})
    found = api.get("/api/sites/shore/findings").json()["items"]
    said = [one["what"] for one in found if one["check"] in ("page-link", "dead-link")]
    assert sorted(said) == [
        "1 page leads to /gone, where there is no page",
        "“Top” leads to /lost, where there is no page",
    ]


WRAPS = {
    "kind": "wraps",
    "piece": "legal-footer",
    "slot": "footer",
    "words": "The menu Legal wraps onto 2 lines",
    "widths": ["phone", "tablet"],
    "paths": ["/contact", "/about", "/gone"],
}


def measure(api, *items, version=1):
    body = {"version": version, "items": list(items)}
    return api.client.put("/api/sites/marrowick/measured", body, content_type="application/json")


def drawn(api):
    return [one for one in findings(api)["items"] if one["check"].startswith("drawn-")]


def test_what_a_browser_measured_joins_the_findings_until_it_is_measured_again(api):
    assert api.get("measured").status_code == 204
    own = {**WRAPS, "kind": "ink", "piece": "", "slot": "", "widths": ["desktop"], "words": "“Far” stands out 1.2 to 1"}
    assert measure(api, WRAPS, own, version=7).json() == {**api.get("measured").json(), "version": 7, "by": "una"}
    wraps, ink = drawn(api)
    assert wraps["what"] == "The menu Legal wraps onto 2 lines on a phone and a tablet, in “Legal footer”"
    assert (wraps["piece"], wraps["slot"], wraps["width"], wraps["severity"]) == (
        "legal-footer", "footer", "phone", "warning",
    )  # fmt: skip
    assert ([page["path"] for page in wraps["pages"]], wraps["page_count"]) == (["/about", "/contact"], 2)
    assert (ink["piece"], "in the page's own content" in ink["what"]) == (None, True)
    assert aside(api, wraps["key"]).status_code == 204
    # Another edit leaves it as it was measured; measured again, only what is still so is told.
    api.post("rules", rule_on("page:/contact"))
    assert [one["aside"] is not None for one in drawn(api)] == [True, False]
    measure(api, own)
    assert [one["check"] for one in drawn(api)] == ["drawn-ink"]


def test_what_was_measured_of_pieces_and_pages_that_are_gone_is_told_of_no_more(api):
    measure(api, {**WRAPS, "piece": "never-was"}, {**WRAPS, "paths": ["/gone"]})
    assert drawn(api) == []


def test_what_cannot_have_been_measured_is_refused_and_nothing_is_kept(api):
    for wrong in ({"kind": "odd"}, {"widths": []}, {"words": "x" * 301}, {"words": "\0"}, {"paths": "all"}):
        assert measure(api, WRAPS, {**WRAPS, **wrong}).status_code in (400, 422)
    assert measure(api, *[WRAPS] * 501).status_code == 422
    assert api.get("measured").status_code == 204
