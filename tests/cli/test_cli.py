"""The command line on layout files: no database, exact output, exit codes."""

import io
import json
import os
import subprocess
import sys
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
import yaml

from navrel.cli import main

DEMO = Path(__file__).parents[2] / "demo" / "layout.json"
FILE: dict[str, Any] = {
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


@dataclass
class Done:
    exit_code: int
    stdout: str
    stderr: str


def run(*arguments):
    """Run a command in this process: what it printed, and how it ended."""
    out, err = io.StringIO(), io.StringIO()
    code = 0
    with redirect_stdout(out), redirect_stderr(err):
        try:
            main([str(argument) for argument in arguments])
        except SystemExit as ended:
            code = int(ended.code or 0)
    return Done(code, out.getvalue(), err.getvalue())


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


def test_looks_tell_who_sees_what_and_when(file):
    done = run("looks", file, "/tickets/checkout", "--at", "2026-11-23", "--json")
    found = json.loads(done.stdout)
    assert [(look["template"], look["settings"]["header-style"]["value"]) for look in found["looks"]] == [
        ("standard", "solid"), ("plain", "transparent"),
    ]  # fmt: skip
    quiet = found["looks"][1]
    assert [sighting["visitors"] for sighting in quiet["seen"]] == ["-role:crew"]
    assert quiet["seen"][0]["times"][0] == {"from": "2026-12-04T18:00", "until": "2026-12-05T00:00"}
    assert quiet["example"] == {"visitor": "", "at": "2026-12-04T18:00"}
    assert (found["since"], found["seen_until"]) == ("2026-11-23T00:00", None)
    assert found["repeats_after"] == "2026-12-12T18:00"
    plain = run("looks", file, "/tickets/checkout", "--at", "2026-11-23").stdout
    assert (
        "seen by visitors without the role crew, Fridays and Saturdays from 18:00 to midnight, from 4 December 2026, 18:00"
        in plain
    )
    assert "After 2026-12-12T18:00 it goes on in the same way." in plain


def test_too_many_looks_are_said_to_be(tmp_path):
    many = " | ".join(f"role:r{number}" for number in range(18))
    rules = [
        {
            "name": "crowd",
            "condition": {"include": "all", "visitors": {"include": many}},
            "actions": [{"do": "empty", "slot": "footer"}],
        }
    ]
    path = tmp_path / "layout.json"
    path.write_text(json.dumps({**FILE, "rules": rules}))
    done = run("looks", path, "/tickets")
    assert (done.exit_code, done.stdout) == (2, "")
    assert "combinations of visitors and times; 65,536 can be told apart" in done.stderr


@pytest.mark.parametrize(
    ("fail_on", "code"),
    [((), 0), (("--fail-on", "error"), 0), (("--fail-on", "warning"), 1), (("--fail-on", "hint"), 1)],
)
def test_check_exits_with_1_on_findings_of_the_chosen_severity(file, fail_on, code):
    done = run("check", file, "--json", *FRIDAY_EVENING, *fail_on)
    assert done.exit_code == code
    found = json.loads(done.stdout)
    assert {one["severity"] for one in found} == {"warning"}
    assert found[0].keys() == {"check", "severity", "pointer", "subject", "what", "why", "mend", "rules", "pages", "page_count"}  # fmt: skip


def test_check_prints_findings_for_people(file):
    done = run("check", file, *FRIDAY_EVENING)
    assert "warning: Above footer is to show “Help line” on 1 page without a place for it" in done.stdout
    assert done.stdout.rstrip().endswith("0 hints")
    assert "--fail-on: worst is none of error, warning, hint" in run("check", file, "--fail-on", "worst").stderr


def test_diff_says_what_comes_out_differently_for_whom(file, tmp_path):
    after = json.loads(json.dumps(FILE))
    after["rules"][0]["condition"]["visitors"] = {}
    path = tmp_path / "after.json"
    path.write_text(json.dumps(after))
    found = json.loads(run("diff", file, path, "--at", "2026-11-23", "--json").stdout)
    assert found["parts"] == [
        {"what": "rule", "how": "changed", "name": "Quiet checkout", "details": ["condition"], "count": 1}
    ]
    header = next(shift for shift in found["shifts"] if shift["target"] == "header")
    assert (header["before"]["pieces"], header["after"]["pieces"]) == ([], ["slim-header"])
    assert header["pages"] == ["/tickets/checkout"]
    assert [seen["visitors"] for seen in header["seen"]] == ["role:crew"]
    assert found["pages"] == 1
    same = run("diff", file, file)
    assert same.stdout == "0 pages come out differently\n"
    plain = run("diff", file, path, "--at", "2026-11-23").stdout
    assert "rule changed: Quiet checkout (condition)" in plain
    assert (
        "visitors with the role crew, Fridays and Saturdays from 18:00 to midnight, from 4 December 2026, 18:00: 1 page"
        in plain
    )
    assert header["seen"][0]["repeats_after"] == "2026-12-12T18:00"


def test_diff_counts_what_is_drawn_differently(file, tmp_path):
    after = json.loads(json.dumps(FILE))
    next(piece for piece in after["pieces"] if piece["slug"] == "call-us")["content"] = {"items": []}
    path = tmp_path / "after.json"
    path.write_text(json.dumps(after))
    found = json.loads(run("diff", file, path, "--json").stdout)
    assert [(one["piece"], one["pages"]) for one in found["redraws"]] == [
        ("call-us", ["/tickets", "/tickets/help"]),
        ("call-us", ["/tickets/checkout"]),
    ]
    assert (found["pages"], found["shifts"], found["own"]) == (3, [], [])


def test_names_of_what_is_not_there_are_warnings_on_standard_error(file, tmp_path):
    tree = json.loads(json.dumps(FILE))
    tree["rules"][1]["condition"]["include"] = "within:/gone"
    path = tmp_path / "layout.json"
    path.write_text(json.dumps(tree))
    done = run("resolve", path, "--json", *FRIDAY_EVENING)
    assert (done.exit_code, len(json.loads(done.stdout))) == (0, 3)
    assert f"{path}: /rules/1/condition/include: column 1: there is no page /gone" in done.stderr


def test_a_moment_is_local(file):
    done = run("resolve", file, "--at", "2026-12-04T19:00Z")
    assert (done.exit_code, done.stdout) == (2, "")
    assert "--at: the moment 2026-12-04T19:00Z has an offset" in done.stderr
    assert resolved(file, "--page", "/tickets/checkout", "--at", "2026-12-04T17:00")[0]["template"] == "standard"


def test_a_setting_can_be_explained(file):
    done = run("explain", file, "/tickets/checkout", "setting:header-style", *FRIDAY_EVENING)
    assert done.stdout.splitlines()[0] == "/tickets/checkout setting:header-style: transparent"
    later = run("explain", file, "/tickets/checkout", "setting:header-style", "--at", "2026-12-07")
    assert "time, next 2026-12-11T18:00: Quiet checkout, no. 1" in later.stdout
    assert run("explain", file, "/tickets", "setting:colour").exit_code == 2


def test_the_schema_is_printed_as_it_is_published():
    found = json.loads(run("schema").stdout)
    assert found["$schema"] == "https://json-schema.org/draft/2020-12/schema"


def test_every_command_prints_the_same_on_every_run(file):
    """Whatever the order in which Python keeps its sets."""
    for arguments in (
        ("resolve", DEMO, "--json", "--explain", *FRIDAY_EVENING),
        ("looks", DEMO, "/tickets/pay", "--json", "--at", "2026-12-04"),
        ("check", DEMO, "--json", "--at", "2026-12-04"),
        ("diff", DEMO, file, "--json", "--at", "2026-12-04"),
        ("suggest", DEMO, "/tickets/pay", "/tickets/done", "/tickets/review", "--json"),
    ):
        runs = {
            subprocess.run(
                [sys.executable, "-m", "navrel.cli", *map(str, arguments)],
                env={**os.environ, "PYTHONHASHSEED": seed}, capture_output=True, check=True,
            ).stdout
            for seed in ("1", "2")
        }  # fmt: skip
        assert len(runs) == 1 and runs != {b""}, arguments


def test_format_is_stable_and_reads_yaml_too(file, tmp_path):
    once = run("format", file).stdout
    again = tmp_path / "again.json"
    again.write_text(once)
    assert run("format", again).stdout == once
    as_yaml = tmp_path / "layout.yaml"
    as_yaml.write_text(yaml.safe_dump(FILE, sort_keys=False))
    assert run("format", as_yaml).stdout == once
    again.with_suffix(".yml").write_text(run("format", file, "--yaml").stdout)
    assert run("format", again.with_suffix(".yml")).stdout == once
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


@pytest.mark.parametrize(
    ("arguments", "without"),
    [
        (("schema",), {"numpy", "yaml", "rich", "navrel.core.reading", "django"}),
        (("format", DEMO), {"numpy", "yaml", "rich", "django"}),
        (("resolve", DEMO, "--page", "/about", "--json"), {"numpy", "yaml", "rich", "django"}),
        (("check", DEMO), {"yaml", "rich", "django", "jinja2"}),
    ],
)
def test_a_command_loads_only_what_it_needs(arguments, without):
    """Most of the time of a short command would else go into loading what the others need."""
    told = f"import sys\nfrom navrel.cli import main\ntry:\n main({list(map(str, arguments))!r})\nfinally:\n print(*sys.modules, file=sys.stderr)"
    done = subprocess.run([sys.executable, "-c", told], capture_output=True, text=True, check=False)
    assert done.returncode == 0
    assert without.isdisjoint(done.stderr.split())


def test_help_lists_the_commands_and_an_unknown_one_says_what_may_be_meant(file):
    told = run("--help")
    assert told.exit_code == 0
    assert all(f"  {name} " in told.stdout for name in ("resolve", "check", "diff", "schema"))
    assert "set-up" not in told.stdout
    unknown = run("chek", file)
    assert (unknown.exit_code, unknown.stdout) == (2, "")
    assert unknown.stderr == "There is no command chek. Do you mean check? ./navrel --help lists them.\n"
    assert run("check", file, "--nonsense").exit_code == 2
    assert run("check").exit_code == 2
    assert run("looks", "--help").stdout.startswith("usage: ./navrel looks")
