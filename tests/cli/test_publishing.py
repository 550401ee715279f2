"""Publishing by the command line, at once, at a moment, and only where the checks find nothing."""

import json
from datetime import UTC, datetime, timedelta

import pytest
from django.db import connection

from navrel.cli import main
from navrel.server.demo import load_demo
from navrel.server.inventory.models import Site
from navrel.server.outcomes import findings
from navrel.server.publishing.models import Plan, Revision
from navrel.server.rules.services import make_rule
from navrel.server.sitestate.draft import draft

pytestmark = pytest.mark.django_db
EMPTY = {"name": "No footers", "condition": {"include": "type:article"}, "actions": [{"do": "empty", "slot": "footer"}]}
WRONG = {"name": "Nobody", "condition": {"include": "all", "visitors": {"include": "signed:in -signed:in"}},
         "actions": [{"do": "empty", "slot": "footer"}]}  # fmt: skip


@pytest.fixture
def demo(monkeypatch):
    monkeypatch.setattr("navrel.cli.publishing.with_django", lambda: None)
    Site.objects.all().delete()
    return load_demo()


def test_the_clock_publishes_what_is_due(demo, monkeypatch, capsys):
    class Enough(Exception):
        """The clock has gone round once."""

    def enough(seconds):
        raise Enough

    monkeypatch.setattr("navrel.cli.site.with_django", lambda: None)
    monkeypatch.setattr("navrel.cli.site.feeds", lambda: None)
    monkeypatch.setattr("navrel.cli.site._post", lambda: None)
    monkeypatch.setattr("navrel.cli.site.time.sleep", enough)
    monkeypatch.setattr(connection, "close", lambda: None)
    make_rule("marrowick", EMPTY)
    tomorrow = (datetime.now(UTC) + timedelta(days=1)).strftime("%Y-%m-%dT%H:%M")
    main(["publish", "marrowick", "--at", tomorrow])
    for due, state in ((timedelta(days=1), "waiting"), (timedelta(days=-1), "done")):
        Plan.objects.update(at=datetime.now(UTC) + due)
        with pytest.raises(Enough):
            main(["clock"])
        assert Plan.objects.get().state == state
    assert "revision 2 is live" in capsys.readouterr().out


def test_the_draft_is_published_with_a_note(demo, capsys):
    make_rule("marrowick", EMPTY)
    main(["publish", "marrowick", "--note", "Fewer footers", "--json"])
    told = json.loads(capsys.readouterr().out)
    assert told["revision"] == 2
    assert told["pages"] > 20
    assert Revision.objects.first().note == "Fewer footers"


def test_it_is_planned_for_a_moment(demo, capsys):
    make_rule("marrowick", EMPTY)
    tomorrow = (datetime.now(UTC) + timedelta(days=1)).strftime("%Y-%m-%dT%H:%M")
    main(["publish", "marrowick", "--at", tomorrow])
    assert capsys.readouterr().out.startswith(f"Planned for {tomorrow.replace('T', ' ')}: ")
    assert Plan.objects.get().state == "waiting"
    assert Revision.objects.count() == 1


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        ([], "The live site is already the same as the draft"),
        (["--if-no-findings", "hint"], "finding"),
        (["--at", "2001-01-01T10:00"], "this moment is past"),
    ],
)
def test_what_stands_in_the_way_ends_it_with_1(demo, capsys, arguments, said):
    if arguments:
        make_rule("marrowick", WRONG)
    with pytest.raises(SystemExit) as ended:
        main(["publish", "marrowick", *arguments])
    assert ended.value.code == 1
    assert said in capsys.readouterr().out
    assert (Revision.objects.count(), Plan.objects.count()) == (1, 0)


def test_findings_that_are_let_be_stop_nothing(demo, capsys):
    make_rule("marrowick", WRONG)
    found = findings.findings("marrowick", draft(demo))
    for one in found:
        findings.set_aside(demo, draft(demo), findings.finding_key(draft(demo), one), "It is a trial", None)
    main(["publish", "marrowick", "--if-no-findings", "hint"])
    assert "Revision 2 is live" in capsys.readouterr().out


def test_a_broken_guard_stops_it_unless_it_is_overruled(demo, capsys):
    make_rule("marrowick", {**EMPTY, "condition": {"include": "within:/legal"}, "priority": 90,
                            "actions": [{"do": "empty", "slot": "header"}]})  # fmt: skip
    with pytest.raises(SystemExit) as ended:
        main(["publish", "marrowick"])
    assert ended.value.code == 1
    assert "1 guard would be broken: Legal pages keep the slim header" in capsys.readouterr().out
    main(["publish", "marrowick", "--overrule", "Legal pages go without"])
    newest = Revision.objects.first()
    assert newest is not None
    assert newest.overruled == {"guards": ["Legal pages keep the slim header"], "reason": "Legal pages go without"}


def test_a_severity_that_there_is_not_is_told(demo, capsys):
    with pytest.raises(SystemExit) as ended:
        main(["publish", "marrowick", "--if-no-findings", "dire"])
    assert ended.value.code == 2
    assert "dire is none of error, warning, hint" in capsys.readouterr().err
