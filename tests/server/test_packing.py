"""How a published state is kept, read again, made to last and let go."""

import gc
import gzip

import orjson
import pytest

from navrel.core.files.writing import write_document
from navrel.core.layout.document import SiteDocument
from navrel.core.pages.page import Page
from navrel.server.publishing import packing
from navrel.server.publishing.packing import Unreadable, pack, unpack
from navrel.server.sitestate.lasting import let_go, made_to_last

PATHS = ["/", *(f"/routes/{number}" for number in range(7))]
DOCUMENT = SiteDocument("Marrowick", "marrowick", pages=tuple(Page(path, f"Page {path}") for path in PATHS))
BESIDE = {
    "contents": {path: f"digest of {path}" for path in PATHS},
    "originals": {path: {"digest": path} for path in PATHS[:3]},
    "assets": {},
    "aliases": {"/old": "/routes/1"},
    "rule_ids": [3, 1, 2],
    "shelf": {},
}


@pytest.fixture
def small_slices(monkeypatch):
    monkeypatch.setattr(packing, "_SLICE", 3)


def lines_of(archive):
    return [orjson.loads(line) for line in gzip.decompress(archive).splitlines()]


def test_a_state_comes_out_of_its_slices_as_it_went_in(small_slices):
    written = write_document(DOCUMENT)
    archive = pack(written, BESIDE)
    head, *slices = lines_of(archive)
    assert head["slices"] == {"pages": 3, "contents": 3, "originals": 1, "assets": 0}
    assert [len(one) for one in slices] == [3, 3, 2, 3, 3, 2, 3]
    found = unpack(archive)
    assert write_document(found.document) == written
    assert found.beside == BESIDE


def test_what_was_kept_before_there_were_slices_is_read():
    written = write_document(DOCUMENT)
    found = unpack(gzip.compress(orjson.dumps({"document": written, **BESIDE})))
    assert (write_document(found.document), found.beside) == (written, BESIDE)


@pytest.mark.parametrize("lines", [0, 1, 2, 4, 7])
def test_an_archive_that_breaks_off_is_unreadable(small_slices, lines):
    whole = gzip.decompress(pack(write_document(DOCUMENT), BESIDE)).splitlines(keepends=True)
    with pytest.raises(Unreadable):
        unpack(gzip.compress(b"".join(whole[:lines])))


@pytest.mark.parametrize("line", [b"", b"[]", b"{}", b'{"document": {}}', b"rubbish"])
def test_what_is_no_archive_is_unreadable(line):
    for broken in (line, gzip.compress(line)):
        with pytest.raises(Unreadable):
            unpack(broken)


def test_a_damaged_archive_is_unreadable():
    archive = pack(write_document(DOCUMENT), BESIDE)
    with pytest.raises(Unreadable):
        unpack(archive[: len(archive) // 2])


def test_cycles_are_looked_for_again_when_nothing_is_being_made():
    with pytest.raises(LookupError), made_to_last(many=True):
        with made_to_last(many=True):
            assert not gc.isenabled()
        assert not gc.isenabled()
        raise LookupError
    assert gc.isenabled()
    with made_to_last(many=False):
        assert gc.isenabled()


def test_what_is_let_go_is_emptied_part_by_part():
    few, many = [object()], [object() for _ in range(1200)]
    parts = [many, few]
    let_go(parts)
    assert (parts, few, many) == ([], [], [])
