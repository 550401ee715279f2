"""Archives of a site: taken in like the folder that they hold, whatever somebody put into them."""

import io
import stat
import tarfile
import zipfile

import pytest

from navrel.server.api.errors import Refused
from navrel.server.inventory import archives
from navrel.server.inventory.archives import archive_files, is_archive
from navrel.server.inventory.decoding import Unreadable
from navrel.server.inventory.services import make_empty_site
from navrel.server.inventory.sources import take_in_folder

PAGE = b"<title>Quay</title><body><main>Boats</main>"
FILES = {
    "site/index.html": PAGE,
    "site/isles/hestan.html": PAGE,
    "site/skin/site.css": b"p{}",
    "site/.git/config": b"x",
}


def zipped(path, files, **more):
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            info = zipfile.ZipInfo(name)
            info.compress_type = zipfile.ZIP_DEFLATED
            for key, value in more.get(name, {}).items():
                setattr(info, key, value)
            archive.writestr(info, data)
    return path


def tarred(path, files, *more):
    with tarfile.open(path, "w:gz") as archive:
        for name, data in files.items():
            info = tarfile.TarInfo(name)
            info.size = len(data)
            archive.addfile(info, io.BytesIO(data))
        for info in more:
            archive.addfile(info)
    return path


def problems(path):
    return {name: str(data) for name, data in archive_files(path) if isinstance(data, Unreadable)}


@pytest.mark.parametrize("make", [zipped, tarred])
def test_an_archive_comes_in_as_the_folder_that_it_holds(db, tmp_path, make):
    path = make(tmp_path / "archive", FILES)
    assert is_archive(path)
    found = dict(archive_files(path))
    assert str(found.pop(".git")) == "a hidden folder; it is left out with all that is in it"
    assert found == {"index.html": PAGE, "isles/hestan.html": PAGE, "skin/site.css": b"p{}"}
    site = make_empty_site("skerry", "Skerry")
    report = take_in_folder("skerry", path)
    assert (report["pages"], report["assets"], report["skipped_count"]) == (2, 1, 1)
    assert sorted(site.pages.values_list("path", flat=True)) == ["/", "/isles/hestan"]


def test_files_that_stand_in_no_one_folder_keep_their_names(tmp_path):
    path = zipped(tmp_path / "a.zip", {"index.html": PAGE, "isles/hestan.html": PAGE})
    assert [name for name, _ in archive_files(path)] == ["index.html", "isles/hestan.html"]


def test_what_leads_out_of_an_archive_is_named_and_not_written_anywhere(tmp_path):
    out = {
        "../out.html": PAGE,
        "/etc/out.html": PAGE,
        "a/../../out.html": PAGE,
        "..\\away.html": PAGE,
        "index.html": PAGE,
    }
    for path in (zipped(tmp_path / "a.zip", out), tarred(tmp_path / "a.tar.gz", out)):
        found = problems(path)
        assert len(found) == 4
        assert set(found.values()) == {"a path that leads out of the archive"}
    assert not (tmp_path.parent / "out.html").exists()


def test_links_devices_and_what_is_encrypted_are_named(tmp_path):
    link = {"external_attr": (stat.S_IFLNK | 0o777) << 16}
    path = zipped(tmp_path / "a.zip", {"a.html": b"/etc/passwd", "b.html": PAGE}, **{"a.html": link})
    assert problems(path) == {"a.html": "a link; archives are taken in without"}
    infos = []
    for name, kind in (("c.html", tarfile.SYMTYPE), ("d.html", tarfile.LNKTYPE), ("e.html", tarfile.CHRTYPE)):
        info = tarfile.TarInfo(name)
        info.type, info.linkname = kind, "/etc/passwd"
        infos.append(info)
    found = problems(tarred(tmp_path / "a.tar.gz", {"b.html": PAGE}, *infos))
    assert found == {
        "c.html": "a link; archives are taken in without",
        "d.html": "a link; archives are taken in without",
        "e.html": "no plain file, but a pipe, a socket or a device",
    }
    data = bytearray(zipped(tmp_path / "b.zip", {"a.html": PAGE}).read_bytes())
    for mark, at in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):
        data[data.index(mark) + at] |= 1
    (tmp_path / "b.zip").write_bytes(data)
    assert problems(tmp_path / "b.zip") == {"a.html": "is encrypted"}


def test_a_file_that_grows_a_thousandfold_is_let_be(tmp_path, monkeypatch):
    monkeypatch.setattr(archives, "MAX_ASSET", 20_000_000)
    path = zipped(tmp_path / "a.zip", {"a.html": b" " * 30_000_000, "b.html": PAGE})
    assert path.stat().st_size < 50_000
    assert problems(path) == {"a.html": "larger than 64 MB"}


@pytest.mark.parametrize(
    ("name", "most", "code"), [("MAX_MEMBERS", 2, "too-many-files"), ("MAX_TOTAL", 50, "too-large")]
)
def test_an_archive_that_holds_too_much_is_refused_and_leaves_the_site_as_it_was(
    db, tmp_path, monkeypatch, name, most, code
):
    monkeypatch.setattr(archives, name, most)
    site = make_empty_site("skerry", "Skerry")
    with pytest.raises(Refused) as refused:
        take_in_folder("skerry", zipped(tmp_path / "a.zip", FILES))
    assert refused.value.code == code
    assert not site.pages.exists()
    assert not site.intakes.exists()


def test_a_broken_archive_is_refused_or_its_files_are_named(tmp_path):
    data = bytearray(zipped(tmp_path / "a.zip", FILES).read_bytes())
    data[60:80] = bytes(20)
    (tmp_path / "a.zip").write_bytes(data)
    assert "cannot be read out of the archive" in str(problems(tmp_path / "a.zip"))
    cut = tarred(tmp_path / "a.tar.gz", FILES)
    cut.write_bytes(cut.read_bytes()[:80])
    with pytest.raises(Refused, match="cannot be read"):
        list(archive_files(cut))
    (tmp_path / "none").write_bytes(b"no archive")
    assert not is_archive(tmp_path / "none")
    assert not is_archive(tmp_path / "gone")
