"""The command line on layout files: no database, exact output, exit codes."""

import json
from pathlib import Path

import pytest
import yaml
from typer.testing import CliRunner

from navrel.cli import app

DEMO = Path(__file__).parents[2] / "demo" / "layout.json"
FILE = {
    "navrel": 1,
    "site": {
        "name": "Marrowick Ferries",
        "slug": "marrowick",
        "default_template": "standard",
        "roles": ["crew"],
        "time_zone": "Europe/Dublin",
        "settings": [
            {"name": "header-style", "type": "choice", "choices": ["solid", "transparent"], "default": "solid"}
        ],
    },
    "pages": [
        {"path": "/tickets", "title": "Tickets", "kind": "listing"},
        {"path": "/tickets/help"},
        {"path": "/tickets/checkout", "type": "checkout", "locks": ["aside-end"]},
    ],
    "pieces": [
        {"slug": "slim-header", "kind": "header"},
        {"slug": "help-line", "kind": "widget"},
        {"slug": "call-us", "kind": "widget"},
        {"slug": "help", "kind": "sidebar", "entries": [{"piece": "call-us", "condition": {"exclude": "kind:search"}}]},
        {"slug": "standard", "kind": "template"},
        {"slug": "plain", "kind": "template", "slots": ["header", "title", "footer"]},
    ],
    "rules": [
        {
            "name": "Quiet checkout",
            "condition": {
                "include": "within:/tickets type:checkout",
                "visitors": {"exclude": "role:crew"},
                "schedule": {
                    "from": "2026-12-01T00:00",
                    "until": None,
                    "repeats": {"rrule": "FREQ=WEEKLY;BYDAY=FR,SA", "start": "2026-12-04T18:00", "duration": "PT6H"},
                },
            },
            "actions": [
                {"do": "fill", "slot": "header", "piece": "slim-header"},
                {"do": "empty", "slot": "footer"},
                {"do": "append", "slot": "above-footer", "piece": "help-line"},
                {"do": "use", "template": "plain"},
                {"do": "set", "setting": "header-style", "value": "transparent"},
            ],
        },
        {
            "name": "Help everywhere",
            "condition": {"include": "all"},
            "actions": [{"do": "fill", "slot": "aside-start", "piece": "help"}],
        },
    ],
}


@pytest.fixture
def file(tmp_path):
    path = tmp_path / "layout.json"
    path.write_text(json.dumps(FILE))
    return path


def run(*arguments):
    return CliRunner().invoke(app, [str(argument) for argument in arguments])


FRIDAY_EVENING = ("--at", "2026-12-04T19:00")


def resolved(file, *more):
    done = run("resolve", file, "--json", *FRIDAY_EVENING, *more)
    assert done.exit_code == 0, done.output
    return json.loads(done.stdout)


def test_resolve_prints_the_documented_form(file):
    (found,) = resolved(file, "--page", "/tickets/checkout")
    unset = {"state": "unset", "pieces": [], "by": None}
    assert found == {
        "path": "/tickets/checkout",
        "template": "plain",
        "template_by": "Quiet checkout",
        "slots": {
            "above-header": unset,
            "header": {"state": "filled", "pieces": ["slim-header"], "by": "Quiet checkout"},
            "below-header": unset,
            "title": unset,
            "before-content": unset,
            "after-content": unset,
            "aside-start": {"state": "filled", "pieces": ["help"], "by": "Help everywhere"},
            "aside-end": {"state": "locked", "pieces": [], "by": None},
            "above-footer": {"state": "filled", "pieces": ["help-line"], "by": None},
            "footer": {"state": "empty", "pieces": [], "by": "Quiet checkout"},
        },
        "entries": {},
        "settings": {"header-style": {"value": "transparent", "by": "Quiet checkout"}},
        "unseated": ["aside-start", "above-footer"],
    }


def test_pages_come_in_the_files_order_with_the_sidebars_that_are_seen(file):
    found = resolved(file)
    assert [page["path"] for page in found] == [page["path"] for page in FILE["pages"]]
    assert found[0]["entries"] == {"help": ["call-us"]}
    assert (found[0]["template"], found[0]["template_by"]) == ("standard", None)


def test_a_visitor_is_written_as_terms(file):
    found = resolved(file, "--page", "/tickets/checkout", "--visitor", "signed:in role:crew")
    assert found[0]["template"] == "standard"


def test_explain_gives_the_trace(file):
    done = run("explain", file, "/tickets/checkout", "header", "--json", *FRIDAY_EVENING)
    (entry,) = json.loads(done.stdout)["entries"]
    assert (entry["rule"], entry["state"], entry["specificity"]) == ("Quiet checkout", "won", [0, 1, 1, 1])
    plain = run("explain", file, "/tickets", "header")
    assert "not-included: Quiet checkout, no. 1" in plain.stdout
    assert resolved(file, "--explain")[0]["traces"][0]["target"] == "template"


def test_suggest_names_what_pages_have_in_common(file):
    done = run("suggest", file, "/tickets/checkout", "--json")
    assert json.loads(done.stdout)[0] == {
        "include": "type:checkout",
        "exclude": "",
        "adds": [],
        "misses": [],
        "lasting": True,
    }


def test_format_is_stable_and_reads_yaml_too(file, tmp_path):
    once = run("format", file).stdout
    again = tmp_path / "again.json"
    again.write_text(once)
    assert run("format", again).stdout == once
    as_yaml = tmp_path / "layout.yaml"
    as_yaml.write_text(yaml.safe_dump(FILE, sort_keys=False))
    assert run("format", as_yaml).stdout == once
    assert run("format", DEMO).stdout == DEMO.read_text()


def test_a_table_is_printed_for_people(file):
    done = run("resolve", file)
    assert done.exit_code == 0
    assert "/tickets/checkout" in done.stdout


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("{", "this is not JSON"),
        ('{"navrel": 2, "site": {"name": "x"}}', "/navrel: this has to be 1"),
        ('{"navrel": 1, "site": {"name": "x"}, "pages": [{"path": "a"}, {}]}', "/pages/1: path is missing"),
    ],
)
def test_a_file_that_cannot_be_used_exits_with_2_and_prints_nothing(tmp_path, text, told):
    path = tmp_path / "bad.json"
    path.write_text(text)
    done = run("resolve", path, "--json")
    assert (done.exit_code, done.stdout) == (2, "")
    assert told in done.stderr


def test_what_is_not_there_exits_with_2(file, tmp_path):
    assert run("resolve", tmp_path / "none.json").exit_code == 2
    unknown = run("resolve", file, "--page", "/nowhere")
    assert (unknown.exit_code, unknown.stdout) == (2, "")
    assert "there is no page /nowhere" in unknown.stderr
    assert "only a signed-in visitor has a role" in run("resolve", file, "--visitor", "role:crew").stderr
    broken = tmp_path / "broken.yaml"
    broken.write_text("a: [")
    assert "this is not YAML" in run("format", broken).stderr
