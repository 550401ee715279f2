"""What earlier versions of Navrel kept is brought up to date: a backup of each release stands beside its layout file."""

import json
from pathlib import Path

import pytest
from navrel_faults.installation import Installation

RELEASES = Path(__file__).parent / "releases"
PHONE = "Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Safari/604.1"
PAGES = {
    "/": "Boats to the isles.",
    "/about.html": "Since 1921.",
    "/tickets.html": "there and back",
    "/help.html": "Ask us.",
}


@pytest.fixture
def installation(tmp_path):
    made = Installation(tmp_path)
    yield made
    made.end()


@pytest.mark.parametrize("backup", sorted(RELEASES.glob("*.backup")), ids=lambda path: path.stem)
def test_what_a_release_kept_is_served_and_edited_on(installation, backup):
    done = installation.run("restore", str(backup))
    assert done.returncode == 0, done.stderr
    exported = installation.run("layout", "export", "marrowick")
    before = json.loads(backup.with_suffix(".json").read_text())
    after = json.loads(exported.stdout)
    # What is new since may stand in it too; what was there says the same.
    assert {name: after[name] for name in before} == before
    installation.start()
    for path, words in PAGES.items():
        status, page = installation.visit(path)
        assert status == 200 and words in page.decode()
        assert b'data-piece="slim-header"' in page
        assert (b'data-piece="legal-footer"' in page) is (path != "/about.html")
    assert installation.visit("/boat.png") == (200, b"\x89PNG\r\n\x1a\n" + b"boat" * 20)
    # It is edited, published and backed up as ever.
    before["rules"][0]["actions"] = [{"do": "empty", "slot": "header"}]
    file = installation.state / "layout.json"
    file.write_text(json.dumps({**before, "rules": [{**before["rules"][0], "name": "Bare", "priority": 99}]}))
    taken = installation.run(
        "layout", "take-in", "marrowick", str(file), "--no-pages", "--replace", "--rules", "as-written"
    )
    assert taken.returncode == 0, taken.stderr
    published = installation.run("publish", "marrowick")
    assert published.returncode == 0 and "Revision 3 is live" in published.stdout, published.stderr
    assert installation.run("backup", str(installation.state / "again.backup")).returncode == 0
