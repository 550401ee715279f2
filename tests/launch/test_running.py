"""A whole Navrel, started, disturbed and ended as people and machines do it."""

import json
import os
import re
import signal
import subprocess
import sys
import urllib.error
import urllib.request
from functools import partial

import pytest
from navrel_faults.installation import ROOT, Installation, wait_for

from navrel.launch.database import free_port

SITE_PORT = free_port()
#: One installation, one test after the other.
pytestmark = pytest.mark.xdist_group("running")


@pytest.fixture(scope="module")
def installation(tmp_path_factory):
    made = Installation(tmp_path_factory.mktemp("navrel"), NAVREL_METRICS_TOKEN="counts", NAVREL_LOG="json")
    yield made
    made.end()


@pytest.fixture
def here(installation):
    """It runs, whatever the test before has done to it."""
    if not installation.launcher or installation.launcher.poll() is not None:
        installation.start("--site-port", f"marrowick={SITE_PORT}", "--site-prefix", "marrowick=/ferries")
    wait_for("an answer", lambda: is_back(installation))
    return installation


@pytest.fixture(scope="module")
def idle(tmp_path_factory):
    """One that never ran."""
    return Installation(tmp_path_factory.mktemp("idle"))


def is_back(here):
    return here.visit("/about")[0] == 200 and here.ask("/api/session")[0] == 200


def test_a_site_is_served_on_a_port_of_its_own_too(here):
    with urllib.request.urlopen(f"http://127.0.0.1:{SITE_PORT}/about", timeout=20) as answer:
        assert answer.read() == here.visit("/about")[1]
    assert f"marrowick        http://127.0.0.1:{SITE_PORT}" in here.said()


def test_a_site_is_served_below_a_path_too(here):
    status, page = here.visit("/ferries/about")
    assert status == 200 and b'href="/ferries/routes"' in page
    assert f"marrowick        {here.published}/ferries/" in here.said()


def asked(address, **headers):
    """The status, the headers and the text of an answer."""
    request = urllib.request.Request(
        address, headers={name.replace("_", "-"): value for name, value in headers.items()}
    )
    try:
        with urllib.request.urlopen(request, timeout=20) as answer:
            return answer.status, answer.headers, answer.read().decode()
    except urllib.error.HTTPError as error:
        return error.code, error.headers, error.read().decode()


def test_both_servers_tell_whether_they_are_well(here):
    for origin in (here.application, here.published):
        for what in ("health", "ready"):
            wait_for(what, partial(is_well, f"{origin}/-/{what}"))


def is_well(address):
    return asked(address)[::2] == (200, "yes\n")


def test_what_is_counted_is_told_to_whoever_shows_the_token(here):
    def counts():
        status, _, text = asked(f"{here.application}/metrics", Authorization="Bearer counts")
        assert status == 200
        return {
            name: float(value) for name, value in re.findall(r"^(\w+(?:\{[^}]*\})?) ([\d.e+]+)$", text, re.MULTILINE)
        }

    assert asked(f"{here.application}/metrics")[0] == 401
    assert asked(f"{here.application}/metrics", Authorization="Bearer other")[0] == 401
    assert asked(f"{here.published}/metrics")[0] == 404
    pages = 'navrel_requests_total{server="published site",status="200"}'
    before = counts()
    for _ in range(20):
        here.visit("/about")
    after = counts()
    assert after[pages] - before[pages] == 20
    kept = "navrel_answers_kept_total"
    assert 10 <= after[kept] - before[kept] <= 20
    assert after['navrel_request_seconds_count{server="published site"}'] > 20
    assert after['navrel_site_revision{site="marrowick"}'] >= 1 and after['navrel_site_pages{site="marrowick"}'] > 100


def test_each_request_has_an_id_that_the_log_tells(here):
    stated = "edge-5f3a"
    _, told, _ = asked(f"{here.published}/about", X_Request_Id=stated)
    assert told["X-Request-Id"] == stated
    _, told, _ = asked(f"{here.application}/api/session", X_Request_Id='no "id" <b>')
    own = told["X-Request-Id"]
    assert re.fullmatch(r"[0-9a-f]{32}", own)

    def lines():
        found = (json.loads(line) for line in here.said().splitlines() if line.startswith("{"))
        return {line["request"]: line for line in found}

    wait_for("both lines", lambda: {stated, own} <= lines().keys())
    line = lines()[stated]
    assert (line["server"], line["method"], line["path"], line["status"]) == ("published site", "GET", "/about", 200)
    assert line["milliseconds"] >= 0 and line["levelname"] == "INFO" and line["timestamp"]


def of_guide(chapter):
    """The first program or command of a chapter of the guide."""
    text = (ROOT / "docs" / "guide.md").read_text().partition(f"\n## {chapter}\n")[2]
    return re.findall(r"```(?:sh|python)\n(.*?)```", text, re.DOTALL)[0]


def test_the_guide_puts_a_site_on_a_static_host(here, tmp_path):
    command = of_guide("Put it on a static host").split()
    assert command[0] == "./navrel"
    done = here.run(*command[1:-1], str(tmp_path / command[-1]), "--workers", "2")
    assert done.returncode == 0 and "Left out: what /search finds: files search nothing" in done.stderr
    for name, address in (("index.html", "/"), ("about.html", "/about"), ("404.html", "/no/such")):
        assert (tmp_path / "public" / name).read_bytes() == here.visit(address)[1]
    again = here.run("export", "marrowick", str(tmp_path / "public"), "--check")
    assert again.returncode == 0 and " 0 would be written, 0 would be removed." in again.stdout
    phone = here.run("export", "marrowick", str(tmp_path / "public"), "--check", "--visitor", "role:crew")
    assert phone.returncode == 2 and "--visitor" in phone.stderr


def test_the_guide_asks_for_a_layout_from_a_program(here, tmp_path):
    here.sign_in()
    told = {"name": "shop", "site": "marrowick", "role": "published", "days": 1}
    made = json.loads(here.ask("/api/tokens", "POST", told)[1])
    program = tmp_path / "program.py"
    program.write_text(of_guide("Ask for it from your program"))
    env = {**os.environ, "SITE": here.published, "TOKEN": made["token"]}
    page = subprocess.run([sys.executable, str(program)], env=env, capture_output=True, text=True, check=True).stdout
    assert "About us" in page and 'data-piece="main-header"' in page and 'data-piece="site-footer"' in page
    (link,) = re.findall(r'href="(/-/place-[0-9a-f]+\.css)"', page)
    assert here.visit(link)[0] == 200
    here.ask(f"/api/tokens/{made['id']}", "DELETE")
    ended = subprocess.run([sys.executable, str(program)], env=env, capture_output=True, text=True, check=False)
    assert ended.returncode == 1 and "HTTP Error 401" in ended.stderr


def test_a_second_start_says_who_runs_where(here):
    done = here.run("start")
    assert done.returncode == 1
    assert done.stderr == (
        f"Navrel runs here already, as process {here.launcher.pid}: {here.application}, "
        f"the published site on {here.published}. ./navrel stop ends it.\n"
    )


@pytest.mark.parametrize("kind", ["database", "master", "worker"])
def test_what_dies_is_started_again(here, kind):
    before = here.processes()[kind]
    here.kill(kind)
    wait_for(f"another {kind}", lambda: set(here.processes()[kind]) - set(before))
    wait_for("an answer", lambda: is_back(here))
    assert "Traceback" not in here.said()


def test_requests_get_a_clear_503_while_the_database_is_away(here):
    here.sign_in()
    (before,) = here.processes()["database"]
    for _ in range(30):
        here.visit("/about")
    here.kill("database")
    # What is kept is served on, by either process.
    assert {here.visit("/about")[0] for _ in range(10)} == {200}
    statuses = set()
    wait_for("an answer", lambda: statuses.add(here.ask("/api/sites")[0]) or 200 in statuses)
    assert statuses <= {200, 503}
    assert before not in here.processes()["database"]


def test_nothing_is_left_of_a_launcher_that_was_killed_and_the_next_start_goes_on(here):
    here.kill("launcher")
    here.launcher.wait()
    wait_for("everything to end", lambda: not any(here.processes().values()), 40)
    here.start()
    assert is_back(here)
    here.sign_in()
    assert json.loads(here.ask("/api/sites/marrowick")[1])["pages"] == 132


def test_stop_ends_what_runs_in_order(here):
    done = here.run("stop")
    assert (done.returncode, done.stdout) == (0, "Stopped.\n")
    assert here.launcher.wait(timeout=30) == 0
    assert not any(here.processes().values())
    assert here.said().endswith("Stopping …\n")
    assert here.run("stop").stdout == "Nothing runs here.\n"


def test_a_stop_where_nothing_runs_says_so(idle):
    assert idle.run("stop").stdout == "Nothing runs here.\n"


def test_a_stop_that_is_asked_for_twice_ends_without_a_traceback(here):
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGINT):
        here.launcher.send_signal(number)
    assert here.launcher.wait(timeout=60) == 0
    assert "Traceback" not in here.said()
    assert not any(here.processes().values())


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["--help"], "usage: ./navrel COMMAND"),
        (["start", "--help"], "usage: ./navrel start"),
        (["test", "--help"], "usage: ./navrel test"),
        (["stop", "--help"], "usage: ./navrel stop"),
    ],
)
def test_help_is_printed_and_starts_nothing(idle, arguments, says):
    done = idle.run(*arguments)
    assert (done.returncode, done.stdout.startswith(says)) == (0, True)
    assert not any(idle.processes().values())


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["start", "--port", "x"], "x is no port"),
        (["start", "--port", "99999"], "99999 is no port"),
        (["start", "--nonsense"], "unrecognized arguments: --nonsense"),
        (["start", "--port", "8499", "--public-port", "8499"], "need ports of their own"),
        (["start", "--port", "8499", "--site-port", "shop=8499"], "need ports of their own"),
        (["start", "--site-port", "8499"], "names no site and port; write it as shop=8430"),
        (["start", "--site-prefix", "shop=shop"], "names no site and path; write it as shop=/shop"),
        (["start", "--site-prefix", "shop=/-/files"], "names no site and path"),
        (["start", "--host", "203.0.113.9"], "There is no address 203.0.113.9 on this machine."),
    ],
)
def test_options_that_cannot_be_used_are_told(idle, arguments, says):
    done = idle.run(*arguments)
    assert done.returncode in (1, 2)
    assert says in done.stderr
    assert "Traceback" not in done.stderr
