"""The layout file: what is read, what is refused and where, and that writing is exact."""

import json
import time
from dataclasses import replace
from importlib import resources
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from navrel.core.cascade.plain import resolve_page
from navrel.core.errors import DocumentError, Problem
from navrel.core.files.reading import read_document, read_json, read_yaml
from navrel.core.files.references import warnings_of
from navrel.core.files.rereading import reread_document
from navrel.core.files.writing import write_document, write_json, write_yaml
from navrel.core.layout.binding import Binding
from navrel.core.layout.document import SiteDocument, Taxonomy, TaxonomyTerm, slugify
from navrel.core.layout.model import SLOTS
from navrel.core.layout.recipe import ATS, FACTS, STANDARD, FactPlace, FactRecipe, full

from .strategies import layouts, lenses, sites

DEMO = Path(__file__).parents[2] / "demo" / "layout.json"


def named(value):
    """A test's name, the same in every process: sets keep their elements in no order."""
    return str(sorted(value) if isinstance(value, set) else value)


def problems(tree):
    with pytest.raises(DocumentError) as caught:
        read_document(tree)
    return {(problem.pointer, str(problem)) for problem in caught.value.problems}


def document(**parts):
    return {"navrel": 1, "site": {"name": "Marrowick Ferries"}, **parts}


def with_entries(*entries):
    """A site whose sidebar has these entries."""
    pieces = [{"slug": "a", "kind": "widget"}, {"slug": "b", "kind": "sidebar", "entries": list(entries)}]
    return read_document({"navrel": 1, "site": {"name": "Marrowick"}, "pieces": pieces})


def test_an_entry_keeps_its_note_and_whether_it_is_on():
    read = with_entries(
        {"piece": "a", "note": "For the season"}, {"piece": "a", "on": False}, {"piece": "a", "on": True}
    )
    assert [(one.note, one.on) for one in read.layout.pieces["b"].entries] == [
        ("For the season", True),
        ("", False),
        ("", True),
    ]
    written = write_document(read)["pieces"][1]["entries"]
    assert written == [{"piece": "a", "note": "For the season"}, {"piece": "a", "on": False}, {"piece": "a"}]
    with pytest.raises(DocumentError, match=r"/pieces/1/entries/0/on"):
        with_entries({"piece": "a", "on": "no"})


def test_a_short_file_takes_its_defaults():
    found = read_document(
        document(
            pages=[{"path": "/tickets"}],
            pieces=[{"slug": "slim-header", "kind": "header"}, {"slug": "wide", "kind": "template"}],
            rules=[{"name": "r", "condition": {"include": "all"}}],
        )
    )
    page, rule = found.pages[0], found.layout.rules[0]
    assert (found.slug, found.language, page.kind, page.title, page.words) == (
        "marrowick-ferries",
        "en",
        "single",
        "/tickets",
        0,
    )
    assert (rule.on, rule.priority, rule.actions) == (True, 0, ())
    assert found.layout.pieces["slim-header"].name == "Slim header"
    assert found.layout.pieces["slim-header"].slots == ()
    assert found.layout.pieces["wide"].slots == SLOTS


@pytest.mark.parametrize(
    ("tree", "found"),
    [
        ([], {("", "this has to be an object"), ("/navrel", "this has to be 1, the version of the layout file"), ("/site", "name is missing")}),
        (document(colour=1), {("/colour", "there is no colour here")}),
        (document(pages=[{"path": "a"}]), {("/pages/0/path", "a is no path: it starts with / and has no query, fragment or closing slash")}),
        (document(pages=[{}]), {("/pages/0", "path is missing")}),
        (document(pages=[{"path": "/a"}, {"path": "/a"}]), {("/pages/1", "the path /a stands twice; first at /pages/0")}),
        (document(pages=[{"path": "/a", "parent": "/b"}]), {("/pages/0/parent", "there is no page /b")}),
        (document(pages=[{"path": "/a", "parent": "/b"}, {"path": "/b", "parent": "/a"}]), {("/pages", "parents form a loop: /a → /b → /a")}),
        (document(pages=[{"path": "/a", "terms": ["topic/x"]}]), {("/pages/0/terms/0", "there is no term topic/x")}),
        (document(pages=[{"path": "/a", "published": "soon"}]), {("/pages/0/published", "soon is not a date; write it as 2026-03-01")}),
        (document(pages=[{"path": "/a", "words": -1}]), {("/pages/0/words", "this has to be a whole number from 0 to 2147483647")}),
        (document(pieces=[{"slug": "A b", "kind": "header"}]), {("/pieces/0/slug", "A b is no slug: lower-case letters, digits and single hyphens")}),
        (document(pieces=[{"slug": "a"}]), {("/pieces/0", "kind is missing")}),
        (document(rules=[{"name": "x" * 81}]), {("/rules/0/name", "this name has 81 characters; 80 is the most")}),
        (document(rules=[{"name": "a"}, {"name": "a"}]), {("/rules/1", "the rule name a stands twice; first at /rules/0")}),
        (document(rules=[{"name": "a", "priority": 1001}]), {("/rules/0/priority", "this has to be a whole number from -1000 to 1000")}),
        (document(rules=[{"name": "a", "condition": {"include": "typ:x"}}]), {("/rules/0/condition/include", "column 1: there is no fact typ (did you mean type?)")}),
        (document(rules=[{"name": "a", "actions": [{"do": "fill", "slot": "header", "piece": "x"}]}]), {("/rules/0/actions/0/piece", "there is no piece x")}),
        (document(rules=[{"name": "a", "actions": [{"do": "fill", "slot": "header"}]}]), {("/rules/0/actions/0", "piece is missing")}),
        (document(rules=[{"name": "a", "actions": [{"do": "empty", "slot": "footer"}, {"do": "empty", "slot": "footer"}]}]), {("/rules/0/actions/1", "the decision on footer stands twice; first at /rules/0/actions/0")}),
        (document(taxonomies=[{"slug": "topic", "terms": [{"slug": "a", "parent": "a"}]}]), {("/taxonomies", "parents form a loop: topic/a → topic/a")}),
    ],
    ids=named,
)  # fmt: skip
def test_a_problem_names_its_place(tree, found):
    assert problems(tree) == found


def test_a_piece_of_the_wrong_kind_is_refused():
    tree = document(
        pieces=[{"slug": "foot", "kind": "footer"}],
        rules=[{"name": "r", "actions": [{"do": "fill", "slot": "header", "piece": "foot"}]}],
    )
    assert problems(tree) == {("/rules/0/actions/0/piece", "foot is a footer; this place takes a header")}


def test_all_problems_come_at_once_and_in_order():
    with pytest.raises(DocumentError) as caught:
        read_document(document(pages=[{"path": "x"}, {"path": "/y", "kind": "poster"}], rules=[{}]))
    assert [problem.pointer for problem in caught.value.problems] == ["/pages/0/path", "/pages/1/kind", "/rules/0"]


def test_what_is_no_json_says_where():
    with pytest.raises(DocumentError) as caught:
        read_json('{"navrel": 1,}')
    assert caught.value.problems == [
        Problem("", "this is not JSON: Expecting property name enclosed in double quotes: line 1 column 14 (char 13)", "syntax")
    ]  # fmt: skip


SETTINGS = [
    {"name": "header-style", "type": "choice", "choices": ["solid", "clear"]},
    {"name": "crumbs", "type": "switch", "default": True},
    {"name": "width", "type": "number", "default": 2},
    {"name": "heading", "type": "text"},
]


def with_settings(*actions, settings=SETTINGS):
    return {
        **document(rules=[{"name": "r", "actions": list(actions)}]),
        "site": {"name": "M", "settings": list(settings)},
    }


def setting(name, value):
    return {"do": "set", "setting": name, "value": value}


def test_settings_take_defaults_and_values_of_their_type():
    found = read_document(with_settings(setting("crumbs", False), setting("width", 2.5), setting("heading", ""))).layout
    assert found.setting_defaults == {"header-style": "solid", "crumbs": True, "width": 2, "heading": ""}
    assert [action.value for action in found.rules[0].actions] == [False, 2.5, ""]


@pytest.mark.parametrize(
    ("tree", "found"),
    [
        (with_settings(setting("crumbs", "yes")), {("/rules/0/actions/0/value", "crumbs takes true or false")}),
        (with_settings(setting("width", True)), {("/rules/0/actions/0/value", "width takes a number")}),
        (with_settings(setting("header-style", "red")), {("/rules/0/actions/0/value", "header-style takes one of solid, clear")}),
        (with_settings(setting("colour", "red")), {("/rules/0/actions/0/setting", "there is no setting colour")}),
        (with_settings({"do": "set", "setting": "width"}), {("/rules/0/actions/0", "value is missing")}),
        (with_settings(setting("width", 1), setting("width", 2)), {("/rules/0/actions/1", "the decision on setting:width stands twice; first at /rules/0/actions/0")}),
        (with_settings({"do": "empty", "slot": "footer", "piece": "x"}), {("/rules/0/actions/0/piece", "empty takes no piece")}),
        (with_settings({"do": "append", "slot": "footer", "exclusive": True, "piece": "x"}), {("/rules/0/actions/0/exclusive", "append takes no exclusive"), ("/rules/0/actions/0/piece", "there is no piece x")}),
        (with_settings(settings=[{"name": "a", "type": "choice"}]), {("/site/settings/0", "a choice needs choices")}),
        (with_settings(settings=[{"name": "a"}]), {("/site/settings/0", "type is missing")}),
        (with_settings(settings=[{"name": "a", "type": "number", "default": "x"}]), {("/site/settings/0/default", "a takes a number")}),
        (with_settings(settings=[{"name": "a", "type": "text"}] * 2), {("/site/settings/1", "the setting a stands twice; first at /site/settings/0")}),
        (document(site={"name": "M", "time_zone": "Mars/Olympus"}), {("/site/time_zone", "there is no time zone Mars/Olympus; write it as Europe/Dublin")}),
    ],
    ids=named,
)  # fmt: skip
def test_settings_are_checked_in_their_place(tree, found):
    assert problems(tree) == found


def scheduled(**schedule):
    return document(rules=[{"name": "r", "condition": {"include": "all", "schedule": schedule}}])


WEEKLY = {"rrule": "FREQ=WEEKLY", "start": "2026-12-04T18:00", "duration": "PT6H"}
AT = "/rules/0/condition/schedule"


@pytest.mark.parametrize(
    ("schedule", "pointer", "told"),
    [
        ({"from": "2026-12-01T00:00Z"}, "/from", "the moment 2026-12-01T00:00Z has an offset; times are wall-clock times in the site's zone (write it as 2026-12-01T18:00)"),
        ({"until": "soon"}, "/until", "soon is no local date-time (write it as 2026-12-01T18:00)"),
        ({"since": "2026-12-01"}, "/since", "there is no since here"),
        ({"repeats": {**WEEKLY, "duration": "P1M"}}, "/repeats/duration", "P1M counts months or years, which are not always as long (write it as PT6H or P1DT12H)"),
        ({"repeats": {**WEEKLY, "rrule": "FREQ=OFTEN"}}, "/repeats/rrule", "OFTEN is no frequency (write FREQ=WEEKLY, or one of HOURLY, MINUTELY, SECONDLY, DAILY, WEEKLY, MONTHLY, YEARLY)"),
        ({"repeats": {**WEEKLY, "rrule": "FREQ=WEEKLY;BYDAY=MO"}}, "/repeats/start", "the start 2026-12-04T18:00:00 is no occurrence of FREQ=WEEKLY;BYDAY=MO (let it be the first occurrence)"),
        ({"repeats": {"rrule": "FREQ=WEEKLY", "start": "2026-12-04"}}, "/repeats", "duration is missing"),
        ({"repeats": {**WEEKLY, "rrule": "FREQ=SECONDLY;COUNT=1000000"}}, "/repeats/rrule", "COUNT has to be a whole number from 1 to 10,000"),
    ],
    ids=named,
)  # fmt: skip
def test_schedules_are_checked_in_their_place(schedule, pointer, told):
    assert problems(scheduled(**schedule)) == {(AT + pointer, told)}


def test_a_schedule_with_nothing_in_it_is_none():
    for empty in ({}, {"from": None, "until": ""}, {"repeats": {}}):
        assert read_document(scheduled(**empty)).layout.rules[0].condition.schedule is None
    found = read_document(scheduled(repeats=WEEKLY, until="2027-01-01"))
    assert write_document(found)["rules"][0]["condition"]["schedule"] == {
        "until": "2027-01-01T00:00",
        "repeats": WEEKLY,
    }


YAML = """
navrel: 1
site: {name: Marrowick Ferries, language: no}
pages:
  - {path: /a, published: 2026-03-01, words: 010}
rules:
  - name: r
    on: false
"""


def test_yaml_is_that_of_1_2():
    """`on` and `no` are texts, dates are texts, and a leading zero makes no octal number."""
    found = read_yaml(YAML)
    assert (found.language, found.pages[0].published.isoformat(), found.pages[0].words) == ("no", "2026-03-01", 10)
    assert found.layout.rules[0].on is False
    assert read_yaml(write_yaml(found)) == found


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("a: [", "this is not YAML"),
        ("a: &x [1]\nb: *x", "a layout file takes no aliases"),
        ("navrel: 1\nnavrel: 1", "a key stands twice here"),
        ("a: !!python/object:os.system 1", "could not determine a constructor"),
        ("[" * 5000, "this is not YAML"),
    ],
)
def test_yaml_that_is_not_plain_is_refused(text, told):
    with pytest.raises(DocumentError, match=told):
        read_yaml(text)


@pytest.mark.parametrize("text", ['{"navrel": 1, "navrel": 1}', '{"navrel": NaN}', '{"navrel": 1' + "0" * 5000 + "}"])
def test_json_that_says_two_things_or_no_number_is_refused(text):
    with pytest.raises(DocumentError, match="this is not JSON"):
        read_json(text)


def test_what_a_query_names_and_the_file_lacks_is_a_warning():
    tree = document(
        pages=[{"path": "/a"}],
        pieces=[{"slug": "s", "kind": "sidebar", "entries": [{"piece": "w", "condition": {"exclude": "within:/z"}}]},
                {"slug": "w", "kind": "widget"}],
        rules=[{"name": "r", "condition": {"include": "type:x page:/a,/b | term:topic/x", "visitors": {"include": "role:r"}}}],
    )  # fmt: skip
    assert warnings_of(read_document(tree)) == [
        Problem("/rules/0/condition/include", "there is no page /b", "gone", 8, 10),
        Problem("/rules/0/condition/include", "there is no term topic/x", "gone", 21, 12),
        Problem("/pieces/0/entries/0/condition/exclude", "there is no page /z", "gone", 1, 9),
    ]


WORDS = st.text(st.characters(codec="ascii", min_codepoint=33, max_codepoint=126), min_size=1, max_size=12)
PLACES_OF_FACTS = st.builds(
    FactPlace,
    st.sampled_from(ATS),
    st.sampled_from(["1", "-2"]),
    st.sampled_from(["", "datetime"]),
    st.sampled_from(["", "^By (.+)$", r"(\d{4})"]),
    st.dictionaries(WORDS, WORDS, max_size=3),
    st.sampled_from(["", "%d %B %Y"]),
)
RECIPES = st.dictionaries(
    st.sampled_from([*FACTS, "terms/topic", "fields/price"]), st.lists(PLACES_OF_FACTS, max_size=3), max_size=4
).map(lambda lines: tuple(FactRecipe(fact, tuple(places)) for fact, places in lines.items()))


@given(RECIPES)
def test_a_recipe_is_written_as_it_was_read_and_fits_the_schema(recipe):
    whole = SiteDocument("Marrowick", "marrowick", recipe=recipe, bindings=(Binding("footer", "p > b"),))
    tree = json.loads(write_json(whole))
    assert read_document(tree) == whole
    SCHEMA.validate(tree)


def test_every_fact_is_read_as_the_site_says_else_as_it_comes():
    own = (FactRecipe("author", (FactPlace("meta", "author"),)), FactRecipe("fields/price", ()))
    found = {line.fact: line for line in full(own)}
    assert (found["author"], found["fields/price"]) == own
    assert {line.fact for line in STANDARD} < found.keys()
    assert found["title"] in STANDARD


SCHEMA = Draft202012Validator(
    json.loads((resources.files("navrel.core.files") / "layout-file.schema.json").read_text("utf-8")),
)


def test_the_schema_is_one_and_the_demo_fits_it():
    Draft202012Validator.check_schema(SCHEMA.schema)
    SCHEMA.validate(json.loads(DEMO.read_text()))


@settings(max_examples=60)
@given(sites(), layouts())
def test_whatever_is_written_fits_the_schema(site, layout):
    pages = tuple(replace(page, terms=()) for page in site.pages if " " not in page.path)
    whole = SiteDocument("Marrowick", "marrowick", pages=pages, layout=layout)
    SCHEMA.validate(write_document(whole))


@pytest.mark.parametrize(
    "tree",
    [
        document(colour=1),
        document(pages=[{"path": "a"}]),
        document(pieces=[{"slug": "a"}]),
        document(rules=[{"name": "a", "priority": 1001}]),
        document(rules=[{"name": "a", "actions": [{"do": "fill", "slot": "header"}]}]),
        with_settings({"do": "set", "setting": "width"}),
        scheduled(since="2026-12-01"),
        scheduled(until="soon"),
    ],
    ids=named,
)
def test_the_schema_refuses_what_the_reader_refuses(tree):
    assert problems(tree)
    assert not SCHEMA.is_valid(tree)


@settings(max_examples=60)
@given(sites(), layouts(), lenses)
def test_a_file_written_and_read_again_resolves_to_the_same(site, layout, lens):
    pages = tuple(replace(page, terms=()) for page in site.pages if " " not in page.path)
    whole = SiteDocument("Marrowick", "marrowick", pages=pages, layout=layout)
    again = read_json(write_json(whole))
    for page in pages:
        assert resolve_page(again.tree, again.layout, page, lens) == resolve_page(whole.tree, layout, page, lens)


def test_a_query_of_ten_megabytes_is_refused_at_once():
    tree = document(rules=[{"name": "r", "condition": {"include": "page:/" + "a,/" * 3_500_000}}])
    begun = time.process_time()
    ((pointer, told),) = problems(tree)
    assert pointer == "/rules/0/condition/include"
    assert "the query is 10,500,006 characters long; 100,000 is the most" in told
    assert time.process_time() - begun < 5


@pytest.mark.parametrize("pattern", ["/" + "*a" * 400, "/" + "{a}?" * 30, "/(a" + "b" * 2000 + ")"])
def test_patterns_meant_to_blow_up_a_matcher_are_refused(pattern):
    ((_, told),) = problems(document(rules=[{"name": "r", "condition": {"include": f'path:"{pattern}"'}}]))
    assert "a path pattern has at most 1,000 characters, 20 wildcards and groups" in told


def test_deep_nesting_is_refused_and_does_not_recurse_away():
    with pytest.raises(DocumentError):
        read_json("[" * 200_000)


def test_the_demo_file_is_written_as_it_was_read():
    text = DEMO.read_text()
    assert write_json(read_json(text)) == text
    assert write_json(reread_document(json.loads(text))) == text


@settings(max_examples=60)
@given(sites(), layouts())
def test_writing_and_reading_gives_the_same_document(site, layout):
    terms = (TaxonomyTerm("sea", "Sea"), TaxonomyTerm("gulls", "Gulls", "sea"), TaxonomyTerm("food", "Food"))
    pages = tuple(page for page in site.pages if " " not in page.path)
    whole = SiteDocument(
        "Marrowick", "marrowick", taxonomies=(Taxonomy("topic", "Topics", terms),), pages=pages, layout=layout
    )
    tree = json.loads(json.dumps(write_document(whole)))
    for read in (read_document, reread_document):
        again = read(tree)
        assert again == whole
        assert write_json(again) == write_json(whole)


@pytest.mark.parametrize(
    ("name", "slug"),
    [("Slim header", "slim-header"), ("  Ø 7 ", "o-7"), ("Паром", "parom"), ("渡し船", "dushichuan"), ("—", "x")],
)
def test_slugs_are_made_from_names(name, slug):
    assert slugify(name) == slug


@pytest.mark.parametrize(("slots", "read"), [(None, SLOTS), ([], ()), (["header"], ("header",))])
def test_a_template_without_slots_has_all_and_with_an_empty_list_none(slots, read):
    given = {} if slots is None else {"slots": slots}
    found = read_document(
        document(pieces=[{"slug": "t", "kind": "template", **given}, {"slug": "w", "kind": "widget", **given}])
    )
    assert found.layout.pieces["t"].slots == read
    assert found.layout.pieces["w"].slots == tuple(slots or ())
    assert read_document(write_document(found)) == found
    explicit = read_document(document(pieces=[{"slug": "t", "kind": "template", "slots": None}]))
    assert explicit.layout.pieces["t"].slots == SLOTS


def test_a_lock_takes_a_name_or_an_owner_with_a_reason():
    lock = {"slot": "header", "owner": "The ticket shop", "why": "It sells from there."}
    found = read_document(document(pages=[{"path": "/a", "locks": ["footer", lock]}]))
    assert found.pages[0].locks == ("footer", "header")
    written = write_document(found)
    assert written["pages"][0]["locks"] == ["footer", lock]
    assert reread_document(written) == found
    assert problems(document(pages=[{"path": "/a", "locks": ["footer", {"slot": "footer"}, {"owner": "x"}, 5]}])) == {
        ("/pages/0/locks/1", "the slot footer is locked twice"),
        ("/pages/0/locks/2", "slot is missing"),
        ("/pages/0/locks/3", "this has to be an object"),
        ("/pages/0/locks/3", "slot is missing"),
    }


def test_asides_take_sidebars_as_additions_beside_widgets():
    pieces = [{"slug": "desk", "kind": "sidebar"}, {"slug": "note", "kind": "widget"}]

    def rule(slot, piece):
        return document(
            pieces=pieces, rules=[{"name": "r", "actions": [{"do": "append", "slot": slot, "piece": piece}]}]
        )

    assert read_document(rule("aside-end", "desk")).layout.rules[0].actions[0].piece == "desk"
    assert read_document(rule("aside-end", "note")).layout.rules[0].actions[0].piece == "note"
    assert problems(rule("footer", "desk")) == {
        ("/rules/0/actions/0/piece", "desk is a sidebar; this place takes a widget")
    }


def test_rule_names_are_compared_without_case():
    twice = [{"name": "Legal", "actions": []}, {"name": "LEGAL", "actions": []}]
    assert problems(document(rules=twice)) == {("/rules/1", "the rule name LEGAL stands twice; first at /rules/0")}


@pytest.mark.parametrize("name", ["Café au lait", "a" * 79 + " b", "  --  ", "Ærø", "1½", "x" * 500])
def test_a_slug_is_one_whatever_it_is_made_from(name):
    from navrel.core.layout.document import is_slug

    assert is_slug(slugify(name))
    assert is_slug(slugify(name, 5)) and len(slugify(name, 5)) <= 5
