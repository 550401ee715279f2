"""Taking in what a crawler wrote down."""

import gzip
from io import BytesIO

import pytest
from warcio.statusandheaders import StatusAndHeaders
from warcio.warcwriter import WARCWriter

from navrel.server.api.errors import Refused
from navrel.server.inventory.services import make_empty_site
from navrel.server.inventory.sources import take_in_folder
from navrel.server.inventory.warc import is_warc, warc_files

pytestmark = pytest.mark.django_db
SITE = "https://skerry.example"


def page(title):
    return f"<!doctype html><title>{title}</title><body><main><h1>{title}</h1><p>Boats.</p></main>".encode()


def written(folder, *answers, name="crawl.warc.gz"):
    """A WARC file of some answers: address, status, body, and headers."""
    target = folder / name
    with target.open("wb") as file:
        writer = WARCWriter(file, gzip=name.endswith(".gz"))
        for address, status, body, *headers in answers:
            told = StatusAndHeaders(f"{status} Told", [("Content-Type", "text/html"), *headers], protocol="HTTP/1.1")
            writer.write_record(
                writer.create_warc_record(address, "response", payload=BytesIO(body), http_headers=told)
            )
        writer.write_record(
            writer.create_warc_record(f"{SITE}/asked", "request", payload=BytesIO(b"GET / HTTP/1.1\r\n"))
        )
    return target


def test_answers_become_pages_files_and_addresses_that_lead_on(tmp_path):
    site = make_empty_site("skerry", "Skerry", SITE)
    squeezed = [("Content-Encoding", "gzip")]
    source = written(
        tmp_path,
        (f"{SITE}/", 200, page("Start")),
        (f"{SITE}/routes/", 200, gzip.compress(page("Routes")), *squeezed),
        (f"{SITE}/times.php", 200, page("Times")),
        (f"{SITE}/f%C3%A6rge", 200, page("Færge")),
        (f"{SITE}/boat.png", 200, b"\x89PNG"),
        (f"{SITE}/old", 301, b"", ("Location", "/routes/")),
        (f"{SITE}/away", 302, b"", ("Location", "https://elsewhere.example/")),
        (f"{SITE}/gone", 404, page("Gone")),
        (f"{SITE}/routes/?page=2", 200, page("Two")),
        ("https://cdn.example/x.js", 200, b"x()"),
    )
    report = take_in_folder("skerry", source)
    assert (report["pages"], report["assets"]) == (4, 1)
    told = dict(site.pages.values_list("path", "title"))
    assert told == {"/": "Start", "/routes": "Routes", "/times.php": "Times", "/færge": "Færge"}
    assert site.aliases.get(address="/old").target == "/routes/"
    assert {one["file"]: one["reason"] for one in report["skipped"]} == {
        "away": "leads on to https://elsewhere.example/, which is elsewhere",
        "gone": "was answered with 404",
        "routes/index.html?page=2": "an address with a query; a page has one without",
        "https://cdn.example/x.js": "of another site",
    }


def test_the_site_is_that_of_the_first_answer_where_nobody_says(tmp_path):
    source = written(
        tmp_path, ("http://a.example/", 200, page("A")), ("http://b.example/", 200, page("B")), name="x.warc"
    )
    assert is_warc(source)
    assert [name for name, data in warc_files(source) if isinstance(data, bytes)] == ["index.html"]


@pytest.mark.parametrize(
    "data",
    [b"", b"WARC/1.0\r\nbroken", gzip.compress(b"WARC/1.0\r\n\r\n", mtime=0)[:-6], b"\x1f\x8bnot gzip"],
    ids=("nothing", "no record", "broken off", "no gzip"),
)
def test_what_is_broken_is_refused_and_leaves_nothing(tmp_path, data):
    make_empty_site("skerry", "Skerry")
    source = tmp_path / "broken.warc"
    source.write_bytes(data)
    with pytest.raises(Refused):
        take_in_folder("skerry", source)
