"""Who may do what: every endpoint by every role, the people of a site, invitations, passwords."""

import re
from datetime import UTC, datetime, timedelta

import pytest
from django.core import signing
from django.test import Client

from navrel.server.accounts.models import ROLES, Invitation, Membership, Token
from navrel.server.edits.models import Presence
from navrel.server.inventory.models import Site
from navrel.server.sitestate.locking import find_site

from .contract import METHODS, description

PASSWORD = "a kettle on the boil"


@pytest.fixture
def person(site, settings, django_user_model):
    """Makes an account and signs it in: `person("ida", "viewer")`."""
    settings.ALLOWED_HOSTS = ["testserver"]

    def make(name, role=None, **more):
        user = django_user_model.objects.create_user(name, password=PASSWORD, **more)
        if role:
            Membership.objects.create(site=site, user=user, role=role)
        client = Client()
        client.force_login(user)
        return client

    return make


def operations():
    """Every operation at a site: its method, its address with something in each place, and the role that it states."""
    for path, methods in description()["paths"].items():
        if "{site}" in path:
            address = path.replace("{site}", "marrowick").replace("{number}", "999999").replace("{other}", "1")
            for method in METHODS:
                if method in methods:
                    yield method, re.sub(r"\{\w+\}", "none", address), methods[method]["x-role"]


def ask(client, method, address):
    return getattr(client, method)(
        address, **({} if method == "get" else {"data": {}, "content_type": "application/json"})
    )


#: What takes more than what is usual, by the names of its operations. All else that asks takes a viewer, all else that
#: writes an editor.
TAKES = {
    "publisher": {"publish", "publishAgain", "planPublication", "dropPlan"},
    "owner": {
        "archiveSite",
        "bringSiteBack",
        "giveRole",
        "takeOut",
        "listInvitations",
        "invite",
        "takeInvitationBack",
        "exportEvents",
        "listWebhooks",
        "makeWebhook",
        "removeWebhook",
        "listSendings",
        "tryWebhook",
        "sendAgain",
    },
}
#: What is sent, but changes nothing of the site; and what somebody who only looks may leave.
ASKS = {
    "completeQuery", "drawDressed", "weighChanges", "judgeRule", "lookIntoLayout", "readLens", "markPage", "unmarkPage",
    "turnIntoMarkup", "turnRound", "drawPiece", "readQuery", "measureReach", "countReaching", "readSchedule", "measureSidebar",
    "suggestConditions", "tryRule", "beThere", "leave", "readNews", "tryGuard", "listUnlike", "askWhyNot",
    "tryBindings", "drawPlace", "tryRecipe",
}  # fmt: skip


def test_each_operation_states_the_role_that_it_should():
    for path, methods in description()["paths"].items():
        for method in METHODS:
            if "{site}" in path and method in methods:
                name = methods[method]["operationId"]
                more = next((role for role, names in TAKES.items() if name in names), None)
                usual = "viewer" if method == "get" or name in ASKS else "editor"
                assert methods[method]["x-role"] == (more or usual), name


@pytest.mark.parametrize("role", ROLES)
def test_every_operation_by_every_role(person, role):
    client = person("ida", role)
    for method, address, takes in operations():
        answer = ask(client, method, address)
        if ROLES.index(role) < ROLES.index(takes):
            assert answer.status_code == 403, (method, address)
            told = answer.json()
            assert told["code"] == "role-lacking"
            assert told["title"] == f"That takes the role {takes}; ida is {role} here"
        else:
            assert answer.status_code not in (401, 403), (method, address)


def test_those_who_are_nothing_at_a_site_are_told_that_there_is_none(person):
    client = person("ida")
    for method, address, _ in operations():
        assert ask(client, method, address).status_code == 404, (method, address)
    assert client.get("/api/sites").json()["items"] == []
    assert ask(Client(), "get", "/api/sites/marrowick/people").status_code == 401


def test_who_runs_the_installation_owns_every_site(person):
    client = person("root", is_superuser=True)
    assert [one["slug"] for one in client.get("/api/sites").json()["items"]] == ["marrowick"]
    assert client.get("/api/sites/marrowick").json()["your_role"] == "owner"


def put(client, address, body):
    return client.put(f"/api/sites/marrowick/{address}", body, content_type="application/json")


def post(client, address, body=None):
    return client.post(address, body or {}, content_type="application/json")


def test_owners_say_who_is_what_and_a_site_keeps_an_owner(person):
    una, imre = person("una", "owner"), person("imre", "viewer")
    assert put(una, "people/imre", {"role": "editor"}).status_code == 204
    assert {one["name"]: (one["role"], one["you"]) for one in una.get("/api/sites/marrowick/people").json()["items"]} == {
        "una": ("owner", True), "imre": ("editor", False),
    }  # fmt: skip
    assert imre.get("/api/sites/marrowick").json()["your_role"] == "editor"
    for refused in (put(una, "people/una", {"role": "viewer"}), una.delete("/api/sites/marrowick/people/una")):
        assert (refused.status_code, refused.json()["code"]) == (409, "last-owner")
    assert put(una, "people/imre", {"role": "captain"}).status_code in (400, 422)
    assert put(una, "people/nobody", {"role": "viewer"}).status_code == 404
    put(una, "people/imre", {"role": "owner"})
    assert una.delete("/api/sites/marrowick/people/una").status_code == 204
    assert una.get("/api/sites/marrowick").status_code == 404


def invited(client, role="editor"):
    return post(client, "/api/sites/marrowick/invitations", {"role": role}).json()["token"]


def test_an_invitation_is_taken_once_by_a_new_account_that_is_signed_in_then(person):
    una = person("una", "owner")
    token = invited(una)
    anybody = Client()
    assert anybody.get(f"/api/invited/{token}").json() == {
        "site": "Marrowick Ferries", "slug": "marrowick", "role": "editor", "by": "una",
    }  # fmt: skip
    assert post(anybody, f"/api/invited/{token}").status_code == 401
    for name, password in (
        ("una", PASSWORD),
        ("UNA", PASSWORD),
        ("a b", PASSWORD),
        ("ida", "short"),
        ("ida", "password123"),
    ):
        refused = post(anybody, f"/api/invited/{token}", {"username": name, "password": password})
        assert refused.status_code == 422, (name, password)
        assert refused.json()["problems"][0]["pointer"] in ("/username", "/password")
    joined = post(anybody, f"/api/invited/{token}", {"username": "ida", "password": PASSWORD})
    assert joined.json()["username"] == "ida"
    assert anybody.get("/api/sites/marrowick").json()["your_role"] == "editor"
    assert Client().get(f"/api/invited/{token}").status_code == 404
    assert una.get("/api/sites/marrowick/invitations").json()["total"] == 0


def test_an_invitation_is_taken_by_somebody_who_has_an_account_but_makes_nobody_less(person):
    una, ida = person("una", "owner"), person("ida")
    token = invited(una, "publisher")
    assert post(una, f"/api/invited/{token}").status_code == 409
    assert una.get("/api/sites/marrowick").json()["your_role"] == "owner"
    assert post(ida, f"/api/invited/{token}").status_code == 200
    assert ida.get("/api/sites/marrowick").json()["your_role"] == "publisher"


def test_an_invitation_ends_by_itself_and_by_hand_and_cannot_be_guessed(person):
    una = person("una", "owner")
    token = invited(una)
    number = Invitation.objects.get().pk
    for guessed in (str(number), signing.dumps(number), token[:-1], f"{token}x"):
        assert Client().get(f"/api/invited/{guessed}").status_code == 404
    assert una.delete(f"/api/sites/marrowick/invitations/{number}").status_code == 204
    assert Client().get(f"/api/invited/{token}").status_code == 404
    other = invited(una)
    Invitation.objects.update(ends=datetime.now(UTC) - timedelta(seconds=1))
    assert Client().get(f"/api/invited/{other}").status_code == 404


def test_a_changed_password_ends_every_other_session(person, django_user_model):
    here = person("ida", "viewer")
    elsewhere = Client()
    elsewhere.force_login(django_user_model.objects.get(username="ida"))

    def change(old, new):
        return here.put("/api/password", {"old": old, "new": new}, content_type="application/json")

    for old, new in (("wrong", "another kettle"), (PASSWORD, "short"), (PASSWORD, "1234567890")):
        assert change(old, new).status_code == 422, (old, new)
    assert elsewhere.get("/api/sites").status_code == 200
    assert change(PASSWORD, "another kettle").status_code == 204
    assert here.get("/api/sites").status_code == 200
    assert elsewhere.get("/api/sites").status_code == 401
    signed_in = post(Client(), "/api/session", {"username": "ida", "password": "another kettle"})
    assert signed_in.json()["username"] == "ida"


def test_whoever_had_an_account_before_roles_owns_what_there_was(site, django_user_model):
    from importlib import import_module

    from django.apps import apps

    user = django_user_model.objects.create_user("bo")
    migration = import_module("navrel.server.accounts.migrations.0002_everyone_as_before")
    Membership.objects.all().delete()
    migration.everyone_owns(apps, None)
    assert Membership.objects.get(user=user, site=find_site("marrowick")).role == "owner"


def sign_in(name, password):
    return post(Client(), "/api/session", {"username": name, "password": password})


def test_too_many_wrong_sign_ins_have_to_wait_and_tell_nobody_whether_there_is_such_an_account(person):
    person("ida", "viewer")
    for name in ("ida", "nobody-at-all"):
        assert [sign_in(name, "wrong").status_code for _ in range(8)] == [401] * 7 + [429]
        assert sign_in(name, "wrong").json()["title"] == "Too many sign-ins were wrong"
    # The right password waits too; another account at the same address does not.
    assert sign_in("ida", PASSWORD).status_code == 429
    person("una", "viewer")
    assert sign_in("una", PASSWORD).status_code == 200


def test_a_right_sign_in_forgets_the_wrong_ones_before(person):
    person("ida", "viewer")
    for _ in range(3):
        assert [sign_in("ida", "wrong").status_code for _ in range(6)] == [401] * 6
        assert sign_in("ida", PASSWORD).status_code == 200


def test_sessions_are_listed_and_all_others_end_at_once(person, django_user_model):
    person("ida", "editor")
    windows = [Client(), Client()]
    for number, window in enumerate(windows):
        sent = {"username": "ida", "password": PASSWORD}
        agent = f"Browser {number}\0<b>"
        assert (
            window.post("/api/session", sent, content_type="application/json", HTTP_USER_AGENT=agent).status_code == 200
        )
    here, there = windows
    listed = here.get("/api/sign-ins").json()
    assert [(one["agent"], one["address"], one["this"]) for one in listed["items"]] == [
        ("Browser 1<b>", "127.0.0.1", False),
        ("Browser 0<b>", "127.0.0.1", True),
    ]
    assert here.delete("/api/sign-ins").status_code == 204
    assert here.get("/api/sign-ins").json()["total"] == 1
    assert there.get("/api/sites/marrowick").status_code == 401
    assert here.get("/api/sites/marrowick").status_code == 200
    # Another password ends all others too, and what is left is still known for what it is.
    there.post("/api/session", {"username": "ida", "password": PASSWORD}, content_type="application/json")
    changed = {"old": PASSWORD, "new": "another kettle entirely"}
    assert here.put("/api/password", changed, content_type="application/json").status_code == 204
    assert [one["this"] for one in here.get("/api/sign-ins").json()["items"]] == [True]
    assert there.get("/api/sites/marrowick").status_code == 401


def bearing(token):
    return {"HTTP_AUTHORIZATION": f"Bearer {token}"}


def make_token(client, **more):
    asked = {"name": "The build", "site": "marrowick", "role": "editor", "days": 30, **more}
    return client.post("/api/tokens", asked, content_type="application/json")


def test_a_program_with_a_token_does_what_its_role_says_until_it_ends(person):
    tove = person("tove", "publisher")
    answer = make_token(tove)
    assert answer.status_code == 201
    token = answer.json()["token"]
    assert Token.objects.get().digest not in token
    program = Client()
    site = "/api/sites/marrowick"
    assert program.get(site).status_code == 401
    assert program.get(site, **bearing(token)).json()["your_role"] == "editor"
    # Without a cookie no token against forged requests is needed.
    menus = program.get(f"{site}/menus", **bearing(token))
    put = program.put(
        f"{site}/menus", {"items": menus.json()["items"]}, content_type="application/json", **bearing(token),
        HTTP_IF_MATCH=menus.headers["ETag"],
    )  # fmt: skip
    assert put.status_code == 200
    # It is an editor, whatever Tove is.
    refused = program.post(f"{site}/revisions", {}, content_type="application/json", **bearing(token))
    assert refused.status_code == 403
    # And it cannot help itself to more: what is an account's own takes a session.
    for method, address in (
        ("get", "/api/tokens"),
        ("post", "/api/tokens"),
        ("put", "/api/password"),
        ("get", "/api/sign-ins"),
    ):
        assert getattr(program, method)(address, **bearing(token)).status_code == 401
    listed = tove.get("/api/tokens").json()["items"]
    assert listed[0]["used"] is not None and "token" not in listed[0]
    assert tove.delete(f"/api/tokens/{listed[0]['id']}").status_code == 204
    assert program.get(site, **bearing(token)).status_code == 401
    assert "The build" in str(tove.get(f"{site}/log").json())


def test_a_token_is_never_more_than_whoever_made_it(person, django_user_model):
    ida = person("ida", "editor")
    assert make_token(ida, role="publisher").status_code == 403
    token = make_token(ida).json()["token"]
    Membership.objects.filter(user__username="ida").update(role="viewer")
    assert Client().get("/api/sites/marrowick", **bearing(token)).json()["your_role"] == "viewer"
    Membership.objects.filter(user__username="ida").delete()
    assert Client().get("/api/sites/marrowick", **bearing(token)).status_code == 404


def test_a_token_ends_by_itself_and_is_for_one_site(person):
    una = person("una-owner", is_superuser=True)
    Site.objects.create(slug="other", name="Other", base_url="https://other.example")
    token = make_token(una, site="other", role="owner").json()["token"]
    assert Client().get("/api/sites/marrowick", **bearing(token)).status_code == 404
    assert [one["slug"] for one in Client().get("/api/sites", **bearing(token)).json()["items"]] == ["other"]
    Token.objects.update(ends=datetime.now(UTC) - timedelta(seconds=1))
    assert Client().get("/api/sites/other", **bearing(token)).status_code == 401
    assert una.get("/api/tokens").json()["total"] == 0


@pytest.mark.parametrize(
    "header", ["Bearer", "Bearer navrel_none", "bearer x y", "Bearer \xff\xfe", "Bearer " + "a" * 4000]
)
def test_what_is_no_token_is_nobody(site, header):
    assert Client().get("/api/sites/marrowick", HTTP_AUTHORIZATION=header).status_code == 401


@pytest.mark.parametrize("more", [{"days": 0}, {"days": 1000}, {"role": "king"}, {"name": ""}, {"site": "nowhere"}])
def test_a_token_that_cannot_be_made_says_why(person, more):
    assert make_token(person("una-owner", "owner"), **more).status_code in (404, 422)


def test_tokens_are_bounded(person):
    una = person("una-owner", "owner")
    made = [make_token(una).status_code for _ in range(21)]
    assert made == [201] * 20 + [409]


def test_who_else_has_a_rule_before_them_is_told_until_they_leave_or_say_it_no_more(person):
    ida, tove, imre = person("ida", "editor"), person("tove", "publisher"), person("imre", "viewer")
    address = "/api/sites/marrowick/presence"

    def others(client, thing="rule/12"):
        return client.put(address, {"thing": thing}, content_type="application/json").json()["names"]

    assert others(ida) == []
    assert others(tove) == ["ida"]
    assert others(imre) == ["ida", "tove"]
    assert others(imre, "piece/site-footer") == []
    assert others(ida) == ["imre", "tove"]
    assert tove.delete(f"{address}?thing=rule/12").status_code == 204
    assert others(ida) == ["imre"]
    Presence.objects.filter(user__username="imre").update(seen=datetime.now(UTC) - timedelta(minutes=1))
    assert others(ida) == []
    Presence.objects.update(seen=datetime.now(UTC) - timedelta(hours=2))
    assert others(tove) == []
    assert Presence.objects.count() == 1


@pytest.mark.parametrize("thing", ["", "rule", "rule/", "rules/12", "rule/12/x", "rule/<b>", "piece/" + "a" * 200])
def test_what_is_nothing_that_is_edited_has_nobody(person, thing):
    ida = person("ida", "editor")
    assert ida.put("/api/sites/marrowick/presence", {"thing": thing}, content_type="application/json").status_code in (
        400,
        422,
    )
