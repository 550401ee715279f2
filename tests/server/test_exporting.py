"""A site as files: what a static host serves is what the published site answers, and nobody else's files are touched."""

import io
import json
import os
import zipfile
from dataclasses import replace
from datetime import datetime

import pytest
from django.test import Client, override_settings
from hypothesis import given
from hypothesis import strategies as st

from navrel.core.language.visitor import Lens, Visitor
from navrel.server.exporting import views
from navrel.server.exporting.folder import MANIFEST, Folder, NoFolder, file_of
from navrel.server.exporting.writing import export
from navrel.server.inventory.models import Site
from navrel.server.inventory.services import finish_intake, make_empty_site, start_intake
from navrel.server.inventory.staging import stage_files
from navrel.server.publishing.live import as_if_live, live
from navrel.server.publishing.services import publish
from navrel.server.settings import delivery
from navrel.server.sitestate.draft import draft

from .test_delivery import RULE


@pytest.fixture
def state(site):
    found = live(site)
    assert found is not None
    return found


@pytest.fixture
def asked(site):
    def ask(path, host="testserver"):
        with override_settings(
            ROOT_URLCONF=delivery.ROOT_URLCONF, MIDDLEWARE=delivery.MIDDLEWARE, ALLOWED_HOSTS=["testserver"]
        ):
            answer = Client().get(path, headers={"Host": host})
            return b"".join(answer) if answer.streaming else answer.content

    return ask


def anyone(state):
    return Lens(Visitor(accepts=(state.document.language,)), state.document.now())


def files(folder):
    return {str(path.relative_to(folder)): path.read_bytes() for path in folder.rglob("*") if path.is_file()}


def test_every_page_is_the_file_of_its_address_and_all_that_it_needs_is_there(state, asked, tmp_path):
    report = export(state, Folder(tmp_path / "out"), anyone(state), workers=1)
    written = files(tmp_path / "out")
    assert report.files == len(written) - 1 and sorted(report.written) == sorted(set(written) - {MANIFEST})
    for page in state.index.tree.pages:
        if page.kind not in ("missing", "search"):
            assert written[file_of(page.href)] == asked(page.href), page.href
    assert written["404.html"] == asked("/no/such") and written["robots.txt"] == asked("/robots.txt")
    own = [name for name in written if name.startswith("-/")]
    assert any(name.endswith(".css") for name in own) and any(name.endswith(".svg") for name in own)
    for name in own:
        assert written[name] == asked(f"/{name}"), name
    assert report.problems == ["what /search finds: files search nothing"]
    assert "/about" in report.several["signed"] and report.until > anyone(state).moment


def test_a_second_run_writes_only_what_is_another_and_takes_away_what_is_gone(state, api, site, tmp_path):
    lens = anyone(state)
    export(state, Folder(tmp_path), lens, workers=1)
    before = {name: (tmp_path / name).stat().st_mtime_ns for name in files(tmp_path)}
    again = export(state, Folder(tmp_path), lens, workers=1)
    assert (again.written, again.removed) == ([], [])
    api.post("rules", {**RULE, "condition": {"include": "within:/harbours"}})
    site.pages.filter(path="/help").update(gone=True)
    Site.objects.filter(pk=site.pk).update(version=site.version + 5, inventory_version=site.inventory_version + 5)
    site.refresh_from_db()
    newer = as_if_live(site, draft(site))
    looked = export(newer, Folder(tmp_path, only_looks=True), lens, workers=1)
    assert {name: (tmp_path / name).stat().st_mtime_ns for name in files(tmp_path)} == before
    done = export(newer, Folder(tmp_path), lens, workers=1)
    assert (done.written, done.removed) == (looked.written, looked.removed)
    assert "help.html" in done.removed and not (tmp_path / "help.html").exists()
    harbours = {file_of(page.href) for page in newer.document.pages if page.path.startswith("/harbours")}
    assert harbours <= {*done.written}
    after = {name: (tmp_path / name).stat().st_mtime_ns for name in files(tmp_path)}
    assert {name for name in after if before.get(name) != after[name]} == {*done.written, MANIFEST}


def test_pages_in_their_own_html_are_written_byte_by_byte_with_their_files(site, tmp_path):
    made = make_empty_site("skerry", "Skerry", "https://skerry.example", "in-place")
    sent = {
        "index.html": b"<!DOCTYPE html><TITLE>Skerry</title><body><main>Boats <a href=inner.html>in</a></main>\r\n",
        "inner.html": b"<title>Inner</title><body><main>Inner &nbsp;</main>", "deep/site.css": b"p{}", "boat.svg": b"<svg/>",
    }  # fmt: skip
    intake = start_intake("skerry", None)
    stage_files(intake, list(sent.items()))
    finish_intake(intake)
    publish("skerry", None, "")
    state = live(made)
    assert state is not None
    export(state, Folder(tmp_path), anyone(state), workers=1)
    written = files(tmp_path)
    assert {name: written[name] for name in sent} == sent
    assert {"robots.txt", "sitemap.xml"} <= {*written}


def test_another_visitor_at_another_moment_gets_other_files(state, api, site, tmp_path):
    schedule = {"from": "2199-01-01T00:00"}
    api.post(
        "rules",
        {**RULE, "condition": {"include": "page:/about", "visitors": {"include": "role:crew"}, "schedule": schedule}},
    )
    newer = as_if_live(site, draft(site))
    for roles, year, slim in (
        (frozenset(), 2199, False),
        (frozenset({"crew"}), 2198, False),
        (frozenset({"crew"}), 2199, True),
    ):
        lens = Lens(Visitor("in" if roles else "out", roles), datetime(year, 6, 1))
        export(newer, Folder(tmp_path), lens, workers=1)
        assert (b'data-piece="slim-header"' in (tmp_path / "about.html").read_bytes()) is slim


def test_what_would_be_a_file_and_a_folder_is_one_of_them_and_named(state, tmp_path):
    digest = "0" * 64
    assets = {"/harbours": (digest, "text/plain"), "/about.html/x.txt": (digest, "text/plain")}
    aliases = {"/about.html/": "/about", "/old": "/about", "/old.html/deep": "/help"}
    report = export(replace(state, assets=assets, aliases=aliases), Folder(tmp_path), anyone(state), workers=1)
    written = files(tmp_path)
    assert {"about.html", "harbours.html", "old.html/deep.html"} <= {*written}
    assert b'content="0; url=/help"' in written["old.html/deep.html"]
    assert [line for line in report.problems if "file and a folder" in line] == [
        f"{name} would be a file and a folder"
        for name in ("harbours", "about.html/x.txt", "about.html/index.html", "old.html")
    ]


@pytest.mark.parametrize(
    ("address", "name"),
    [("/", "index.html"), ("/about", "about.html"), ("/a/", "a/index.html"), ("/a/b.html", "a/b.html"), ("/v1.2/x", "v1.2/x.html"),
     ("/v1.2", "v1.2.html"), ("/old.php", "old.php.html"), ("/a.htm", "a.htm"),
     ("/.well", ".well.html"), ("/ø", "ø.html")],
)  # fmt: skip
def test_an_address_has_one_file(address, name):
    assert file_of(address) == name


@pytest.mark.parametrize("address", ["/..", "/../x", "/a/../../x", "/a//b", "//x", "/./x", "/a\0b", "/" + "a" * 300])
def test_an_address_that_is_no_file_is_left_out(address):
    with pytest.raises(ValueError, match=r"is no path|too long"):
        file_of(address)


@given(st.text(max_size=40))
def test_no_address_leads_out_of_the_folder(text):
    try:
        name = file_of(f"/{text}")
    except ValueError:
        return
    assert os.path.normpath(name) == name and not name.startswith(("/", ".."))


def test_what_others_put_there_is_not_touched(tmp_path):
    (tmp_path / "diary.txt").write_text("mine")
    with pytest.raises(NoFolder, match="holds files that no export put there"):
        Folder(tmp_path)
    with pytest.raises(NoFolder, match="is no folder"):
        Folder(tmp_path / "diary.txt")
    (tmp_path / "out").mkdir()
    folder = Folder(tmp_path / "out")
    folder.begin({"a/b.html"})
    assert folder.put("a/b.html", b"x") and not folder.put("a/b.html", b"x")
    (tmp_path / "out" / "a" / "own.txt").write_text("mine")
    assert Folder(tmp_path / "out").finish(set()) == ["a/b.html"]
    assert set(files(tmp_path / "out")) == {"a/own.txt", MANIFEST}
    (tmp_path / "out" / "link").symlink_to(tmp_path)
    with pytest.raises(NoFolder, match="leads out of the folder"):
        Folder(tmp_path / "out").put("link/x.html", b"x")
    with pytest.raises(NoFolder, match="is a folder where a file has to be"):
        Folder(tmp_path / "out").put("a", b"x")
    for told in ("{", "[]", '{"format": 9, "files": []}'):
        (tmp_path / "out" / MANIFEST).write_text(told)
        with pytest.raises(NoFolder, match="cannot be read"):
            Folder(tmp_path / "out")
    (tmp_path / "out" / MANIFEST).write_text(
        json.dumps({"format": 1, "files": ["../diary.txt", "/etc/passwd", "link/diary.txt"]})
    )
    assert Folder(tmp_path / "out").finish(set()) == []
    assert (tmp_path / "diary.txt").read_text() == "mine"


def test_on_screen_a_revision_is_one_archive_of_the_same_files(state, api, tmp_path, monkeypatch):
    export(state, Folder(tmp_path), anyone(state), workers=1)
    number = state.revision.number
    answer = api.get(f"revisions/{number}/files.zip")
    assert answer.headers["Content-Disposition"] == f'attachment; filename="marrowick-{number}.zip"'
    with zipfile.ZipFile(io.BytesIO(b"".join(answer))) as archive:
        assert archive.testzip() is None
        packed = {name: archive.read(name) for name in archive.namelist()}
    assert packed == {name: data for name, data in files(tmp_path).items() if name != MANIFEST}
    assert api.get("revisions/999/files.zip").status_code == 404
    monkeypatch.setattr(views, "MOST_PAGES", 100)
    refused = api.get(f"revisions/{number}/files.zip")
    assert (refused.status_code, refused.json()["code"]) == (409, "many-pages")
    assert f"./navrel export marrowick FOLDER --revision {number}" in refused.json()["detail"]
