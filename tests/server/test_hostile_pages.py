"""Files that mean harm, each with what becomes of it: the reason why it is skipped, or what is kept of it."""

import json
import os
import signal
import threading
import time

import pytest
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile

from navrel.server.accounts.models import Membership
from navrel.server.inventory import folders
from navrel.server.inventory import reader as readers
from navrel.server.inventory.decoding import Unreadable
from navrel.server.inventory.models import Site, Term
from navrel.server.inventory.reader import Reader, a_reader
from navrel.server.inventory.sources import take_in_folder
from navrel.server.publishing.services import publish


def page(head="", body="<p>Words.</p>", title="Quay"):
    return f"<!doctype html><html lang=en><head>{head}</head><body><main><h1>{title}</h1>{body}</main></body></html>"


def fresh_site():
    """A site of the client's own, without pages."""
    site = Site.objects.create(slug="fresh", name="Fresh")
    Membership.objects.create(site=site, user=get_user_model().objects.get(username="una"), role="owner")
    return site


def linked(tree):
    return page(f'<script type="application/ld+json">{json.dumps(tree)}</script>')


def article(**more):
    return linked({"@type": "Article", **more})


TAGS, ATTRIBUTES = "tags; 250,000 is the most", "attributes; 100,000 is the most"
REFERENCES = "character references; 100,000 is the most"

#: Files by what is in them, and the end of the reason why they are skipped.
SKIPPED = {
    "400,000 attributes on one element": (page(body=f"<p {' '.join(f'a{n}=1' for n in range(400_000))}>"), ATTRIBUTES),
    "a million paragraphs": (page(body="<p>" * 1_000_000), TAGS),
    "a million opening brackets": (page(body="<" * 1_000_000), TAGS),
    "a million ampersands": (page(body="<p>" + "&amp;" * 1_000_000), REFERENCES),
    "NUL near the beginning": (page(title="Qu\0ay"), "binary, not text"),
    "300,000 comments": (page(body="<!---->" * 300_000), TAGS),
    "nothing": ("", "holds no HTML"),
    "text": ("Hello", "holds no HTML"),
    "binary": ("\0\1\2\3", "binary, not text"),
    "too large": ("<p>" + "x" * (5 * 1024 * 1024), "larger than 5 MB"),
}

#: Files that go in, with a fact that is read of each.
TAKEN = {
    "200,000 tags": (page(body="<p><b>x</b>" * 70_000), "title", "Quay"),
    "90,000 ampersands": (page(body="<p>" + "&amp;" * 90_000), "title", "Quay"),
    "deep nesting": (page(body="<div>" * 3000 + "x"), "title", "Quay"),
    "a graph of 90,000": (linked({"@graph": [{"@type": "Thing", "n": n} for n in range(90_000)]}), "title", "Quay"),
    "JSON-LD 100,000 deep": (page(f'<script type="application/ld+json">{"[" * 100_000}</script>'), "title", "Quay"),
    "NUL in the canonical link": (page('<link rel=canonical href="/a%00b">'), "path", "/ab"),
    "direction in the canonical link": (page('<link rel=canonical href="/a%E2%80%AEb">'), "path", "/ab"),
    "half an address": (page('<link rel=canonical href="http://[x">'), "path", "/file"),
    "half an address in the breadcrumbs": (
        linked({"@type": "BreadcrumbList", "itemListElement": [{"item": "http://[x"}, {"item": "http://[y"}]}), "parent", "",
    ),
    "many slashes in the canonical link": (page('<link rel=canonical href="////evil.example//a">'), "path", "/evil.example/a"),
    "dots in the canonical link": (page('<link rel=canonical href="/../../etc/passwd">'), "path", "/etc/passwd"),
    "spaces in the canonical link": (page('<link rel=canonical href="/a%20b">'), "path", "/a-b"),
    "a long path": (page(f'<link rel=canonical href="/{"a" * 5000}">'), "path", "/" + "a" * 999),
    "a script for a title": (page(title="<script>alert(1)</script>Quay"), "title", "Quay"),
    "NUL far down": (page("<meta name=x content='" + "x" * 5000 + "'>", title="Qu\0ay"), "title", "Quay"),
    "direction in the title": (page(title="Qu\u202eay"), "title", "Quay"),
    "a title of 10,000": (page(title="a" * 10_000), "title", "a" * 500),
    "an author of 500": (article(author={"name": "a" * 500}), "author", "a" * 80),
    "an author of marks": (article(author={"name": "!!!"}), "author", "x"),
    "an author that is a list": (article(author=[[["x"]]]), "author", ""),
    "an author that is a number": (article(author=5), "author", ""),
    "a lone surrogate for an author": (page('<script type="application/ld+json">{"author": "\\ud800"}</script>'), "author", ""),
    "a long term of which the cut ends in a hyphen": (
        page(f'<meta property="article:tag" content="{"a" * 79} b">'), "terms", [f"topic/{'a' * 79}"],
    ),
    "a thousand terms": (page("".join(f'<meta property="article:tag" content="t{n}">' for n in range(1000))), "terms", 200),
    "a field with a direction": (
        article(additionalProperty={"name": "vessel", "value": "Aur\u202eora"}), "fields", {"vessel": "Aurora"},
    ),
    "fields that are none": (article(additionalProperty=[1, "x", {"name": 1, "value": 2}]), "fields", {"1": "2"}),
    "a listing of a name of 500": (
        linked({"@type": "CollectionPage", "about": {"@type": "Person", "name": "a" * 500}}), "lists", "author/" + "a" * 80,
    ),
    "a type that is a list": (linked({"@type": [["Article"]]}), "type", ""),
    "a language that is none": (page().replace("lang=en", 'lang="; drop"'), "language", ""),
    "a language of 500": (page().replace("lang=en", f'lang="{"a" * 500}"'), "language", ""),
    "a date that is none": (article(datePublished="2026-99-99"), "published", None),
    "a date that is a list": (article(datePublished=["2026-01-01"]), "published", None),
    "slots of odd names": (page(body='<slot name="../x"></slot><slot name="offers"></slot>'), "slots", ["offers"]),
    "an unknown charset": (b'<html><meta charset="nonsense"><body><main><h1>caf\xe9</h1>', "title", "caf\u00e9"),
    "a charset that is no encoding of text": (b'<html><meta charset="base64"><body><main><h1>caf\xe9</h1>', "title", "caf\u00e9"),
    "a charset that refuses everything": (b'<html><meta charset="undefined"><body><main><h1>caf\xe9</h1>', "title", "caf\u00e9"),
    "an entity bomb": ('<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>' + page(body="<p>&b;"), "title", "Quay"),
    "an outside entity": ('<!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/passwd">]>' + page(body="<p>&a;"), "title", "Quay"),
}  # fmt: skip


@pytest.fixture(scope="module")
def reader():
    made = Reader()
    yield made
    made.close()


def as_bytes(text):
    return text if isinstance(text, bytes) else text.encode()


@pytest.mark.parametrize("name", SKIPPED)
def test_a_file_that_is_too_much_is_skipped_with_the_reason(reader, name):
    text, reason = SKIPPED[name]
    with pytest.raises(Unreadable) as caught:
        reader.read("file.html", as_bytes(text))
    assert str(caught.value).endswith(reason)


@pytest.mark.parametrize("name", TAKEN)
def test_an_odd_file_goes_in_with_facts_that_are_fit(reader, name):
    text, fact, value = TAKEN[name]
    found = reader.read("file.html", as_bytes(text))
    stated = found.path if fact == "path" else found.facts[fact]
    assert (len(stated) if isinstance(value, int) else stated) == value
    json.dumps(found.facts).encode()


@pytest.mark.parametrize(
    "file", [".", "..", "...html", ".html", "", "/", "a\0b.html", "a\u202eb.html", "\\\\host\\a.html", "x" * 3000]
)
def test_a_file_of_any_name_has_a_path(reader, file):
    path = reader.read(file, page().encode()).path
    assert path.startswith("/") and "//" not in path and "\0" not in path and "\u202e" not in path
    assert len(path) <= 1000


def test_a_file_that_takes_too_long_is_stopped_and_named(monkeypatch):
    monkeypatch.setattr(readers, "MAX_SECONDS", 0.5)
    made = Reader()
    made._started().send_signal(signal.SIGSTOP)
    begun = time.monotonic()
    with pytest.raises(Unreadable, match=r"took longer than 0\.5 seconds"):
        made.read("slow.html", b"<main>")
    assert time.monotonic() - begun < 10
    monkeypatch.undo()
    assert made.read("next.html", page().encode()).facts["title"] == "Quay", "the next file goes on"
    made.close()


def test_a_machine_that_is_busy_with_other_things_takes_nothing_from_the_time_of_a_file(monkeypatch):
    monkeypatch.setattr(readers, "MAX_SECONDS", 1)
    made = Reader()
    process = made._started()
    process.send_signal(signal.SIGSTOP)
    going_on = threading.Timer(1.5, process.send_signal, [signal.SIGCONT])
    going_on.start()
    assert made.read("late.html", page().encode()).facts["title"] == "Quay"
    going_on.join()
    made.close()


def test_a_reader_that_dies_is_replaced():
    made = Reader()
    made._started().kill()
    made._process.wait()
    assert made.read("next.html", page().encode()).facts["title"] == "Quay"
    made.close()


def test_a_reader_is_kept_for_the_next_who_asks():
    with a_reader() as first:
        first.read("a.html", page().encode())
    with a_reader() as second:
        assert second is first


def test_a_bad_file_is_named_and_the_others_go_in(api, db):
    fresh_site()
    intake = api.post("/api/sites/fresh/intakes").json()["id"]
    files = {
        "bad.html": SKIPPED["a million paragraphs"][0],
        "good.html": page(),
        "a\u202eb.html": page(title="Odd name"),
    }
    form = {
        "files": [SimpleUploadedFile("x", text.encode()) for text in files.values()], "names": list(files),
    }  # fmt: skip
    assert api.client.post(f"/api/sites/fresh/intakes/{intake}", form).status_code == 200
    report = api.client.post(f"/api/sites/fresh/intakes/{intake}/finish").json()
    assert (report["pages"], [note["file"] for note in report["skipped"]]) == (2, ["bad.html"])


def test_pipes_devices_and_links_in_a_folder(db, tmp_path):
    Site.objects.create(slug="fresh", name="Fresh")
    folder, outside = tmp_path / "site", tmp_path / "elsewhere"
    for place in (folder / "isles", outside):
        place.mkdir(parents=True)
    (folder / "index.html").write_text(page(title="Home"))
    (folder / "isles" / "hestan.html").write_text(page(title="Hestan"))
    (outside / "secret.html").write_text(page(title="Secret"))
    os.mkfifo(folder / "pipe.html")
    (folder / "device.html").symlink_to("/dev/zero")
    (folder / "inside.html").symlink_to(folder / "isles" / "hestan.html")
    (folder / "secret.html").symlink_to(outside / "secret.html")
    (folder / "linked").symlink_to(folder / "isles")
    (folder / "loop").symlink_to(folder)
    (folder / "out").symlink_to(outside)
    (folder / "nowhere.html").symlink_to(folder / "none.html")
    report = take_in_folder("fresh", folder)
    assert {note["file"]: note["reason"] for note in report["skipped"]} == {
        "pipe.html": "no plain file, but a pipe, a socket or a device",
        "device.html": "a link that leads out of the folder; it is not followed",
        "secret.html": "a link that leads out of the folder; it is not followed",
        "out": "a link that leads out of the folder; it is not followed",
        "nowhere.html": "cannot be opened: No such file or directory",
    }
    titles = set(Site.objects.get(slug="fresh").pages.values_list("title", flat=True))
    assert titles == {"Home", "Hestan"}


def test_a_folder_that_is_linked_to_keeps_its_addresses_and_those_by_the_link_lead_there(
    api, db, tmp_path, monkeypatch
):
    site = fresh_site()
    folder = tmp_path / "site"
    (folder / "v2" / "isles").mkdir(parents=True)
    (folder / "index.html").write_text(page(title="Home"))
    (folder / "v2" / "index.html").write_text(page(title="Version 2"))
    (folder / "v2" / "isles" / "on foot.html").write_text(page(title="Isles"))
    (folder / "v2" / "site.css").write_text("p { color: navy }")
    # By name it comes before the folder that it leads to.
    (folder / "latest").symlink_to("v2")
    (folder / "v2" / "v2").symlink_to(".")
    report = take_in_folder("fresh", folder)
    assert (report["pages"], report["skipped"]) == (3, [])
    assert set(site.pages.values_list("path", flat=True)) == {"/", "/v2", "/v2/isles/on-foot"}
    led = dict(site.aliases.values_list("address", "target"))
    assert led["/latest/"] in ("/v2/", "/v2/index.html")
    assert led["/latest/isles/on foot.html"] == led["/v2/v2/isles/on foot.html"] == "/v2/isles/on%20foot.html"
    assert site.assets.get(address="/latest/site.css").digest == site.assets.get(address="/v2/site.css").digest
    monkeypatch.setattr(folders, "MOST_LED_ON", 2)
    report = take_in_folder("fresh", folder)
    assert [note["file"] for note in report["skipped"]] == ["latest", "v2/v2"]


def test_a_tag_of_81_letters_does_not_break_the_published_site(api, db, tmp_path):
    site = fresh_site()
    (tmp_path / "index.html").write_text(page(f'<meta property="article:tag" content="{"a" * 79} bcd">'))
    take_in_folder("fresh", tmp_path)
    assert Term.objects.get(taxonomy__site=site).slug == "a" * 79
    assert publish("fresh", None).number == 1
    assert api.client.get("/api/sites/fresh").json()["live"]["number"] == 1
