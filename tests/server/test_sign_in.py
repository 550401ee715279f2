"""Members of a site, told by its own sign-in: who they are, what they see, and that nobody else sees it."""

import json
import time

import jwt
import pytest
from cryptography.hazmat.primitives import serialization
from cryptography.hazmat.primitives.asymmetric import ec, rsa
from django.core.exceptions import ImproperlyConfigured

from navrel.server.delivery.sign_in import sign_in_of
from navrel.server.publishing.services import publish

from .test_delivery import Public, public  # noqa: F401

SECRET = "a secret that the ferries alone and Navrel know"
RULE = {
    "name": "For the crew", "priority": 90,
    "condition": {"include": "page:/about", "visitors": {"include": "role:crew"}},
    "actions": [{"do": "fill", "slot": "header", "piece": "slim-header"}],
}  # fmt: skip
SLIM = b'data-piece="slim-header"'
later = int(time.time()) + 3600


def token(key=SECRET, algorithm="HS256", **claims):
    return jwt.encode({"exp": later, "iss": "ferries", "roles": ["crew"], **claims}, key, algorithm)


@pytest.fixture
def stated(settings, tmp_path):
    """Say how members of the demo site are known."""

    def say(key=SECRET, name="sign-in.json", **more):
        (tmp_path / "key").write_text(key)
        told = {"algorithm": "HS256", "key_file": "key", "cookie": "member", **more}
        path = tmp_path / name
        path.write_text(json.dumps({"marrowick": {name: value for name, value in told.items() if value}}))
        settings.SIGN_IN = str(path)
        return sign_in_of("marrowick")

    return say


def pair(kind):
    made = rsa.generate_private_key(65537, 2048) if kind == "RS256" else ec.generate_private_key(ec.SECP256R1())
    public_key = made.public_key().public_bytes(
        serialization.Encoding.PEM, serialization.PublicFormat.SubjectPublicKeyInfo
    )
    return made, public_key.decode()


@pytest.mark.parametrize("kind", ["RS256", "ES256", "HS256"])
def test_a_token_that_is_signed_tells_roles_and_no_other_does(stated, kind):
    private_key, public_key = (SECRET, SECRET) if kind == "HS256" else pair(kind)
    sign_in = stated(
        public_key, algorithm=kind, issuer="ferries", roles="access.roles", header="Authorization", cookie=""
    )

    def member(text):
        return sign_in.member({"HTTP_AUTHORIZATION": f"Bearer {text}"})

    def signed(**claims):
        return token(private_key, kind, **{"access": {"roles": ["crew", "deck"]}, **claims})

    assert member(signed()) == {"crew", "deck"}
    assert member(signed(access={"roles": "crew deck"})) == {"crew", "deck"}
    for roles in (None, 5, {"crew": 1}, [1, "", "x" * 101]):
        assert member(signed(access={"roles": roles})) == frozenset()
    assert len(member(signed(access={"roles": [f"r{number}" for number in range(500)]}))) == 100
    head, body, mark = signed().split(".")
    other = token(SECRET + "!" if kind == "HS256" else pair(kind)[0], kind, access={"roles": ["crew"]})
    plain = jwt.encode({"exp": later, "iss": "ferries", "access": {"roles": ["crew"]}}, "", "none")
    for text in ("", "x", "x.y.z", f"{head}.{body}.", f"{head}.{body[:-2]}.{mark}", other, plain, signed(exp=1), signed(exp=None),
                 signed(iss="others"), signed(nbf=later), "a" * 9000, f"{head}.{body}.{mark}é"):  # fmt: skip
        assert member(text) is None, text
    # With a public key as the secret of another algorithm nobody can sign.
    if kind == "RS256":
        with pytest.raises(jwt.InvalidKeyError):
            token(public_key, "HS256")


def test_members_see_what_is_theirs_and_nobody_else_does(stated, public, api):  # noqa: F811
    stated()
    api.post("rules", RULE)
    publish("marrowick", None, "")
    crew, deck = ({"cookie": f"a=b; member={token(roles=[role])}"} for role in ("crew", "deck"))
    for _ in range(2):
        out = [
            public.get("/about", **headers)
            for headers in ({}, {"cookie": "member=x"}, {"cookie": f"member={token(exp=1)}"})
        ]
        assert len({(status, told["ETag"], body) for status, told, body in out}) == 1
        # What is no token to Navrel may be one to a cache: what is answered to it is kept by none.
        assert [told["Cache-Control"] for _, told, _ in out] == ["no-cache", "private, no-cache", "private, no-cache"]
        seen = {"out": out[0], "deck": public.get("/about", **deck), "crew": public.get("/about", **crew)}
        assert [name for name, (_, _, body) in seen.items() if SLIM in body] == ["crew"]
        for name, (_, told, body) in seen.items():
            # The footer of the demo leads members to their pass.
            assert (b'class="sign-in" href="/pass">Your pass<' in body) is (name != "out")
            assert told["Vary"] == "Accept-Encoding, Cookie"
            assert told["Cache-Control"] == ("no-cache" if name == "out" else "private, no-cache")
        assert len({told["ETag"] for _, told, _ in seen.values()}) == 3
    assert public.drawn == 3
    assert public.get("/about", **crew, if_none_match=seen["out"][1]["ETag"])[0] == "200"


def test_without_a_sign_in_nobody_is_signed_in(public, api):  # noqa: F811
    api.post("rules", RULE)
    publish("marrowick", None, "")
    _, told, body = public.get("/about", cookie=f"member={token()}")
    assert SLIM not in body and told["Vary"] == "Accept-Encoding"
    assert isinstance(public, Public)


def test_behind_an_edge_members_are_told_by_its_own_word(stated, public, api, settings):  # noqa: F811
    stated()
    settings.EDGE = True
    api.post("rules", RULE)
    publish("marrowick", None, "")
    assert public.get("/about")[1]["Vary"] == "Accept-Encoding, Navrel-Member"
    _, told, body = public.get("/about", cookie=f"member={token()}", navrel_member="1")
    assert SLIM in body and told["Cache-Control"] == "private, no-cache"
    # One that has ended looks to the edge like one that holds, and what it gets was kept for whoever has none.
    _, told, body = public.get("/about", cookie=f"member={token(exp=1)}", navrel_member="1")
    assert SLIM not in body and told["Cache-Control"] == "private, no-cache" and public.drawn == 2


_PEM = "-----BEGIN PUBLIC KEY-----\nx\n-----END PUBLIC KEY-----"


@pytest.mark.parametrize(
    ("key", "more", "why"),
    [
        ("short", {}, "the secret of HS256 has to be 32 bytes or more"),
        (_PEM, {}, "none of a pair of keys"),
        (SECRET, {"algorithm": "RS256"}, "key_file has to hold a public key in PEM for RS256"),
        (SECRET, {"algorithm": "none"}, "algorithm has to be one of RS256, ES256, HS256"),
        (SECRET, {"header": "Authorization"}, "say cookie or header, and one of them"),
        (SECRET, {"key_file": "nowhere"}, "key_file cannot be read"),
        (SECRET, {"key_file": ""}, "there is no key_file"),
        (SECRET, {"secret": SECRET}, "there is no secret here"),
        (SECRET, {"issuer": ["ferries"]}, "this has to be an object of texts"),
    ],
)
def test_what_is_wrong_with_it_is_told(stated, key, more, why):
    with pytest.raises(ImproperlyConfigured, match=r"NAVREL_SIGN_IN: .*: marrowick: ") as error:
        stated(key, **more)
    assert why in str(error.value)


@pytest.mark.parametrize("text", ["", "{", "[]", '{"marrowick": 5}'])
def test_a_file_that_says_nothing_is_told_too(settings, tmp_path, text):
    path = tmp_path / "sign-in.json"
    path.write_text(text)
    settings.SIGN_IN = str(path)
    with pytest.raises(ImproperlyConfigured, match="NAVREL_SIGN_IN"):
        sign_in_of("marrowick")


def test_it_is_told_whether_anybody_is_signed_in_where_a_site_is_served(api, stated, settings):
    def told():
        return api.client.get("/api/sites/marrowick").json()["knows_members"]

    assert told() is False
    stated(name="told.json")
    assert told() is True
    settings.SIGN_IN = "/no/such/file"
    assert told() is False
