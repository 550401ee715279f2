"""Pages from tables of facts, and whole sources sent as one file."""

import io
import json
import zipfile

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from navrel.server.api.errors import Refused
from navrel.server.inventory.facts import page_of
from navrel.server.inventory.models import Site
from navrel.server.inventory.services import make_empty_site
from navrel.server.inventory.sources import take_in_folder
from navrel.server.sitestate.draft import draft

pytestmark = pytest.mark.django_db

CSV = (
    "url,Title,Type,parent,terms/topic,author,published,language,Vessel\r\n"
    "https://line.example/,The line,,,,,,,\r\n"
    'https://line.example/log/one,"One, with a comma",article,/boats,sea;Gulls,Imre Holt,2026-03-01,en-GB,Aurora\r\n'
    "/boats,Boats,listing-no-kind,,,,someday,,\r\n"
    "https://elsewhere.example/x,Elsewhere,,,,,,,\r\n"
    ",Nameless,,,,,,,\r\n"
)


@pytest.fixture
def line():
    return make_empty_site("line", "The line", "https://line.example")


def pages(site):
    return {page.path: page_of(page, "en") for page in site.pages.filter(gone=False)}


def test_a_row_of_csv_is_a_page_with_its_facts_and_what_is_none_is_named(line, tmp_path):
    (tmp_path / "pages.csv").write_bytes(b"\xef\xbb\xbf" + CSV.encode())
    report = take_in_folder("line", tmp_path / "pages.csv")
    found = pages(line)
    assert set(found) == {"/", "/log/one", "/boats"}
    one = found["/log/one"]
    assert (one.title, one.type, one.parent, one.terms) == (
        "One, with a comma", "article", "/boats", ("topic/sea", "topic/gulls"),
    )  # fmt: skip
    assert (one.author, str(one.published), one.language, dict(one.fields)) == (
        "imre-holt", "2026-03-01", "en-GB", {"vessel": "Aurora"},
    )  # fmt: skip
    assert (found["/"].kind, found["/boats"].published, found["/boats"].type) == ("home", None, "listing-no-kind")
    assert draft(Site.objects.get(pk=line.pk)).document.term_names["topic/gulls"] == "Gulls"
    assert report["skipped"] == [
        {"file": "pages.csv:5", "reason": "https://elsewhere.example/x is not on this site"},
        {"file": "pages.csv:6", "reason": "names no page: it has none of path, address, url, loc"},
    ]


def test_json_lines_are_pages_and_what_is_no_object_is_named(line, tmp_path):
    rows = [
        {"path": "/a", "title": "A", "terms": ["topic/Sea", "Gulls"], "fields": {"no": "field"}, "seats": 12},
        {"path": "/a/b", "kind": "listing", "parent": "/"},
    ]
    text = "\n".join([*map(json.dumps, rows), "", "[1]", "{", json.dumps({"path": "/c", "title": "x" * 900})])
    (tmp_path / "pages.jsonl").write_text(text)
    report = take_in_folder("line", tmp_path / "pages.jsonl")
    found = pages(line)
    assert (found["/a"].terms, dict(found["/a"].fields)) == (("topic/sea", "topic/gulls"), {"seats": "12"})
    assert (found["/a/b"].kind, found["/a/b"].title, found["/a/b"].parent) == ("listing", "/a/b", "/")
    assert len(found["/c"].title) == 500
    assert [one["file"] for one in report["skipped"]] == ["pages.jsonl:4", "pages.jsonl:5"]


def test_a_table_comes_again_as_a_folder_does(line, tmp_path):
    table = tmp_path / "pages.csv"
    table.write_text("path;title\n/a;A\n/b;B\n")
    take_in_folder("line", table)
    table.write_text("path;title\n/a;A again\n/c;C\n")
    report = take_in_folder("line", table)
    assert (report["added"], report["updated"], report["gone"]) == (1, 1, 1)
    assert {path: page.title for path, page in pages(line).items()} == {"/a": "A again", "/c": "C"}


@pytest.mark.parametrize(
    ("name", "data", "told"),
    [
        ("pages.csv", b"path,title\n/a,\xe6\xf8\n", "not written in UTF-8"),
        ("pages.csv", b"path,title\n/a,'" + b"x" * 200_000 + b"\n", "cannot be read as CSV"),
        ("pages.csv", b"", "No page was found"),
        ("pages.jsonl", b"null\n", "No page was found"),
    ],
)
def test_a_table_that_cannot_be_read_changes_nothing(line, tmp_path, name, data, told):
    (tmp_path / name).write_bytes(data)
    with pytest.raises(Refused, match=told):
        take_in_folder("line", tmp_path / name)
    assert (line.pages.count(), line.intakes.count()) == (0, 0)


def test_a_table_is_not_written_over_pages_that_came_with_their_files(line, tmp_path):
    (tmp_path / "index.html").write_text("<html><body><main><h1>Home</h1></main></body></html>")
    (tmp_path / "pages.csv").write_text("path,title\n/,Other\n")
    take_in_folder("line", tmp_path)
    with pytest.raises(Refused, match="a table has facts alone"):
        take_in_folder("line", tmp_path / "pages.csv")
    assert pages(line)["/"].title == "Home"


def send(api, name, data):
    number = api.post("intakes").json()["id"]
    file = SimpleUploadedFile(name, data)
    answer = api.client.post(f"/api/sites/marrowick/intakes/{number}/source", {"file": file})
    return number, answer


def test_an_archive_and_a_table_are_sent_as_one_file(api, site):
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as archive:
        archive.writestr("site/about.html", "<html><body><main><h1>About boats</h1></main></body></html>")
        archive.writestr("site/pic.png", b"\x89PNG")
    number, answer = send(api, "../../site.zip", packed.getvalue())
    assert (answer.status_code, answer.json()["files"]) == (200, 1), answer.json()
    assert api.post(f"intakes/{number}/finish").json()["assets"] == 1
    assert site.pages.get(path="/about").title == "About boats"
    number, answer = send(api, "pages.csv", b"path\n/x\n")
    assert (answer.status_code, "a table has facts alone" in answer.json()["title"]) == (422, True)


@pytest.mark.parametrize("name", ["pages.txt", "site.zip", "x.csv.exe", "odd\u2028name"])
def test_what_is_no_source_is_refused_by_its_name(api, site, name):
    before = site.pages.count()
    _, answer = send(api, name, b"no source at all")
    assert answer.status_code == 422
    assert "no archive, no WARC file and no table" in answer.json()["title"]
    assert site.pages.count() == before
