"""Taking pages in: from a folder that the test writes, with broken files among whole ones."""

import sys

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from navrel.cli.site import intake
from navrel.server.api.errors import Missing, Refused
from navrel.server.edits.models import Edit
from navrel.server.edits.services import undo
from navrel.server.inventory import sources
from navrel.server.inventory.decoding import MAX_FILE
from navrel.server.inventory.folders import LARGEST, folder_files
from navrel.server.inventory.models import Content, Intake, Page, Site, StagedPage
from navrel.server.inventory.services import find_intake, finish_intake, start_intake, stop_intake
from navrel.server.inventory.sources import take_in_folder
from navrel.server.inventory.staging import read_files, stage_files
from navrel.server.publishing.services import publish
from navrel.server.publishing.weighing import weigh_intake
from navrel.server.rules.models import Rule


def html(title, body="<p>Some words here.</p>", head=""):
    return f"<!doctype html><html lang=en><head>{head}</head><body><main><h1>{title}</h1>{body}</main></body></html>"


@pytest.fixture
def folder(tmp_path):
    (tmp_path / "isles").mkdir()
    (tmp_path / "index.html").write_text(html("Home"))
    (tmp_path / "isles" / "index.html").write_text(html("Isles"))
    (tmp_path / "isles" / "hestan.html").write_text(
        html("Hestan", head='<meta property="article:tag" content="Walking">')
    )
    (tmp_path / "isles" / "latin.html").write_bytes(html("Øyer").encode("latin-1"))
    (tmp_path / "broken.html").write_text("<main><h1>Broken<p>never closed")
    (tmp_path / "binary.html").write_bytes(bytes(range(256)) * 40)
    (tmp_path / "empty.html").write_text("")
    (tmp_path / "huge.html").write_bytes(b"<p>" + b"x" * (5 * 1024 * 1024))
    (tmp_path / "twice.html").write_text(html("Twice", head='<link rel="canonical" href="/isles/hestan">'))
    (tmp_path / "style.css").write_text("p{}")
    return tmp_path


@pytest.fixture
def fresh(db):
    return Site.objects.create(slug="fresh", name="Fresh")


def test_a_folder_is_taken_in_and_what_is_no_page_is_named(fresh, folder):
    told = []
    report = take_in_folder("fresh", folder, told.append)
    # What is huge ends its batch.
    assert told == [4, 10]
    # Those that hold no page are served as they are, but for the one whose address is another's.
    assert (report["assets"], report["aliases"]) == (4, 1)
    assert (report["pages"], report["added"], report["updated"], report["gone"]) == (5, 5, 0, 0)
    assert {note["file"]: note["reason"] for note in report["skipped"]} == {
        "binary.html": "binary, not text; served as it is",
        "empty.html": "holds no HTML; served as it is",
        "huge.html": "larger than 5 MB; served as it is",
        "twice.html": "same address as isles/hestan.html: /isles/hestan",
    }
    assert {note["file"]: note["reason"] for note in report["remarks"]} == {
        "isles/latin.html": "decoded as windows-1252"
    }
    assert list(fresh.pages.values_list("path", "title")) == [
        ("/", "Home"), ("/broken", "Broken"), ("/isles", "Isles"), ("/isles/hestan", "Hestan"), ("/isles/latin", "Øyer"),
    ]  # fmt: skip
    assert list(fresh.taxonomies.get().terms.values_list("slug", "name")) == [("walking", "Walking")]
    assert not StagedPage.objects.exists()


def test_taking_the_same_folder_in_again_updates_adds_and_marks_as_gone(fresh, folder):
    take_in_folder("fresh", folder)
    rule = Rule.objects.create(site=fresh, name="kept", position=1, condition={"include": "page:/isles/hestan"})
    (folder / "isles" / "hestan.html").unlink()
    (folder / "twice.html").unlink()
    (folder / "isles" / "index.html").write_text(html("The isles"))
    (folder / "new.html").write_text(html("New"))
    report = take_in_folder("fresh", folder)
    assert (report["added"], report["updated"], report["unchanged"], report["gone"], report["returned"]) == (
        1,
        1,
        3,
        1,
        0,
    )
    assert report["added_pages"] == [{"file": "/new", "reason": "New"}]
    assert report["updated_pages"] == [{"file": "/isles", "reason": "title"}]
    assert report["gone_pages"] == [{"file": "/isles/hestan", "reason": "Hestan"}]
    assert fresh.pages.get(path="/isles").title == "The isles"
    assert fresh.pages.get(path="/isles/hestan").gone
    rule.refresh_from_db()
    assert rule.condition == {"include": "page:/isles/hestan"}
    (folder / "isles" / "hestan.html").write_text(html("Hestan again"))
    back = take_in_folder("fresh", folder)
    assert (back["returned"], back["added_pages"]) == (1, [{"file": "/isles/hestan", "reason": "is back again"}])
    assert not fresh.pages.get(path="/isles/hestan").gone


def test_only_pages_that_come_in_keep_what_was_said_by_hand(fresh, folder):
    take_in_folder("fresh", folder)
    fresh.pages.filter(path__in=["/isles", "/isles/hestan"]).update(corrections={"title": "By hand"})
    (folder / "isles" / "hestan.html").unlink()
    (folder / "twice.html").unlink()
    assert take_in_folder("fresh", folder)["corrected"] == 1


@pytest.mark.parametrize(("changed", "differs"), [
    (html("Home"), ""),
    (html("Home", "<p>Other words.</p>"), "content"),
    (html("Home").replace("<body>", '<meta property="og:type" content="product"><body>'), "type"),
    (html("Home").replace("<body>", "<body><!-- changed -->"), "what stands around its content"),
])  # fmt: skip
def test_what_of_a_page_differs_is_told(fresh, folder, changed, differs):
    (folder / "index.html").write_text(html("Home"))
    take_in_folder("fresh", folder)
    (folder / "index.html").write_text(changed)
    report = take_in_folder("fresh", folder)
    assert report["updated_pages"] == ([{"file": "/", "reason": differs}] if differs else [])
    assert report["updated"] == bool(differs)


def test_the_same_content_is_kept_once(fresh, folder):
    before = Content.objects.count()
    for name in ("a", "b", "c"):
        (folder / f"{name}.html").write_text(html(name, "<p>One text, three pages.</p>"))
    take_in_folder("fresh", folder)
    digests = set(fresh.pages.filter(path__in=["/a", "/b", "/c"]).values_list("content", flat=True))
    assert len(digests) == 1
    take_in_folder("fresh", folder)
    assert Content.objects.count() - before <= 8


def test_a_folder_without_pages_changes_nothing(fresh, tmp_path):
    with pytest.raises(Refused, match="No page was found"):
        take_in_folder("fresh", tmp_path)
    assert not Intake.objects.filter(site=fresh).exists()


def test_a_ring_of_parents_is_undone_and_told(fresh, tmp_path):
    crumbs = '<script type="application/ld+json">{{"@type":"BreadcrumbList","itemListElement":[{{"item":"https://m.example{}"}},{{"item":""}}]}}</script>'
    (tmp_path / "a.html").write_text(html("A", head=crumbs.format("/b")))
    (tmp_path / "b.html").write_text(html("B", head=crumbs.format("/a")))
    (tmp_path / "c.html").write_text(html("C", head=crumbs.format("/a")))
    report = take_in_folder("fresh", tmp_path)
    assert report["remarks"] == [
        {"file": "a.html", "reason": "its parent /b stands below it in a ring, so it stands in its folder"},
        {"file": "b.html", "reason": "its parent /a stands below it in a ring, so it stands in its folder"},
    ]
    assert dict(fresh.pages.values_list("path", "parent")) == {"/a": "", "/b": "", "/c": "/a"}


def test_a_stopped_intake_leaves_the_site_as_it_was(fresh):
    intake = start_intake("fresh", None)
    stage_files(intake, [("a.html", html("A").encode())])
    stop_intake(intake)
    assert not fresh.pages.exists()
    with pytest.raises(Missing):
        find_intake("fresh", intake.pk or 0)


def test_a_finished_intake_is_closed(fresh):
    intake = start_intake("fresh", None)
    stage_files(intake, [("a.html", html("A").encode())])
    finish_intake(intake)
    with pytest.raises(Missing):
        find_intake("fresh", intake.pk)


def test_files_come_over_the_api_in_batches(api, site):
    number = api.post("intakes").json()["id"]
    names = ["index.html", "north/index.html"]
    files = [SimpleUploadedFile("index.html", html(name).encode(), "text/html") for name in names]
    path = f"/api/sites/marrowick/intakes/{number}"
    answer = api.client.post(path, {"files": files, "names": names, "too_large": ["big.html"]})
    assert (answer.json()["id"], answer.json()["files"]) == (number, 3)
    mismatched = api.client.post(path, {"files": [SimpleUploadedFile("x.html", b"<p>")], "names": ["a.html", "b.html"]})
    assert mismatched.status_code == 400
    report = api.post(f"intakes/{number}/finish").json()
    assert (report["pages"], report["gone"], report["skipped"]) == (
        2,
        131,
        [{"file": "big.html", "reason": "too large to be sent by a browser; the command line takes it"}],
    )
    assert api.get("").json()["pages"] == 2
    assert api.get("intakes").json()["items"][0]["by"] == "una"
    assert Rule.objects.filter(site=site).count() == 25


def test_taking_in_a_thousand_files_reads_in_batches(fresh, tmp_path, monkeypatch):
    """No more is ever held than one batch that is read, and one that is written."""
    monkeypatch.setattr(sources, "BATCH", 50)
    for number in range(220):
        (tmp_path / f"p{number}.html").write_text(html(f"Page {number}"))
    held = []

    def read(intake, files):
        files = list(files)
        held.append(len(files))
        return read_files(intake, files)

    monkeypatch.setattr(sources, "read_files", read)
    assert take_in_folder("fresh", tmp_path)["pages"] == 220
    assert max(held) == 50
    assert Page.objects.filter(site=fresh).count() == 220


def test_large_files_are_read_in_smaller_batches(fresh, tmp_path, monkeypatch):
    monkeypatch.setattr(sources, "_BATCH_BYTES", 150)
    for number in range(5):
        (tmp_path / f"{number}.html").write_text(html(f"Page {number}"))
    told = []
    report = take_in_folder("fresh", tmp_path, told.append)
    size = len(html("Page 0"))
    assert 75 < size < 150, "two of them are more than a batch"
    assert told == [2, 4, 5] and report["added"] == 5


def test_nothing_of_what_was_read_is_held_once_it_is_staged(fresh):
    intake = start_intake("fresh", None)
    # Each of the few reasons for many files is there once, and must not remember the files.
    files = [("page.html", html("Page").encode()), ("huge.html", bytes(MAX_FILE + 1)), ("away", LARGEST)]
    held = [sys.getrefcount(data) for _, data in files]
    staged = read_files(intake, files)
    assert [bool(one.page and one.page.skipped) for one in staged] == [False, True, True]
    del staged
    assert [sys.getrefcount(data) for _, data in files] == held
    assert LARGEST.__traceback__ is None


def test_names_of_any_length_and_two_of_one_name_come_in_or_are_named(fresh):
    intake = start_intake("fresh", None)
    long, wide = f"{'a' * 990}.html", f"{'漢' * 990}.html"
    stage_files(
        intake,
        [("index.html", html("Home").encode()), (long, html("Long").encode()), (wide, html("Wide").encode()),
         ("a.html", html("First").encode()), ("a.html", html("Second").encode()), (f"{wide}.css", b"p{}")],
    )  # fmt: skip
    report = finish_intake(intake)
    assert sorted(fresh.pages.values_list("title", flat=True)) == ["Home", "Long", "Second"]
    assert [note["reason"] for note in report["skipped"]] == ["has a name of more than 1,500 bytes"] * 2


def test_what_was_said_of_a_page_follows_where_it_moved_and_can_be_undone(fresh, folder):
    (folder / "twice.html").unlink()
    (folder / "isles" / "hestan.html").write_text(html("Hestan", "<p>This stands here alone.</p>"))
    take_in_folder("fresh", folder)
    rule = Rule.objects.create(
        site=fresh, name="pinned", position=1,
        condition={"include": "page:/isles/hestan,/ | within:/isles/hestan", "exclude": "-page:/isles/hestan type:x"},
    )  # fmt: skip
    kept = Rule.objects.create(site=fresh, name="kept", position=2, condition={"include": 'page:"/isles/hestan/x"'})
    menu = [{"slug": "main", "name": "Main", "entries": [{"text": "Isles", "entries": [{"page": "/isles/hestan"}]}]}]
    guards = [{"name": "g", "condition": {"include": "page:/isles/hestan"}, "demand": {"is": "bare", "slot": "footer"}}]
    Site.objects.filter(pk=fresh.pk).update(menus=menu, guards=guards)
    fresh.pages.filter(path="/isles/hestan").update(corrections={"title": "Hestan by hand"})
    (folder / "harbours").mkdir()
    (folder / "isles" / "hestan.html").rename(folder / "harbours" / "hestan.html")
    report = take_in_folder("fresh", folder)
    assert (report["added"], report["gone"], report["moved_count"]) == (1, 1, 1)
    assert report["moved"] == [{"file": "/isles/hestan", "reason": "is /harbours/hestan now"}]
    rule.refresh_from_db()
    assert rule.condition == {
        "include": "page:/harbours/hestan,/ | within:/harbours/hestan", "exclude": "-page:/harbours/hestan type:x",
    }  # fmt: skip
    kept.refresh_from_db()
    assert (kept.version, kept.condition) == (1, {"include": 'page:"/isles/hestan/x"'})
    fresh.refresh_from_db()
    assert fresh.menus[0]["entries"][0]["entries"] == [{"page": "/harbours/hestan"}]
    assert fresh.guards[0]["condition"]["include"] == "page:/harbours/hestan"
    assert fresh.pages.get(path="/harbours/hestan").corrections == {"title": "Hestan by hand"}
    undo("fresh", None, Edit.objects.filter(site=fresh).latest("number").number)
    rule.refresh_from_db()
    assert rule.condition["include"] == "page:/isles/hestan,/ | within:/isles/hestan"


def test_what_an_intake_would_come_to_is_told_and_leaves_nothing(fresh, folder):
    take_in_folder("fresh", folder)
    publish("fresh", None, "")
    fresh.refresh_from_db()
    (folder / "new.html").write_text(html("New"))
    (folder / "isles" / "index.html").write_text(html("The isles", "<p>Other words.</p>"))
    intake = start_intake("fresh", None)
    stage_files(intake, folder_files(folder))
    report, weighed = weigh_intake(intake)
    assert (report["added"], report["updated"], report["gone"]) == (1, 1, 0)
    assert weighed.impact.paths == {"/new", "/isles"}
    assert list(fresh.pages.filter(gone=False).values_list("title", flat=True).order_by("path"))[2] == "Isles"
    assert Site.objects.get(pk=fresh.pk).version == fresh.version
    assert finish_intake(find_intake("fresh", intake.pk))["added"] == 1
    look = take_in_folder("fresh", folder, look=weigh_intake)
    assert (look["added"], look["changed"]) == (0, 0)
    assert Intake.objects.filter(site=fresh, finished=None).count() == 0


@pytest.mark.parametrize("look", [False, True])
def test_of_what_is_said_of_many_files_the_command_line_names_a_few(fresh, tmp_path, capsys, look):
    for number in range(6):
        (tmp_path / f"{number}.html").write_text(f"<title>Page {number}</title><p>Boats {number}</p>")
    (tmp_path / "broken.html").write_text("")
    intake(str(tmp_path), fresh.slug, look, anew=False, as_json=False)
    lines = capsys.readouterr().out.splitlines()
    assert [line for line in lines if "guess" in line or line.startswith("  …")] == [
        *(f"  {number}.html: has no main element; the content is a guess" for number in range(3)),
        "  … the same of 3 more",
    ]


def test_where_every_page_is_headed_by_the_name_of_the_site_title_elements_name_them(fresh, tmp_path):
    for number in range(5):
        text = f"<title>Pier {number} | Marrowick</title><h1>Marrowick</h1><p>Text</p>"
        (tmp_path / f"pier-{number}.html").write_text(text)
    take_in_folder(fresh.slug, tmp_path)
    titles = fresh.pages.filter(gone=False, path__startswith="/pier").order_by("path").values_list("title", flat=True)
    assert list(titles) == [f"Pier {number}" for number in range(5)]
