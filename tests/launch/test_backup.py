"""All that is kept, in one file: brought back on another cluster, the same bytes are published."""

import io
import json
import tarfile

import pytest
from navrel_faults.installation import ROOT, Installation, wait_for

PATHS = [page["path"] for page in json.loads((ROOT / "demo" / "layout.json").read_text())["pages"]]
pytestmark = pytest.mark.xdist_group("backup")


@pytest.fixture(scope="module")
def first(tmp_path_factory):
    """A Navrel that runs, in which something was edited, published, and is not published yet."""
    made = Installation(tmp_path_factory.mktemp("first"))
    made.start()
    made.sign_in()
    rule = {
        "name": "Slim", "priority": 90, "condition": {"include": "page:/about"},
        "actions": [{"do": "fill", "slot": "header", "piece": "slim-header"}],
    }  # fmt: skip
    assert made.ask("/api/sites/marrowick/rules", "POST", rule)[0] == 201
    # A site with files of its own, beside the database.
    shore = made.state / "shore"
    shore.mkdir()
    (shore / "index.html").write_text("<!doctype html><title>Shore</title><body><img src='boat.png'><p>Boats.</p>")
    (shore / "boat.png").write_bytes(b"\x89PNG\r\n\x1a\n" + b"boat" * 100)
    assert made.run("site", "make", "shore", "--name", "Shore").returncode == 0
    assert made.run("intake", str(shore), "--site", "shore").returncode == 0
    for site in ("marrowick", "shore"):
        done = made.run("publish", site)
        assert done.returncode == 0, done.stderr + done.stdout
    assert made.ask("/api/sites/marrowick/rules", "POST", {**rule, "name": "Not live"})[0] == 201
    wait_for("the publication", lambda: b'data-piece="slim-header"' in made.visit("/about")[1])
    yield made
    made.end()


@pytest.fixture
def other(tmp_path):
    made = Installation(tmp_path / "other")
    yield made
    made.end()


def test_what_is_backed_up_while_it_runs_comes_back_elsewhere_the_same_to_the_byte(first, other, tmp_path):
    file = tmp_path / "kept.backup"
    said = first.run("backup", str(file))
    assert said.returncode == 0 and "holds the accounts, and the key that signs" in said.stdout, said.stderr
    assert file.stat().st_mode & 0o077 == 0
    again = first.run("backup", str(file))
    assert again.returncode == 1 and "is there already" in again.stderr
    running = first.run("restore", str(file))
    assert running.returncode == 1 and "Navrel runs here already" in running.stderr

    done = other.run("restore", str(file))
    assert done.returncode == 0, done.stderr
    assert "Restored: marrowick, shore" in done.stdout
    other.start()
    before = {path: first.visit(path) for path in (*PATHS, "/no/such")}
    assert before["/about"][0] == 200
    # Whoever was signed in still is: the key that signs came along.
    assert {path: other.visit(path) for path in before} == before
    other.sign_in()
    assert b'"Not live"' in other.ask("/api/sites/marrowick/rules?limit=500")[1]
    kept = {path.name for path in (first.state / "assets").glob("*/*")}
    assert kept and {path.name for path in (other.state / "assets").glob("*/*")} == kept

    # What is there is not lost unasked.
    other.launcher.terminate()
    other.launcher.wait(timeout=60)
    refused = other.run("restore", str(file))
    assert refused.returncode == 1 and "There is something here already: marrowick, shore" in refused.stderr
    assert other.run("restore", str(file), "--replace").returncode == 0


def written(path, members):
    with tarfile.open(path, "w") as archive:
        for name, data in members:
            told = tarfile.TarInfo(name)
            told.size = len(data)
            if name == "assets/link":
                told.type, told.linkname = tarfile.SYMTYPE, "/etc/passwd"
            archive.addfile(told, io.BytesIO(data))
    return path


def test_what_is_no_backup_is_refused_and_nothing_is_touched(first, other, tmp_path):
    whole = tmp_path / "whole"
    assert first.run("backup", str(whole)).returncode == 0
    about = json.dumps({"navrel": "backup", "format": 1, "made": 0, "demo": True}).encode()
    (tmp_path / "text").write_text("not at all")
    (tmp_path / "cut").write_bytes(whole.read_bytes()[: whole.stat().st_size // 2])
    refused = {
        "text": "is no backup, or a damaged one",
        "cut": "damaged",
        "none": "No such file",
        str(written(tmp_path / "tar", [("x", b"y")])): "is no backup of Navrel",
        str(written(tmp_path / "later", [("about.json", about.replace(b'"format": 1', b'"format": 2'))])): "a later Navrel",
        str(written(tmp_path / "out", [("about.json", about), ("../out", b"y")])): "which no backup of Navrel does",
        str(written(tmp_path / "link", [("about.json", about), ("assets/link", b"")])): "which no backup of Navrel does",
        str(written(tmp_path / "bare", [("about.json", about)])): "there is no database.dump in it",
        str(written(tmp_path / "junk", [("about.json", about), ("database.dump", b"x"), ("secret-key", b"k")])): "pg_restore failed",
    }  # fmt: skip
    told = other.run("restore", str(tmp_path / "none"))
    assert told.returncode == 1 and "No such file" in told.stderr
    assert not (other.state / "postgres").exists(), "nothing is made ready for what cannot be brought back"
    assert other.run("restore", str(whole)).returncode == 0
    key = (other.state / "secret-key").read_bytes()
    for file, why in refused.items():
        done = other.run("restore", str(tmp_path / file), "--replace")
        assert done.returncode == 1 and why in done.stderr and "Traceback" not in done.stderr, (file, done.stderr)
    assert (other.state / "secret-key").read_bytes() == key
    other.start()
    assert other.visit("/about") == first.visit("/about")
