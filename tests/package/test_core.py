"""navrel-core, installed by itself: what it brings, what it answers, what it says of its types, and what it draws."""

import json
import re
import subprocess
import sys
import urllib.request

import pytest
from navrel_faults.installation import ROOT, wait_for
from navrel_rehearsal import CHROMIUM_FLAGS, chromium_path
from playwright.sync_api import expect, sync_playwright

import navrel
from navrel.launch.database import free_port
from navrel.launch.processes import start

from .conftest import plain

#: They share an environment that takes a while to make.
pytestmark = pytest.mark.xdist_group("package")


def programs(file, chapter=""):
    """The programs of a chapter."""
    text = (ROOT / file).read_text()
    text = text.partition(f"\n## {chapter}\n")[2].partition("\n## ")[0] if chapter else text
    return re.findall(r"```python\n(.*?)```", text, re.DOTALL)


def test_it_comes_without_a_web_framework_and_without_a_server(run):
    said = run(
        "import importlib.util as u\n"
        "print([name for name in ('django', 'rest_framework', 'psycopg', 'gunicorn', 'navrel.server', 'navrel.cli')"
        " if u.find_spec(name)])"
    )
    assert said == "[]\n"


@pytest.mark.parametrize("file", ["packages/core/README.md", "docs/guide.md"])
def test_what_its_readme_and_the_guide_show_it_does(run, file):
    program = programs(file, "In a Python program" if file.startswith("docs") else "")[0]
    site = navrel.load(ROOT / "demo" / "layout.json")
    layout = site.resolve("/pass/renew", "device:phone", "2026-12-04T19:00")
    assert run(program).splitlines() == [" ".join(layout.slots["header"].pieces), *layout.explain("header")]


def test_every_page_comes_to_the_same_as_here(run, demo):
    said = run(
        "import json, navrel\nsite = navrel.load('layout.json')\n"
        "print(json.dumps([site.resolve(path, 'signed:in role:crew', '2026-12-04T19:00').as_dict() for path in site.paths]))"
    )
    site = navrel.load(demo)
    here = [site.resolve(path, "signed:in role:crew", "2026-12-04T19:00").as_dict() for path in site.paths]
    assert json.loads(said) == here and len(here) == len(demo["pages"])


def test_a_program_with_it_is_checked_by_its_types(python, tmp_path):
    program = tmp_path / "program.py"
    program.write_text(
        "import navrel\nfrom navrel.wsgi import InPlace\n\n"
        "def header(path: str) -> list[str]:\n"
        "    return list(navrel.load('layout.json').resolve(path).slots['header'].pieces)\n\n"
        "reveal_type(navrel.load('x').resolve('/').template)\n"
    )
    command = [
        sys.executable,
        "-m",
        "mypy",
        "--strict",
        "--python-executable",
        str(python),
        "--cache-dir",
        str(tmp_path / "cache"),
        str(program),
    ]
    done = subprocess.run(command, cwd=tmp_path, env=plain(), capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout
    assert 'Revealed type is "str | None"' in done.stdout and "Any" not in done.stdout


#: A program that knows nothing of Navrel, and puts its pages together as they come.
_PLAIN = '''
def application(environ, start_response):
    """Pages of the ticket shop."""
    start_response("200 OK", [("Content-Type", "text/html; charset=utf-8")])
    page = f"<!doctype html><title>Shop</title><body><header>The shop's own</header><main>{environ['PATH_INFO']}</main><footer>Own foot</footer>"
    return [page.encode()]
'''
_SERVES = """
from wsgiref.simple_server import make_server
make_server("127.0.0.1", {port}, application).serve_forever()
"""


def test_a_plain_program_wrapped_in_five_lines_shows_the_header_by_rule(python, run, tmp_path, demo):
    wrapped = programs("docs/guide.md", "In a Python program")[1]
    assert len([line for line in wrapped.splitlines() if line.strip()]) <= 5
    port = free_port()
    (tmp_path / "shop.py").write_text(_PLAIN)
    program = tmp_path / "program.py"
    program.write_text(wrapped + _SERVES.format(port=port))
    process = start([python, str(program)], env=plain(), cwd=tmp_path, stderr=subprocess.PIPE)
    origin = f"http://127.0.0.1:{port}"
    try:
        wait_for("an answer", lambda: answers(origin))
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=chromium_path(), args=CHROMIUM_FLAGS)
            window = browser.new_page()
            wanted = navrel.load(demo)
            for path in ("/about", "/crew/galley", "/pass/renew"):
                window.goto(origin + path)
                pieces = list(wanted.resolve(path).slots["header"].pieces)
                header = window.locator("[data-slot=header]")
                expect(header).to_be_visible()
                assert header.locator("[data-piece]").first.get_attribute("data-piece") == pieces[0]
                expect(window.locator("main")).to_have_text(path)
                expect(window.get_by_text("The shop's own")).to_have_count(0)
                # With its own styles, which are served beside it.
                assert header.evaluate("one => getComputedStyle(one).boxSizing") == "border-box"
            window.goto(f"{origin}/no/such/page")
            expect(window.get_by_text("The shop's own")).to_be_visible()
            browser.close()
    finally:
        process.terminate()
        process.communicate(timeout=20)


def answers(origin):
    try:
        return urllib.request.urlopen(origin, timeout=5).status == 200
    except OSError:
        return False
