"""How a published state is kept, read again, made to last and let go."""

import gc
import gzip
from dataclasses import replace

import orjson
import pytest

from navrel.core.files.writing import write_document
from navrel.core.layout.document import SiteDocument, Taxonomy, TaxonomyTerm
from navrel.core.layout.model import Layout, Piece, Rule
from navrel.core.pages.page import Page
from navrel.core.pages.table import PageTable
from navrel.server.inventory.originals import FrozenOriginal
from navrel.server.publishing import packing
from navrel.server.publishing.live import open_revision
from navrel.server.publishing.models import Revision
from navrel.server.publishing.packing import Unreadable, pack, unpack, unpack_layout
from navrel.server.sitestate.lasting import let_go, made_to_last

PATHS = ["/", *(f"/routes/{number}" for number in range(7))]
DOCUMENT = SiteDocument("Marrowick", "marrowick", pages=tuple(Page(path, f"Page {path}") for path in PATHS))
ORIGINALS = {path: FrozenOriginal(f"file of {path}", "utf-8", (), (3, 8)) for path in PATHS[:3]}
CONTENTS = {path: f"digest of {path}" for path in PATHS}
STANDS = {path: frozenset({("header", "top"), ("footer", "foot")}) for path in PATHS[:2]}
BESIDE = {
    "contents": CONTENTS,
    "originals": ORIGINALS,
    "assets": {"/ferry.png": ("digest of a picture", "image/png")},
    "stands": STANDS,
    "aliases": {"/old": "/routes/1"},
    "rule_ids": [3, 1, 2],
    "shelf": {},
}


def written_beside():
    """What is kept besides, as `packed` writes it."""
    stands = {path: sorted(one) for path, one in STANDS.items()}
    return {**BESIDE, "originals": {path: one.written for path, one in ORIGINALS.items()}, "stands": stands}


@pytest.fixture
def small_slices(monkeypatch):
    monkeypatch.setattr(packing, "_SLICE", 3)


def lines_of(archive):
    return [orjson.loads(line) for line in gzip.decompress(archive).splitlines()]


def test_a_state_comes_out_of_its_slices_as_it_went_in(small_slices):
    written = write_document(DOCUMENT)
    archive = pack(written, written_beside())
    head, *slices = lines_of(archive)
    assert head["slices"] == {"pages": 3, "contents": 3, "originals": 1, "assets": 1, "stands": 1}
    assert [len(one) for one in slices] == [3, 3, 2, 3, 3, 2, 3, 1, 2]
    found = unpack(archive)
    assert write_document(found.document) == written
    assert found.beside == BESIDE


def test_what_two_archives_have_in_common_is_there_once(small_slices):
    older = unpack(pack(write_document(DOCUMENT), written_beside()))
    renamed = write_document(replace(DOCUMENT, name="Marrowick Ferries"))
    found = unpack(pack(renamed, written_beside()), older)
    assert found.document.name == "Marrowick Ferries"
    assert found.document.pages is older.document.pages
    assert found.document.tree is older.document.tree
    assert all(found.beside[name] is older.beside[name] for name in ("contents", "originals", "assets", "stands"))
    assert len({id(one) for one in older.beside["stands"].values()}) == 1


def test_of_slices_that_differ_nothing_is_taken(small_slices):
    older = unpack(pack(write_document(DOCUMENT), written_beside()))
    pages = [replace(page, title="Ask us") if page.path == "/routes/3" else page for page in DOCUMENT.pages]
    written = write_document(replace(DOCUMENT, pages=tuple(pages)))
    beside = {**written_beside(), "contents": {**CONTENTS, "/": "another"}}
    found = unpack(pack(written, beside), older)
    assert (write_document(found.document), found.beside) == (written, {**BESIDE, "contents": beside["contents"]})
    titles = (PageTable.of(one.document.pages).column("title") for one in (found, older))
    same = [new is old for new, old in zip(*titles, strict=True)]
    assert same == [True] * 3 + [False] * 3 + [True] * 2
    assert found.document.tree is not older.document.tree
    assert found.beside["assets"] is older.beside["assets"]


def test_a_page_without_a_language_is_in_that_of_its_own_site(small_slices):
    older = unpack(pack(write_document(DOCUMENT), written_beside()))
    # Its pages leave their language out, as the older ones do: their lines are the same.
    pages = tuple(replace(page, language="ga") for page in DOCUMENT.pages)
    found = unpack(pack(write_document(replace(DOCUMENT, language="ga", pages=pages)), written_beside()), older)
    assert {page.language for page in found.document.pages} == {"ga"}


def test_terms_that_differ_make_another_tree(small_slices):
    older = unpack(pack(write_document(DOCUMENT), written_beside()))
    named = replace(DOCUMENT, taxonomies=(Taxonomy("topic", "Topics", (TaxonomyTerm("food", "Food"),)),))
    found = unpack(pack(write_document(named), written_beside()), older)
    assert found.document.pages is older.document.pages
    assert found.document.tree is not older.document.tree


def test_a_line_that_stands_twice_is_unreadable(small_slices):
    head, first, *others = gzip.decompress(pack(write_document(DOCUMENT), written_beside())).splitlines(keepends=True)
    with pytest.raises(Unreadable, match="twice"):
        unpack(gzip.compress(b"".join([head, first, first, *others[1:]])))


def test_nothing_in_common_with_an_archive_from_before_there_were_slices(small_slices):
    nothing = write_document(replace(DOCUMENT, pages=()))
    older = unpack(gzip.compress(orjson.dumps({"document": write_document(DOCUMENT), **written_beside()})))
    beside = {**written_beside(), "contents": {}, "originals": {}, "assets": {}}
    assert unpack(pack(nothing, beside), older).document.pages == ()


def test_what_was_kept_before_there_were_slices_is_read():
    written = write_document(DOCUMENT)
    found = unpack(gzip.compress(orjson.dumps({"document": written, **written_beside()})))
    assert (write_document(found.document), found.beside) == (written, BESIDE)


@pytest.mark.parametrize("lines", [0, 1, 2, 4, 7])
def test_an_archive_that_breaks_off_is_unreadable(small_slices, lines):
    whole = gzip.decompress(pack(write_document(DOCUMENT), written_beside())).splitlines(keepends=True)
    with pytest.raises(Unreadable):
        unpack(gzip.compress(b"".join(whole[:lines])))


def test_a_layout_is_read_alone(small_slices):
    layout = Layout({"tide": Piece("tide", "widget", "Tide")}, (Rule("Tide everywhere"),))
    written = write_document(replace(DOCUMENT, layout=layout))
    first, *_ = gzip.decompress(pack(written, written_beside())).splitlines()
    assert unpack_layout(gzip.compress(first)) == layout, "nothing stands behind the first line"
    older = gzip.compress(orjson.dumps({"document": written, **written_beside()}))
    assert unpack_layout(older) == layout


@pytest.mark.parametrize("line", [b"", b"[]", b"{}", b'{"document": {}}', b"rubbish"])
def test_what_is_no_archive_is_unreadable(line):
    for broken in (line, gzip.compress(line)):
        for read in (unpack, unpack_layout):
            with pytest.raises(Unreadable):
                read(broken)


def test_a_damaged_archive_is_unreadable():
    archive = pack(write_document(DOCUMENT), written_beside())
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


def test_of_a_state_only_what_the_next_one_has_not_is_let_go(small_slices):
    def opened(document, older=None):
        return open_revision(Revision(number=1), older, archive=pack(write_document(document), written_beside()))

    older = opened(DOCUMENT)
    renamed = opened(replace(DOCUMENT, name="Marrowick Ferries"), older)
    retitled = opened(replace(DOCUMENT, pages=(Page("/", "Ferries"), *DOCUMENT.pages[1:])), older)
    for newer, goes in ((renamed, False), (retitled, True), (None, True)):
        parts = older.parts(newer)
        assert any("Page /routes/3" in part for part in parts) is goes
        assert any("digest of /" in part for part in parts) is (newer is None)
        let_go(parts)
        assert not parts
    # Whoever had some of it still has it.
    assert (list(older.document.pages), older.contents) == (list(DOCUMENT.pages), CONTENTS)


def test_an_archive_from_before_it_was_kept_what_stands_in_pages_has_nothing_of_that(small_slices):
    head, *lines = lines_of(pack(write_document(DOCUMENT), written_beside()))
    del head["slices"]["stands"]
    archive = gzip.compress(b"".join(orjson.dumps(one) + b"\n" for one in [head, *lines[:-1]]))
    assert unpack(archive).beside == {**BESIDE, "stands": {}}
    assert unpack(pack(write_document(DOCUMENT), written_beside()), unpack(archive)).beside == BESIDE
