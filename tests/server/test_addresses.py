"""A site from a folder, as it is served: every address that a file had answers, and everything beside the pages too."""

import pytest
from django.test import Client, override_settings

from navrel.server.inventory.assets import forget_unnamed, keep, place_of
from navrel.server.inventory.models import Asset, Intake, Site
from navrel.server.inventory.services import make_empty_site
from navrel.server.inventory.sources import take_in_folder
from navrel.server.outcomes.findings import findings
from navrel.server.publishing.services import publish
from navrel.server.settings import delivery
from navrel.server.sitestate.draft import draft

PAGE = '<!doctype html><html><head><title>{0}</title><link rel=stylesheet href="{2}skin/site.css"></head><body><main>{1}</main>'
FILES: dict[str, str | bytes] = {
    "index.html": PAGE.format("Isles", '<a href="boats.html#new">Boats</a> <a href="isles/">Isles</a>', ""),
    "boats.html": PAGE.format("Boats", '<img src="pictures/boat.png" alt="A boat"> <a href="./old.html">Old</a>', ""),
    "isles/index.html": PAGE.format(
        "The isles", '<a href="hestan.html">Hestan</a> <a href="../boats.html">Boats</a>', "../"
    ),
    "isles/hestan.html": PAGE.format("Hestan", '<a href="index.html">Up</a> <a href="../isles.html">Both</a>', "../"),
    "isles.html": PAGE.format("All isles", "Two files with one path", ""),
    "old.html": '<meta http-equiv="refresh" content="0; url=boats.html"><title>Old</title><body>Moved',
    "moved.html": PAGE.format("Moved", "x", "").replace("<link", '<link rel="canonical" href="/now"><link'),
    "skin/site.css": "body { color: teal }",
    "pictures/boat.png": b"\x89PNG\r\n\x1a\n",
    "paper.pdf": b"%PDF-1.7",
    "old/frames.html": "<html><frameset><frame src=a.html></frameset></html>",
    "running.html": PAGE.format(
        "Running", "<p>a</p><script>x()</script><iframe src=a></iframe><iframe src=b></iframe>", ""
    ),
    "map.svg": "<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>",
    "no-suffix": "<!DOCTYPE html><title>Bare</title><body><main>Bare</main>",
    ".git/config": "hidden",
    "signs/.html": PAGE.format("Stroke", "The page of a sign that no file can be called", "../"),
    "blank/index.html": "no page at all",
    "notes.txt": "0123456789" * 90,
    ".well-known/security.txt": "Contact: mailto:quay@skerry.example",
}


@pytest.fixture
def folder(tmp_path):
    for name, text in FILES.items():
        place = tmp_path / "site" / name
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_bytes(text if isinstance(text, bytes) else text.encode())
    return tmp_path / "site"


@pytest.fixture
def public(site, folder):
    """The published site of the folder."""
    make_empty_site("skerry", "Skerry", "https://skerry.example")
    take_in_folder("skerry", folder)
    publish("skerry", None, "")
    with override_settings(
        ROOT_URLCONF=delivery.ROOT_URLCONF, MIDDLEWARE=delivery.MIDDLEWARE, ALLOWED_HOSTS=["127.0.0.1"]
    ):
        yield lambda path, **headers: Client().get(path, headers={"Host": "skerry.localhost", **headers})


@pytest.mark.parametrize(
    "path", ["/", "/boats.html", "/isles/", "/isles/hestan.html", "/isles.html", "/now", "/no-suffix", "/signs/.html"]
)
def test_a_page_is_served_at_the_address_that_its_file_had(public, path):
    assert public(path).status_code == 200


@pytest.mark.parametrize(
    ("path", "target"),
    [
        ("/index.html", "/"), ("/boats", "/boats.html"), ("/boats/", "/boats.html"), ("/boats.htm?a=1", "/boats.html?a=1"),
        ("/isles/index.html", "/isles/"), ("/isles/hestan", "/isles/hestan.html"), ("/old.html", "/boats.html"),
        ("/moved.html?b=2", "/now?b=2"), ("/no-suffix/", "/no-suffix"),
    ],
)  # fmt: skip
def test_every_other_form_of_an_address_leads_there(public, path, target):
    answer = public(path)
    assert (answer.status_code, answer.headers["Location"]) == (308, target)


def test_every_link_between_pages_that_was_alive_is_alive(public):
    asked, alive = ["/"], set()
    while asked:
        path = asked.pop()
        if path in alive:
            continue
        answer = public(path)
        if answer.status_code == 308:
            answer = public(answer.headers["Location"])
        assert answer.status_code == 200, path
        alive.add(path)
        text = answer.getvalue().decode("utf-8", "replace")
        links = [part.split('"')[0] for part in text.split('href="')[1:] + text.split('src="')[1:]]
        asked += [link.split("#")[0] for link in links if link.startswith("/") and not link.startswith("//")]
    assert {"/boats.html", "/isles/", "/isles/hestan.html", "/isles.html", "/old.html", "/pictures/boat.png"} <= alive


@pytest.mark.parametrize(
    ("path", "media_type"),
    [
        ("/skin/site.css", "text/css; charset=utf-8"), ("/pictures/boat.png", "image/png"), ("/paper.pdf", "application/pdf"),
        ("/map.svg", "image/svg+xml"), ("/.well-known/security.txt", "text/plain; charset=utf-8"),
    ],
)  # fmt: skip
def test_what_is_no_page_is_served_as_it_was_with_its_type(public, path, media_type):
    answer = public(path)
    data = FILES[path[1:]]
    assert (answer.status_code, answer.headers["Content-Type"]) == (200, media_type)
    assert answer.getvalue() == (data if isinstance(data, bytes) else data.encode())
    assert answer.headers["X-Content-Type-Options"] == "nosniff"
    assert f'filename="{path.rpartition("/")[2]}"' in answer.headers["Content-Disposition"]
    assert public(path, **{"If-None-Match": answer.headers["ETag"]}).status_code == 304
    squeezed = public(path, **{"Accept-Encoding": "gzip"}).headers.get("Content-Encoding")
    assert squeezed is None or not path.endswith((".png", ".pdf"))


@pytest.mark.parametrize(
    ("asked", "begin", "end"),
    [("bytes=0-3", 0, 4), ("bytes=4-", 4, 900), ("bytes=-10", 890, 900), ("bytes=10-10", 10, 11), ("bytes=5-99999", 5, 900)],
)  # fmt: skip
def test_a_part_of_a_file_is_given_to_who_asks_for_it(public, asked, begin, end):
    whole = public("/notes.txt")
    assert whole.headers["Accept-Ranges"] == "bytes"
    # Nothing may squeeze it: the places are those of the file.
    part = public("/notes.txt", Range=asked, **{"Accept-Encoding": "gzip"})
    assert part.status_code == 206
    assert part.getvalue() == FILES["notes.txt"].encode()[begin:end]
    assert part.headers["Content-Range"] == f"bytes {begin}-{end - 1}/900"
    assert part.headers["Content-Length"] == str(end - begin)
    assert part.headers["ETag"] == whole.headers["ETag"]


def test_what_changed_since_the_first_part_is_given_whole(public):
    etag = public("/notes.txt").headers["ETag"]
    statuses = {
        stated: public("/notes.txt", Range="bytes=0-3", **{"If-Range": stated}).status_code
        for stated in (etag, '"another"', "Sat, 28 Nov 2026 10:00:00 GMT")
    }
    assert statuses == {etag: 206, '"another"': 200, "Sat, 28 Nov 2026 10:00:00 GMT": 200}


@pytest.mark.parametrize("asked", ["bytes=900-", "bytes=5000-6000"])
def test_a_part_that_is_not_there_is_told_of(public, asked):
    answer = public("/notes.txt", Range=asked)
    assert (answer.status_code, answer.headers["Content-Range"]) == (416, "bytes */900")


@pytest.mark.parametrize(
    "asked", ["bytes=0-1,5-6", "pages=1-2", "bytes=b-a", "bytes=9-3", "rubbish", "bytes=" + "9" * 5000 + "-"]
)
def test_what_is_asked_for_otherwise_is_given_whole(public, asked):
    assert public("/notes.txt", Range=asked).status_code == 200


def test_a_drawing_with_a_script_cannot_run_it(public):
    assert "sandbox" in public("/map.svg").headers["Content-Security-Policy"]


def test_what_is_no_page_to_be_read_as_one_is_served_as_it_is(public):
    answer = public("/old/frames.html")
    assert (answer.status_code, answer.headers["Content-Type"]) == (200, "text/html; charset=utf-8")
    assert answer.getvalue().decode() == FILES["old/frames.html"]
    folder = public("/blank/")
    assert (folder.status_code, folder.getvalue()) == (200, b"no page at all")
    assert public("/blank/index.html").status_code == 200
    policy = answer.headers["Content-Security-Policy"]
    assert "sandbox" in policy and "script-src 'none'" in policy and "default-src 'self'" in policy


def test_what_is_hidden_in_a_folder_is_not_taken_in(public):
    assert public("/.git/config").status_code == 404


def test_what_cannot_stay_is_counted_and_frames_are_named(public):
    (report,) = Intake.objects.filter(site__slug="skerry").values_list("report", flat=True)
    assert report["dropped"] == [{"element": "iframe", "count": 2}, {"element": "script", "count": 1}]
    assert report["skipped"] == [
        {"file": ".git", "reason": "a hidden folder; it is left out with all that is in it"},
        {"file": "blank/index.html", "reason": "holds no HTML; served as it is"},
        {"file": "old/frames.html", "reason": "is made of frames; each of them is a page of its own; served as it is"},
    ]


def test_no_link_that_answers_is_told_of_as_one_that_leads_nowhere(public):
    site = Site.objects.get(slug="skerry")
    assert [one for one in findings("skerry", draft(site)) if one.check == "page-link"] == []


def test_programs_are_told_which_pages_there_are(public):
    told = public("/sitemap.xml").content.decode()
    assert told.count("<loc>") == 9
    assert "<loc>https://skerry.example/isles/hestan.html</loc>" in told
    assert "Sitemap: https://skerry.example/sitemap.xml" in public("/robots.txt").content.decode()


def test_what_a_revision_names_is_kept_and_what_nothing_names_is_taken_away(public, folder, monkeypatch):
    stopped = keep(b"of an intake that was stopped")
    (folder / "paper.pdf").write_bytes(b"%PDF-1.8")
    (folder / "map.svg").unlink()
    report = take_in_folder("skerry", folder)
    assert report["assets"] == 7
    assert Asset.objects.filter(site__slug="skerry", current=True).count() == 7
    monkeypatch.setattr("navrel.server.inventory.assets._LEFT_FOR", -1)
    assert forget_unnamed() == 1
    assert not place_of(stopped).exists()
    # Live is still what was published.
    assert public("/paper.pdf").getvalue() == b"%PDF-1.7"
    assert public("/map.svg").status_code == 200
    publish("skerry", None, "")
    assert public("/paper.pdf").getvalue() == b"%PDF-1.8"
    assert public("/map.svg").status_code == 404
