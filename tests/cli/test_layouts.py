"""A site's layout out and in by the command line."""

import json

import pytest

from navrel.cli import main
from navrel.server.demo import load_demo
from navrel.server.inventory.models import Site

pytestmark = pytest.mark.django_db


@pytest.fixture
def demo(monkeypatch):
    monkeypatch.setattr("navrel.cli.layouts.with_django", lambda: None)
    Site.objects.all().delete()
    return load_demo()


def test_a_layout_is_printed_taken_into_a_new_site_and_printed_alike(demo, capsys, tmp_path):
    main(["layout", "export", "marrowick"])
    first = capsys.readouterr().out
    target = tmp_path / "layout.json"
    target.write_text(first)
    Site.objects.filter(slug="marrowick").update(slug="old")
    main(["site", "make", "marrowick", "--name", "Empty"])
    main(["layout", "take-in", "marrowick", str(target)])
    said = capsys.readouterr().out
    assert "Took in 46 pieces, 25 rules, 132 pages" in said
    main(["layout", "export", "marrowick"])
    assert capsys.readouterr().out == first
    main(["site", "list"])
    assert capsys.readouterr().out == "old: Marrowick Ferries\nmarrowick: Marrowick Ferries\n"


@pytest.mark.parametrize("in_use", [True, False])
def test_a_site_that_is_made_is_seen_by_the_demo_account_where_that_is_in_use(
    demo, django_user_model, settings, in_use
):
    name, password = settings.DEMO_ACCOUNT
    user = django_user_model.objects.create_user(name, password=password if in_use else None)
    main(["site", "make", "shore", "--name", "Shore"])
    assert list(user.memberships.values_list("site__slug", "role")) == ([("shore", "owner")] if in_use else [])


def test_clashing_pieces_are_left_out_and_named_unless_they_are_to_replace(demo, capsys, tmp_path):
    target = tmp_path / "part.json"
    piece = {"slug": "call-us", "kind": "widget", "name": "Call us", "note": "new"}
    target.write_text(json.dumps({"navrel": 1, "pieces": [piece]}))
    main(["layout", "take-in", "marrowick", str(target)])
    assert capsys.readouterr().out.startswith("Took in 0 pieces, 0 rules, 0 pages; left out as they clash: call-us.")
    main(["layout", "take-in", "marrowick", str(target), "--replace"])
    assert demo.pieces.get(slug="call-us").note == "new"


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["layout", "export", "nowhere"], "There is no site nowhere"),
        (["layout", "take-in", "marrowick", "{bad}"], "this is not JSON"),
        (["site", "make", "Not A Slug", "--name", "X"], "Not A Slug is no slug"),
        (["site", "make", "marrowick", "--name", "X"], "There is a site marrowick already"),
    ],
)
def test_what_cannot_be_used_is_told_with_exit_code_2(demo, capsys, tmp_path, arguments, said):
    bad = tmp_path / "bad.json"
    bad.write_text("{")
    with pytest.raises(SystemExit) as ended:
        main([one.format(bad=bad) for one in arguments])
    assert ended.value.code == 2
    assert said in capsys.readouterr().err
