"""An export behind nginx: everybody gets the look that the published site would show them."""

import os
import random
import subprocess
import urllib.error
import urllib.request
from contextlib import contextmanager
from itertools import product
from urllib.parse import quote

import pytest
from django.test import Client, override_settings

from navrel.launch.database import free_port
from navrel.launch.serving import wait_until_served
from navrel.server.exporting.folder import Folder
from navrel.server.exporting.nginx import configuration
from navrel.server.exporting.writing import export
from navrel.server.publishing.live import live
from navrel.server.publishing.services import publish
from navrel.server.settings import delivery

from .test_delivery import DESK, OTHER_DESK, PHONE
from .test_exporting import anyone, files

TABLET = "Mozilla/5.0 (iPad; CPU OS 18_0 like Mac OS X) Version/18.0 Safari/604.1"
CONDITIONS = {
    "/about": "device:phone", "/help": "accepts:nb", "/contact": "referrer:news.example",
    "/tickets": "query.campaign:spring", "/routes": "browser:firefox query.ref:*",
    "/harbours": "device:tablet | accepts:de -browser:safari",
}  # fmt: skip
AGENTS = ("", PHONE, DESK, OTHER_DESK, TABLET, "Mozilla/5.0 Chrome/140.0 Edg/140.0", 'a "quoted" $agent;')
LANGUAGES = (
    "",
    "nb",
    "nb-NO,nb;q=0.9,en;q=0.8",
    "en-GB",
    "de",
    "nbx",
    "*",
    "*;q=0.5",
    "en, " * 30 + "nb",
    "xx;q=1,NB-no",
    ";;,",
)
REFERRERS = (
    "",
    "https://news.example/a",
    "http://www.NEWS.example:8080/x",
    "https://news.example.org/",
    "nonsense",
    "https://xnews.example/",
)
QUERIES = (
    "",
    "?campaign=spring",
    "?campaign=autumn&campaign=spring",
    "?campaign=spring&campaign=autumn",
    "?xcampaign=spring",
    "?ref",
    "?ref=",
    "?a=1&ref=2",
    "?campaign=spring2",
    "?refx=1",
)


@contextmanager
def nginx(folder, conf):
    """Debian's nginx with a configuration, as long as the block lasts."""
    port = free_port()
    (folder / "site.conf").write_text(conf(f"127.0.0.1:{port}"))
    (folder / "nginx.conf").write_text(
        f"{'user root; ' if os.getuid() == 0 else ''}daemon off; worker_processes 1; pid {folder}/nginx.pid; error_log {folder}/error.log; events {{}}\n"
        f"http {{ include /etc/nginx/mime.types; access_log off; client_body_temp_path {folder}/body; proxy_temp_path {folder}/proxy;"
        f" fastcgi_temp_path {folder}/fastcgi; uwsgi_temp_path {folder}/uwsgi; scgi_temp_path {folder}/scgi;"
        f" include {folder}/site.conf; }}\n"
    )
    command = ["/usr/sbin/nginx", "-p", str(folder), "-c", str(folder / "nginx.conf")]
    checked = subprocess.run([*command, "-t"], capture_output=True, text=True, check=False)
    assert checked.returncode == 0, checked.stderr
    server = subprocess.Popen(command, stderr=subprocess.DEVNULL)
    try:
        wait_until_served("nginx", server, port)
        yield f"http://127.0.0.1:{port}"
    finally:
        server.terminate()
        server.wait(timeout=20)


class _Stays(urllib.request.HTTPRedirectHandler):
    def redirect_request(self, *arguments):
        return None


def fetched(address, headers):
    """The status, headers and body of an answer; a redirect is not followed."""
    opener = urllib.request.build_opener(_Stays, urllib.request.ProxyHandler({}))
    request = urllib.request.Request(address, headers={"User-Agent": "", **headers})
    try:
        with opener.open(request, timeout=10) as answer:
            return answer.status, answer.headers, answer.read()
    except urllib.error.HTTPError as error:
        return error.code, error.headers, error.read()


@pytest.fixture
def exported(api, site, tmp_path):
    for path, visitors in CONDITIONS.items():
        condition = {"include": f"page:{path}", "visitors": {"include": visitors}}
        actions = [{"do": "fill", "slot": "header", "piece": "slim-header"}]
        made = api.post("rules", {"name": f"On {path}", "priority": 90, "condition": condition, "actions": actions})
        assert made.status_code == 201, made.content
    publish("marrowick", None, "")
    state = live(site)
    assert state is not None
    report = export(state, Folder(tmp_path / "public"), anyone(state), workers=1, looks=True)
    served = report.served
    assert served is not None
    with nginx(tmp_path, lambda listen: configuration(served, tmp_path / "public", listen)) as address:
        yield tmp_path / "public", report, address


def published(path, headers):
    with override_settings(
        ROOT_URLCONF=delivery.ROOT_URLCONF, MIDDLEWARE=delivery.MIDDLEWARE, ALLOWED_HOSTS=["testserver"]
    ):
        return Client().get(path, headers=headers)


def test_whoever_asks_gets_what_the_published_site_shows_them(exported):
    folder, _, address = exported
    dice = random.Random(5)
    asked = list(product(CONDITIONS, AGENTS, LANGUAGES, REFERRERS, QUERIES))
    few = [
        *dice.sample(asked, 400),
        *product(["/crew", "/no/such"], AGENTS[:2], LANGUAGES[:2], REFERRERS[:1], QUERIES[:2]),
    ]
    slim = 0
    for path, agent, languages, referrer, query in few:
        told = {"User-Agent": agent, "Accept-Language": languages, "Referer": referrer}
        headers = {name: value for name, value in told.items() if value}
        status, said, body = fetched(f"{address}{path}{query}", headers)
        expected = published(f"{path}{query}", headers)
        assert (status, body) == (expected.status_code, expected.content), (path, agent, languages, referrer, query)
        wanted = {name for name in expected.headers["Vary"].split(", ") if name not in ("Accept-Encoding", "Cookie")}
        assert set(filter(None, (said["Vary"] or "").split(", "))) == wanted
        assert said["Content-Security-Policy"] == expected.headers["Content-Security-Policy"]
        slim += b'data-piece="slim-header"' in body
    assert 20 < slim < len(few) - 20
    assert len([name for name in files(folder) if name.startswith("-/looks/")]) >= len(CONDITIONS)


def test_every_address_answers_as_the_published_site_does(exported, site):
    _, report, address = exported
    state = live(site)
    assert state is not None
    paths = [page.href for page in state.index.tree.pages if page.kind not in ("missing", "search")]
    for path in (*paths, "/no/such", "/-/looks/about~1.html", "/robots.txt", *report.served.moved):
        status, said, body = fetched(f"{address}{quote(path)}", {})
        expected = published(quote(path), {})
        assert status == expected.status_code, path
        if status == 200:
            content = b"".join(expected) if expected.streaming else expected.content
            assert body == content and said["X-Content-Type-Options"] == "nosniff", path
        if status == 308:
            assert said["Location"] == f"{address}{expected.headers['Location']}"
