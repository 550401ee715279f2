"""Servers that are told of publications, as an owner sets them up and looks after them."""

import json
import re
from http.server import BaseHTTPRequestHandler, HTTPServer
from threading import Thread

import pytest
from navrel_rehearsal import Stage
from playwright.sync_api import expect

from .conftest import go
from .test_publish import switch_off


@pytest.fixture
def receiver(demo: Stage):
    """A server that takes down what it is sent, and fails as often as it is told to; the clock that sends runs."""
    got, answers = [], []

    class Handler(BaseHTTPRequestHandler):
        def do_POST(self):
            got.append((dict(self.headers), json.loads(self.rfile.read(int(self.headers["Content-Length"])))))
            self.send_response(answers.pop(0) if answers else 204)
            self.end_headers()

        def log_message(self, *arguments):
            pass

    with HTTPServer(("127.0.0.1", demo.other), Handler) as server:
        Thread(target=server.serve_forever, daemon=True).start()
        with demo.beside("-m", "navrel.cli", "clock") as clock:
            yield f"http://127.0.0.1:{demo.other}/told", got, answers
            clock.terminate()
        server.shutdown()


@pytest.mark.elsewhere
def test_a_server_is_told_of_a_publication_and_what_failed_is_sent_again(page, receiver, axe):
    address, got, answers = receiver
    go(page, "/marrowick/site")
    page.get_by_role("link", name="Servers that are told of publications").click()
    told = page.get_by_role("region", name="Servers that are told")
    expect(told).to_contain_text("Nobody is told yet.")
    told.get_by_label("Address").fill("http://127.0.0.1:1/")
    told.get_by_role("button", name="Tell it").click()
    expect(page.get_by_text("it is asked for at the usual ports, 80 and 443")).to_be_visible()
    told.get_by_label("Address").fill(address)
    told.get_by_role("button", name="Tell it").click()
    secret = told.get_by_label("Secret")
    expect(secret).to_have_value(re.compile("^whsec_"))
    told.get_by_role("button", name="Try it").click()
    sent = told.get_by_role("list", name=f"What was sent to {address}")
    expect(sent.get_by_role("listitem").first).to_contain_text("A try was taken, answered 204")
    assert got[0][1]["type"] == "webhook.tried"
    assert axe(page) == []

    answers.append(503)
    switch_off(page, "Site footer")
    go(page, "/marrowick/publish")
    page.get_by_role("button", name=re.compile("^Publish 1 edit")).click()
    expect(page.get_by_text("Revision 2 is live")).to_be_visible()
    go(page, "/marrowick/site/told")
    # It is told only when it is made.
    expect(told).to_contain_text("http://127.0.0.1")
    expect(secret).to_have_count(0)
    told.get_by_role("button", name="What was sent").click()
    newest = sent.get_by_role("listitem").first
    expect(newest).to_contain_text(re.compile("Revision 2 waits until .*, 1 attempt: answered 503"))
    newest.get_by_role("button", name="Send again: Revision 2").click()
    expect(newest).to_contain_text("Revision 2 was taken, answered 204")
    expect(told).to_contain_text("the last one was taken")
    first, again = (one for one in got if one[1]["type"] == "site.published")
    assert first[0]["webhook-id"] == again[0]["webhook-id"] and first[1] == again[1]
    assert first[1]["data"]["revision"] == 2
    newest.locator("summary").click()
    expect(newest).to_contain_text('"surrogate_keys":["site:marrowick"]')

    told.get_by_role("button", name=f"Remove {address}").click()
    expect(told).to_contain_text("Nobody is told yet.")
