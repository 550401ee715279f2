"""The receiver that ships: what it takes, and what it runs for it."""

import json
import time

import pytest
from navrel_faults.installation import wait_for

from navrel.launch.database import free_port
from navrel.server.webhooks.sending import sign

from .edges import fetched, receiver

SECRET = "whsec_MDEyMzQ1Njc4OWFiY2RlZjAxMjM0NTY3ODlhYmNkZWY="
BODY = json.dumps({"type": "site.published", "timestamp": "", "data": {"site": "marrowick", "revision": 5}})


@pytest.fixture
def tell(tmp_path):
    """A receiver that writes down what it is told, and fails where a file says so."""
    port = free_port()
    script = tmp_path / "told"
    script.write_text(
        f'#!/bin/sh\necho "$NAVREL_TYPE $NAVREL_SITE $NAVREL_REVISION" >>{tmp_path}/took\ntest ! -e {tmp_path}/fails\n'
    )
    script.chmod(0o755)

    def send(message="msg_1", body=BODY, *, secret=SECRET, stamp=None, signed=None):
        now = str(int(time.time())) if stamp is None else stamp
        headers = {
            "webhook-id": message, "webhook-timestamp": now,
            "webhook-signature": f"v1,other v1,{sign(secret, message, now, body if signed is None else signed)}",
        }  # fmt: skip
        return fetched(f"http://127.0.0.1:{port}/", body.encode(), **headers)[0]

    with receiver(tmp_path, port, SECRET, str(script)):
        yield send


def took(folder):
    file = folder / "took"
    return file.read_text().splitlines() if file.exists() else []


def test_what_is_genuine_is_carried_out_once(tell, tmp_path):
    assert [tell(), tell(), tell("msg_2")] == [204, 204, 204]
    assert took(tmp_path) == ["site.published marrowick 5"] * 2


def test_what_fails_is_carried_out_when_it_is_sent_again(tell, tmp_path):
    (tmp_path / "fails").touch()
    assert tell() == 500
    (tmp_path / "fails").unlink()
    assert [tell(), tell()] == [204, 204] and len(took(tmp_path)) == 2


def test_what_is_not_navrels_is_not(tell, tmp_path):
    assert tell(secret="whsec_b3RoZXI=") == 401
    assert tell(signed=BODY.replace("5", "6")) == 401
    assert tell(stamp=str(int(time.time()) - 3600)) == 401
    assert tell(stamp="soon") == 401
    assert tell(body="x" * 70_000) == 413
    assert took(tmp_path) == []
    # Signed, and nonsense all the same.
    assert [tell("msg_3", body) for body in ("{", "[]", '{"data": 5}')] == [500] * 3
    assert took(tmp_path) == []


def test_without_a_command_it_prints_what_it_is_told(tmp_path):
    port = free_port()
    with receiver(tmp_path, port, SECRET) as process:
        now = str(int(time.time()))
        headers = {
            "webhook-id": "m",
            "webhook-timestamp": now,
            "webhook-signature": f"v1,{sign(SECRET, 'm', now, BODY)}",
        }
        assert fetched(f"http://127.0.0.1:{port}/", BODY.encode(), **headers)[0] == 204
        assert wait_for("a line", process.stdout.readline) == BODY + "\n"
