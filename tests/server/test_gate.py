"""The gate for what comes in: hostile texts, bodies, numbers and links, each with what it must answer. None may be a 500."""

import json

import pytest

from navrel.server.rules.models import Rule

from .test_rules_api import RULE

#: Characters that no text may hold.
UNSEEN = {
    "NUL": "\0", "bell": "\a", "escape": "\x1b", "delete": "\x7f", "next line": "\x85", "soft hyphen": "\xad",
    "Arabic letter mark": "\u061c", "Hangul filler": "\u3164", "zero-width space": "\u200b", "left-to-right mark": "\u200e",
    "right-to-left mark": "\u200f", "right-to-left override": "\u202e", "pop direction": "\u202c", "word joiner": "\u2060",
    "invisible times": "\u2062", "right-to-left isolate": "\u2067", "byte order mark": "\ufeff",
    "interlinear anchor": "\ufff9", "no character": "\uffff", "tag": "\U000e0041", "joiner without neighbours": "\u200d",
}  # fmt: skip
#: Characters that look odd and are fine.
FINE = [
    "Ærø",
    "Ελλάδα",
    "Владивосток",
    "日本語",
    "नमस्ते",
    "👩\u200d👩\u200d👧",
    "می\u200cخواهم",
    "e\u0301",
    "½ € “quoted”",
    "a\u00a0b",
    "❤\ufe0f",
]

PIECE = {"kind": "widget", "name": "Tide", "content": {"items": [{"type": "text", "text": "High water"}]}}


def in_rule(**more):
    return {**RULE, **more}


#: Each place that takes a text, as the request that holds it: method, path, body, and the pointer that is named.
PLACES = {
    "rule name": lambda text: ("post", "rules", in_rule(name=text), "/name"),
    "rule note": lambda text: ("post", "rules", in_rule(note=text), "/note"),
    "include": lambda text: ("post", "rules", in_rule(condition={"include": f'page:"/{text}"'}), "/condition/include"),
    "visitors": lambda text: (
        "post", "rules", in_rule(condition={"include": "all", "visitors": {"include": f'role:"{text}"'}}),
        "/condition/visitors/include",
    ),
    "piece name": lambda text: ("post", "pieces", {**PIECE, "name": text}, "/name"),
    "piece note": lambda text: ("post", "pieces", {**PIECE, "note": text}, "/note"),
    "item text": lambda text: (
        "post", "pieces", {**PIECE, "content": {"items": [{"type": "text", "text": text}]}}, "/content/items/0/text",
    ),
    "link text": lambda text: (
        "post", "pieces",
        {**PIECE, "content": {"items": [{"type": "links", "links": [{"text": text, "href": "/"}]}]}},
        "/content/items/0/links/0/text",
    ),
    "key": lambda text: ("post", "pieces", {**PIECE, "content": {text: 1}}, None),
    "query": lambda text: ("post", "query", {"text": text, "domain": "search"}, "/text"),
    "lens": lambda text: ("post", "lens", {"visitor": f'referrer:"{text}"'}, "/visitor"),
    "pin": lambda text: ("put", "pins", {"path": f"/{text}", "action": {"do": "empty", "slot": "footer"}}, "/path"),
    "picked path": lambda text: ("post", "suggestions", {"paths": ["/", text]}, "/paths/1"),
    "note of a revision": lambda text: ("post", "revisions", {"version": 1, "note": text}, "/note"),
}  # fmt: skip


def send(api, method, path, body):
    """A request with any body, written as JSON just as it is."""
    text = body if isinstance(body, str) else json.dumps(body)
    return getattr(api.client, method)(
        f"/api/sites/marrowick/{path}", text, content_type="application/json", headers={"If-Match": '"1"'}
    )


@pytest.mark.parametrize("place", PLACES)
@pytest.mark.parametrize("name", UNSEEN)
def test_a_character_that_cannot_be_seen_is_refused_with_its_place(api, name, place):
    method, path, body, pointer = PLACES[place](f"a{UNSEEN[name]}b")
    answer = send(api, method, path, body)
    (problem,) = answer.json()["problems"]
    assert (answer.status_code, problem["code"]) == (400, "character")
    assert f"U+{ord(UNSEEN[name]):04X}" in problem["message"]
    assert pointer in (None, problem["pointer"])


@pytest.mark.parametrize("place", PLACES)
def test_a_lone_surrogate_is_no_json(api, place):
    method, path, body, _ = PLACES[place]("a\ud800b")
    assert send(api, method, path, body).status_code == 400


@pytest.mark.parametrize("text", FINE)
def test_what_people_write_is_taken(api, text):
    assert send(api, "post", "rules", in_rule(name=text, note=text)).status_code == 201
    assert send(api, "post", "pieces", {**PIECE, "name": text, "note": text}).status_code == 201


@pytest.mark.parametrize("parameter", [("search", "query"), ("trace", "path"), ("preview", "path"), ("layout", "visitor"),
                                       ("layout", "at"), ("choices", "fact"), ("rules", "visitor")])  # fmt: skip
@pytest.mark.parametrize("name", ["NUL", "right-to-left override", "zero-width space", "escape"])
def test_parameters_pass_the_same_gate(api, name, parameter):
    path, key = parameter
    answer = api.get(path, **{key: f"a{UNSEEN[name]}b"})
    assert (answer.status_code, answer.json()["code"]) == (400, "character")
    assert answer.json()["problems"][0]["parameter"] == key


#: Every request that takes a body.
BODIES = {
    "rules": "post", "pieces": "post", "reach": "post", "suggestions": "post", "query": "post", "completion": "post",
    "lens": "post", "revisions": "post", "picture": "post", "pins": "put",
}  # fmt: skip
DEEP = '{"name":' + "[" * 5000 + "]" * 5000 + "}"
NO_BODIES = {
    "nothing": "", "half": "{", "a word": "true", "a number": "5", "a text": '"x"', "a list": "[1]", "null": "null",
    "NaN": '{"name": NaN}', "a huge number": '{"name": 1e999999}', "5,000 digits": '{"name": ' + "9" * 5000 + "}",
    "5,000 deep": DEEP, "not UTF-8": '{"name": "\\ud83d"}', "a comment": '{"name": 1 /* one */}', "single quotes": "{'name': 'x'}",
}  # fmt: skip


@pytest.mark.parametrize("path", BODIES)
@pytest.mark.parametrize("name", NO_BODIES)
def test_a_body_that_is_none_is_refused(api, name, path):
    answer = send(api, BODIES[path], path, NO_BODIES[name])
    if (name, path) == ("nothing", "lens"):
        assert answer.json()["words"] == ["Signed-out visitor", "Desktop"], "nothing said is the usual visitor"
        return
    assert answer.status_code in (400, 422)
    assert answer.headers["Content-Type"] == "application/problem+json"
    if not NO_BODIES[name].startswith('{"name": ') and name != "nothing":
        assert answer.status_code == 400


#: Texts, by the request and the pointer at which each stands.
TEXTS = {
    "/name": lambda value: ("rules", in_rule(name=value)),
    "/note": lambda value: ("rules", in_rule(note=value)),
    "/condition/include": lambda value: ("rules", in_rule(condition={"include": value})),
    "/condition/visitors/exclude": lambda value: ("rules", in_rule(condition={"visitors": {"exclude": value}})),
    "/condition/schedule/from": lambda value: ("rules", in_rule(condition={"schedule": {"from": value}})),
    "/condition/schedule/repeats/rrule": lambda value: (
        "rules",
        in_rule(condition={"schedule": {"repeats": {"rrule": value, "start": "2026-12-01", "duration": "P1D"}}}),
    ),
    "/actions/0/piece": lambda value: ("rules", in_rule(actions=[{"do": "fill", "slot": "header", "piece": value}])),
    "/actions/0/slot": lambda value: ("rules", in_rule(actions=[{"do": "empty", "slot": value}])),
    "/entries/0/piece": lambda value: ("pieces", {"kind": "sidebar", "name": "S", "entries": [{"piece": value}]}),
    "/slots/0": lambda value: ("pieces", {"kind": "template", "name": "T", "slots": [value]}),
}


@pytest.mark.parametrize("pointer", TEXTS)
@pytest.mark.parametrize("value", [True, 5, [1], {"a": 1}], ids=str)
def test_what_is_no_text_is_refused_in_its_place(api, value, pointer):
    answer = send(api, "post", *TEXTS[pointer](value))
    assert answer.status_code == 400
    assert pointer in [problem["pointer"] for problem in answer.json()["problems"]]


@pytest.mark.parametrize("text", ["²", "1.5", "-1", "9" * 5000, "٣", "1e3", " ", "0x10", "one"])
def test_what_is_no_number_is_refused(api, text):
    assert api.get("pages", offset=text).status_code == 400
    rule = Rule.objects.first()
    answer = api.client.put(
        f"/api/sites/marrowick/rules/{rule.pk}", RULE, content_type="application/json",
        headers={"If-Match": f'"{text}"'.encode().decode("latin-1")},
    )  # fmt: skip
    assert answer.status_code == 400
    assert api.get(f"rules/{text}").status_code == 404
    assert api.post("query", {"text": f"words:{text}", "domain": "page"}).json()["problem"]["code"] in (
        "bad-number", "empty-value", "missing-value", "no-value", "leading-minus",
    )  # fmt: skip


#: Links: whether an item may have them, and the reason where not.
ELSEWHERE = "this leads to another host"
SCHEME = "an address starts with"
LINKS = {
    "/tickets": "", "#top": "", "?q=1": "", "tickets/help": "", "https://ferries.example/": "", "mailto:a@b.example": "",
    "tel:+4512345678": "", "HTTP://ferries.example": "", "/a//b": "", "": "",
    "//evil.example/": ELSEWHERE, "///evil.example": ELSEWHERE, "/\t/evil.example": ELSEWHERE, "/\n/evil.example": ELSEWHERE,
    "\\\\evil.example": ELSEWHERE, "/\\evil.example": ELSEWHERE, "\t//evil.example": ELSEWHERE, " //evil.example": ELSEWHERE,
    "javascript:alert(1)": SCHEME, "JaVaScRiPt:alert(1)": SCHEME, "java\tscript:alert(1)": SCHEME, "java\nscript:alert(1)": SCHEME,
    " javascript:alert(1)": SCHEME, "data:text/html,x": SCHEME, "vbscript:x": SCHEME, "file:///etc/passwd": SCHEME,
    "blob:x": SCHEME, "ftp://x": SCHEME, "https://[x": SCHEME, "/a\tb": SCHEME, "javascript&colon;alert(1)": "",
}  # fmt: skip


@pytest.mark.parametrize("href", LINKS)
def test_links_lead_where_they_say(api, href):
    content = {"items": [{"type": "button", "text": "Go", "href": href}]}
    answer = send(api, "post", "pieces", {**PIECE, "content": content})
    if not LINKS[href]:
        assert answer.status_code == 201
    else:
        (problem,) = answer.json()["problems"]
        assert (answer.status_code, problem["pointer"]) == (422, "/content/items/0/href")
        assert problem["message"].startswith(LINKS[href])


@pytest.mark.parametrize("action", ["https://evil.example/", "//evil.example", "mailto:x@y.example", "javascript:x"])
def test_a_search_box_asks_its_own_site(api, action):
    content = {"items": [{"type": "search", "action": action}]}
    assert send(api, "post", "pieces", {**PIECE, "content": content}).status_code == 422


#: Track lists of a template's columns: whether they are CSS Grid, for two columns of areas.
TRACKS = {
    "1fr 18rem": True, "minmax(0, 1fr) 18rem": True, "repeat(2, 1fr)": True, "auto max-content": True, "50% 50%": True,
    "fit-content(20rem) 1fr": True, "repeat(2, minmax(10rem, 1fr))": True, "0 1fr": True, "1.5fr .5fr": True,
    "1fr": False, "1fr 1fr 1fr": False, "((((((": False, "repeat(100000000,1px)": False, "repeat(99, 1px)": False,
    "1fr;color:red": False, "1fr } body {": False, "calc(1px) 1fr": False, "url(x) 1fr": False, "1fr, 1fr": False,
    "1 1": False, "-1fr 1fr": False, "1frx 1fr": False, "minmax(1fr, 2rem) 1fr": False, "repeat(0, 1fr)": False,
    "repeat(2, repeat(1, 1fr))": False, "999999999px 1fr": False, "var(--x) 1fr": False, "[a] 1fr [b] 1fr": False,
    "expression(alert(1)) 1fr": False, "1fr\n1fr": False, "  ": False,
}  # fmt: skip


@pytest.mark.parametrize("columns", TRACKS)
def test_columns_of_a_template_are_checked_as_css_grid(api, columns):
    body = {"kind": "template", "name": "Grid", "content": {"areas": ["content aside-end"], "columns": columns}}
    answer = send(api, "post", "pieces", body)
    assert answer.status_code == (201 if TRACKS[columns] else 422)
    if not TRACKS[columns]:
        assert answer.json()["problems"][0]["pointer"] == "/content/columns"


#: Areas of a template: whether they are CSS Grid.
AREAS = [
    (["header header", "content aside-end"], True), ([". content"], True),
    (["a b", "b a"], False), (["a a", "a b"], False), (["a", "b c"], False), (["a" * 5 + '"'], False), (["a"] * 61, False),
    ([" ".join(["a"] * 25)], False), (["}"], False), ([1], False), ("header", False),
]  # fmt: skip


@pytest.mark.parametrize(("areas", "fine"), AREAS, ids=str)
def test_areas_of_a_template_are_checked_as_css_grid(api, areas, fine):
    answer = send(api, "post", "pieces", {"kind": "template", "name": "Grid", "content": {"areas": areas}})
    assert answer.status_code == (201 if fine else 422)
