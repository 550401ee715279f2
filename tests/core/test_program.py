"""A layout file in a program: what it comes to is what the plain resolver says, and what is wrong is told."""

import re
import subprocess
import sys
from datetime import datetime
from pathlib import Path

import pytest
from hypothesis import given, settings

import navrel
from navrel.core.cascade.plain import resolve_page
from navrel.core.errors import DocumentError, QueryError, ScheduleError
from navrel.core.language.visitor import Lens, Visitor
from navrel.core.layout.document import SiteDocument

from .strategies import layouts, sites
from .test_looks import any_visitor, later

ROOT = Path(__file__).parents[2]
DEMO = ROOT / "demo" / "layout.json"


@pytest.fixture(scope="module")
def demo():
    return navrel.load(DEMO)


@settings(max_examples=40)
@given(sites(), layouts(), any_visitor, later)
def test_it_is_what_the_plain_resolver_says(tree, layout, visitor, moment):
    site = navrel.Site(SiteDocument(name="Marrowick", slug="marrowick", pages=tuple(tree.pages), layout=layout))
    for page in tree.pages:
        found = site.resolve(page.path, visitor, moment)
        plain = resolve_page(site.document.tree, layout, page, Lens(visitor, moment))
        assert {target: trace.outcome for target, trace in found.traces.items()} == {
            target: trace.outcome for target, trace in plain.items()
        }


def test_a_page_of_the_demo_as_a_program_asks_for_it(demo):
    found = demo.resolve("/pass/renew", "device:phone", "2026-12-04T19:00")
    assert found.slots["header"].pieces == ("slim-header",) and found.slots["footer"].state == "empty"
    assert found.lens == Lens(Visitor(device="phone", accepts=("en",)), datetime(2026, 12, 4, 19))
    told = found.as_dict()
    assert told["path"] == "/pass/renew" and told["template"] == found.template
    assert told["slots"]["header"] == {
        "state": "filled",
        "pieces": ["slim-header"],
        "by": found.slots["header"].by.name,
    }
    assert {name: one["value"] for name, one in told["settings"].items()} == found.settings
    first, second, *_ = found.explain("header")
    assert first == "filled slim-header" and second.startswith(f"won: {found.slots['header'].by.name}, no. ")
    assert demo.resolve("/pass/renew").lens.moment.year >= 2026
    assert len(demo.paths) == 132 and "/about" in demo.paths


def test_what_is_wrong_is_told(demo, tmp_path):
    with pytest.raises(navrel.NoSuchPage, match="there is no page at /no/such"):
        demo.resolve("/no/such")
    with pytest.raises(QueryError):
        demo.resolve("/about", "role:crew")
    with pytest.raises(ScheduleError):
        demo.resolve("/about", at="soon")
    with pytest.raises(KeyError):
        demo.resolve("/about").explain("no-such-slot")
    with pytest.raises(DocumentError):
        navrel.load({"navrel": 1})
    with pytest.raises(FileNotFoundError):
        navrel.load(tmp_path / "nothing.json")
    with pytest.raises(AttributeError, match="no attribute nonsense"):
        navrel.nonsense  # noqa: B018
    (tmp_path / "site.yaml").write_text("navrel: 1\nsite: {name: Marrowick}\npages: [{path: /, title: Home}]\n")
    assert navrel.load(tmp_path / "site.yaml").resolve("/").template is None


def test_the_program_of_the_guide_runs_without_a_web_framework():
    text = (ROOT / "docs" / "guide.md").read_text().partition("\n## In a Python program\n")[2]
    program = re.findall(r"```python\n(.*?)```", text, re.DOTALL)[0]
    checked = f"{program}\nimport sys\nassert not {{'django', 'rest_framework', 'jinja2'}} & set(sys.modules)\n"
    done = subprocess.run(
        [sys.executable, "-c", checked], cwd=ROOT / "demo", env={"PYTHONPATH": str(ROOT / "src")},
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert (done.returncode, done.stderr) == (0, "")
    lines = done.stdout.splitlines()
    assert lines[0] == "slim-header" and lines[1] == "filled slim-header" and lines[2].lstrip().startswith("won: ")
