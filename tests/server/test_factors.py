"""The second factor: set up with a first code, asked for at sign-in, no code good twice, spare ones for when it is lost."""

import json

import pyotp
import pytest
from django.test import Client

from navrel.server.accounts.models import SecondFactor
from navrel.server.logbook.models import Event

from .test_session import token

PASSWORD = "kettle"


class Owner:
    """Somebody with a session, and the clock that codes are made by."""

    def __init__(self, monkeypatch):
        self.client = Client(enforce_csrf_checks=True)
        self.now = 1_800_000_000
        monkeypatch.setattr("time.time", lambda: self.now)

    def send(self, path, body, method="post", client=None):
        client = client or self.client
        answer = getattr(client, method)(
            f"/api/{path}", json.dumps(body), content_type="application/json", headers=token(client)
        )
        return answer.status_code, (answer.json() if answer.content else None)

    def sign_in(self, code=""):
        """Sign in anew, in another browser."""
        body = {"username": "una", "password": PASSWORD, "code": code}
        return self.send("session", body, client=Client(enforce_csrf_checks=True))

    def set_up(self):
        self.secret = self.send("second-factor", {"password": PASSWORD})[1]["secret"]
        return self.send("second-factor", {"code": self.code()}, "put")

    def code(self):
        return pyotp.TOTP(self.secret).at(self.now)


@pytest.fixture
def una(db, settings, django_user_model, monkeypatch):
    settings.ALLOWED_HOSTS = ["testserver"]
    django_user_model.objects.create_user("una", password=PASSWORD)
    owner = Owner(monkeypatch)
    assert owner.send("session", {"username": "una", "password": PASSWORD})[0] == 200
    return owner


def test_it_is_asked_for_from_the_first_code_on(una):
    begun = una.send("second-factor", {"password": PASSWORD})[1]
    assert begun["address"].startswith("otpauth://totp/Navrel:una?secret=" + begun["secret"])
    assert begun["picture"].startswith("data:image/svg+xml")
    assert una.sign_in()[0] == 200, "what was begun and not confirmed shuts nobody out"
    una.secret = begun["secret"]
    assert una.send("second-factor", {"code": "123"}, "put")[1]["problems"][0]["pointer"] == "/code"
    status, told = una.send("second-factor", {"code": una.code()}, "put")
    assert (status, len(set(told["codes"]))) == (200, 10)
    assert una.sign_in() == (401, {**una.sign_in()[1], "code": "code-wanted"})
    una.now += 30
    assert una.sign_in(una.code())[0] == 200


def test_no_code_is_good_twice_nor_an_older_one(una):
    una.set_up()
    assert una.sign_in(una.code())[1]["code"] == "wrong-code", "it was used to confirm"
    una.now += 60
    late = una.code()
    assert una.sign_in(late)[0] == 200
    assert una.sign_in(late)[0] == 401
    una.now -= 30
    assert una.sign_in(una.code())[0] == 401, "an older one that was not used"


@pytest.mark.parametrize(("seconds", "status"), [(-30, 200), (30, 200), (-60, 401), (60, 401)])
def test_clocks_may_differ_by_half_a_minute(una, seconds, status):
    una.set_up()
    una.now += 600
    code = pyotp.TOTP(una.secret).at(una.now + seconds)
    assert una.sign_in(code)[0] == status


def test_a_spare_code_is_good_once_however_it_is_typed(una):
    spare = una.set_up()[1]["codes"][3]
    assert una.sign_in(spare.upper().replace("-", " "))[0] == 200
    assert una.sign_in(spare)[0] == 401
    assert una.client.get("/api/second-factor").json()["spare"] == 9
    assert spare.replace("-", "") not in json.dumps(list(SecondFactor.objects.values_list("spare", flat=True)))
    assert Event.objects.filter(words="Signed in with a spare code; 9 are left").exists()


def test_codes_cannot_be_tried_one_after_the_other(una):
    una.set_up()
    answers = [una.sign_in(f"{number:06}")[0] for number in range(9)]
    assert answers[0] == 401
    assert answers[-1] == 429
    una.now += 60
    assert una.sign_in(una.code())[0] == 429, "a good one has to wait as well"


def test_without_the_password_it_neither_begins_nor_ends(una):
    assert una.send("second-factor", {"password": "tea"})[1]["problems"][0]["pointer"] == "/password"
    una.set_up()
    assert una.send("second-factor", {"password": PASSWORD})[0] == 409
    assert una.send("second-factor/end", {"password": "tea"})[0] == 422
    assert una.sign_in()[0] == 401
    assert una.send("second-factor/end", {"password": PASSWORD})[0] == 204
    assert una.sign_in()[0] == 200


def test_a_wrong_password_is_told_before_anything_of_a_code(una):
    una.set_up()
    body = {"username": "una", "password": "tea", "code": una.code()}
    assert una.send("session", body, client=Client(enforce_csrf_checks=True))[1]["code"] == "wrong-sign-in"
