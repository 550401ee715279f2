"""Guards against a plain reading of each demand: broken exactly where some look does not meet it."""

from dataclasses import replace
from datetime import timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade.conditions import lets_through
from navrel.core.cascade.plain import resolve_page
from navrel.core.cascade.seating import is_in_place, seated_slots
from navrel.core.errors import DocumentError
from navrel.core.files.reading import read_document
from navrel.core.files.writing import write_document
from navrel.core.index.page_index import PageIndex
from navrel.core.language.query import parse_query
from navrel.core.language.visitor import Lens
from navrel.core.layout.condition import Condition
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import TEMPLATE, Action, Demand, Guard, Layout, Piece, Rule, SidebarEntry, Target
from navrel.core.lenses.visitors import TooManyCombinations
from navrel.core.pages.page import Page
from navrel.core.questions import guards as guards_module
from navrel.core.questions.guard_memory import GuardMemory
from navrel.core.questions.guards import check_guards, newly_broken

from .strategies import NOW, PIECES, SLOTS_USED, conditions, layouts, sites, visitors

slots = st.sampled_from((*SLOTS_USED, "inner")).map(lambda name: Target("slot", name))
some_pieces = st.lists(st.sampled_from(("main", "note", "call", "desk", "foot")), min_size=1, max_size=2, unique=True)
demands = st.one_of(
    st.builds(Demand, st.sampled_from(("shows", "bare")), slots),
    st.builds(Demand, st.sampled_from(("holds", "lacks")), st.one_of(st.none(), slots), some_pieces.map(tuple)),
    st.builds(Demand, st.just("is"), slots, some_pieces.map(tuple)),
    st.just(Demand("is", TEMPLATE, ("plain",))),
    st.just(Demand("is", Target("setting", "crumbs"), values=(True,))),
    st.builds(lambda most: Demand("at-most", piece_kind="widget", most=most), st.integers(0, 2)),
    st.builds(lambda most: Demand("at-most", pieces=("note",), most=most), st.integers(0, 1)),
    st.just(Demand("at-most", item="piece", most=0)),
)
later = st.integers(0, 60 * 24).map(lambda hours: NOW + timedelta(hours=hours))


def checked(site, layout, *guards):
    layout = Layout(layout.pieces, layout.rules, layout.default_template, layout.settings, guards=guards)
    document = SiteDocument("Made", "made", pages=site.pages, layout=layout)
    return check_guards(document, PageIndex(site), NOW)


def seen(site, layout, page, lens):
    """What a lens sees of a page, read plainly: outcomes, seated slots, and (piece, slot) for whatever is drawn."""
    outcomes = {target: trace.outcome for target, trace in resolve_page(site, layout, page, lens).items()}
    by_slot = {target.name: one for target, one in outcomes.items() if target.kind == "slot"}
    seated = seated_slots(layout, page, outcomes, lens, site)
    drawn = [] if is_in_place(page, outcomes) else [(slug, "") for slug in outcomes[TEMPLATE].pieces]
    drawn += [(slug, slot) for slot, one in by_slot.items() if slot in seated for slug in one.pieces]
    for slug, slot in tuple(drawn):
        for entry in layout.pieces[slug].entries:
            if entry.on and lets_through(site, page, lens, entry.condition):
                drawn.append((entry.piece, slot))
    # The only piece of these sites that embeds another is the footer, which embeds "call".
    drawn += [("call", slot) for slug, slot in tuple(drawn) if slug == "foot"]
    return outcomes, seated, drawn


def within(drawn, target):
    """The pieces in a slot: those at its place, and those in the slot "inner" where "call" is among them."""
    if target is None:
        return [slug for slug, _ in drawn]
    here = [slug for slug, slot in drawn if slot == target.name]
    return here + (
        [slug for slug, slot in drawn if slot == "inner"] if "call" in here and target.name != "inner" else []
    )


def meets(demand, layout, outcomes, seated, drawn):
    target = demand.target
    if demand.kind == "at-most":
        counts = {
            "widget": lambda slug: layout.pieces[slug].kind == "widget",
            None: lambda slug: slug in demand.pieces if demand.pieces else slug == "foot",
        }[demand.piece_kind]
        return sum(counts(slug) for slug, _ in drawn) <= demand.most
    if demand.kind == "holds":
        return set(demand.pieces) <= set(within(drawn, target))
    if demand.kind == "lacks":
        return not set(demand.pieces) & set(within(drawn, target))
    if target.kind == "setting":
        return outcomes[target].value in demand.values
    if target == TEMPLATE:
        return outcomes[target].pieces[:1] == demand.pieces
    shown = outcomes[target].pieces if target in outcomes and target.name in seated else ()
    return {"shows": bool(shown), "bare": not shown, "is": shown == demand.pieces}[demand.kind]


@settings(max_examples=60)
@given(sites(), layouts(), conditions, demands, st.data())
def test_a_guard_is_broken_exactly_where_a_look_does_not_meet_it(site, layout, condition, demand, data):
    (state,) = checked(site, layout, Guard("It", condition, demand))
    page = data.draw(st.sampled_from(site.pages))
    lens = Lens(data.draw(visitors), data.draw(later))
    broken = [
        breach
        for breach in state.breaches
        if page in breach.pages and any(sighting.admits(lens) for sighting in breach.seen)
    ]
    locked = demand.target and demand.target.kind == "slot" and demand.target.name in page.locks
    if not lets_through(site, page, lens, condition) or not condition.include:
        assert broken == []
    elif locked:
        assert broken == [] and page in state.unknown
    else:
        outcomes, seated, drawn = seen(site, layout, page, lens)
        assert bool(broken) == (not meets(demand, layout, outcomes, seated, drawn))
        assert len(broken) <= 1, "one look meets it in one way or not"


def reach(text):
    return Condition(include=parse_query(text))


def bare(path="all", slot="footer", **more):
    return Guard("Bare", Condition(parse_query(path), **more), Demand("bare", Target("slot", slot)))


def small(*rules):
    pages = (Page("/", "Home"), Page("/a", "A"), Page("/b", "B"))
    site = SiteDocument("Made", "made", pages=pages).tree
    return site, Layout(PIECES, rules, "standard")


FOOT = Rule("Foot", reach("all"), (Action("fill", "footer", "foot"),))


def test_it_names_the_pages_what_is_seen_and_the_rule_that_made_it_so():
    (state,) = checked(*small(FOOT), bare("page:/a,/b"))
    (breach,) = state.breaches
    assert [page.path for page in breach.pages] == ["/a", "/b"]
    assert breach.fault.found == ("foot",)
    assert breach.fault.by == "Foot"
    assert (state.reached, state.is_broken, [page.path for page in state.broken_on]) == (2, True, ["/a", "/b"])


def test_a_guard_speaks_only_for_its_visitors_and_one_that_is_off_for_nobody():
    crew = Rule("Crew", Condition(parse_query("all"), visitors_include=parse_query("role:crew", "visitor")),
                (Action("fill", "footer", "foot"),))  # fmt: skip
    out = bare(visitors_include=parse_query("signed:out", "visitor"))
    everyone, off = bare(), Guard("Off", reach("all"), out.demand, on=False)
    found = checked(*small(crew), Guard("Out", out.condition, out.demand), everyone, off)
    assert [state.is_broken for state in found] == [False, True, False]
    assert [state.reached for state in found] == [3, 3, 0]
    (sighting,) = found[1].breaches[0].seen
    assert str(sighting.visitors) == "role:crew"


def test_a_slot_without_a_place_is_told_of_by_the_template_that_has_none():
    plain = Rule("Plain", reach("all"), (Action("use", piece="plain"),))
    aside = Rule("Aside", reach("all"), (Action("fill", "aside-end", "shelf"),))
    guard = Guard("Aside stays", reach("page:/"), Demand("shows", Target("slot", "aside-end")))
    (state,) = checked(*small(plain, aside), guard)
    assert state.breaches[0].fault == ((), None, state.breaches[0].fault.by)
    assert state.breaches[0].fault.by == "Plain"


def test_one_notice_too_many_is_told_of_by_the_rule_that_adds_it():
    notices = {
        slug: Piece(slug, "widget", slug, content={"items": [{"type": "notice", "text": slug}]}) for slug in "xy"
    }
    side = Piece("side", "sidebar", "Side", entries=(SidebarEntry("x"),))
    rules = (
        Rule("Side", reach("all"), (Action("fill", "aside-end", "side"),)),
        Rule("Also", reach("page:/a"), (Action("append", "above-footer", "y"),)),
    )
    site, layout = small(*rules)
    layout = Layout({**PIECES, **notices, "side": side}, layout.rules, "standard")
    (state,) = checked(site, layout, Guard("One", reach("all"), Demand("at-most", item="notice", most=1)))
    (breach,) = state.breaches
    assert [page.path for page in breach.pages] == ["/a"]
    assert breach.fault == (("x", "y"), None, breach.fault.by)
    assert breach.fault.by == "Also"


def test_pages_that_cannot_be_told_are_unknown(monkeypatch):
    def too_many(*_):
        raise TooManyCombinations(10**6)

    monkeypatch.setattr(guards_module, "LensSpace", too_many)
    (state,) = checked(*small(FOOT), bare("page:/a"))
    assert not state.is_broken
    assert [page.path for page in state.unknown] == ["/a"]


def test_what_a_change_breaks_anew_is_told_without_what_was_broken_before():
    narrow = Rule("Foot", reach("page:/a"), FOOT.actions)
    wide = Rule("Foot", reach("page:/a,/b"), FOOT.actions)
    header = Guard("Header", reach("all"), Demand("bare", Target("slot", "header")))
    site, _ = small(narrow)
    before, after = (
        SiteDocument(
            "Made", "made", pages=site.pages,
            layout=Layout(PIECES, (rule, Rule("Head", reach("all"), (Action("fill", "header", "main"),))), "standard",
                          guards=(bare(), header)),
        )
        for rule in (narrow, wide)
    )  # fmt: skip
    index = PageIndex(site)
    touched = [action.target for action in FOOT.actions]
    (state,) = newly_broken(before, after, index, touched, NOW)
    assert (state.guard.name, [page.path for page in state.broken_on]) == ("Bare", ["/b"])
    assert newly_broken(after, before, index, touched, NOW) == []


@given(st.data(), sites(), layouts(), st.lists(demands, min_size=1, max_size=3))
@settings(max_examples=60)
def test_with_a_memory_guards_come_to_the_same_whatever_was_edited_meanwhile(data, site, layout, asked):
    """Another rule, other guards of the same names, another widget in a sidebar, an hour later, other pages."""
    index = PageIndex(site)
    memory = None
    moment = NOW
    for _ in range(4):
        guards = tuple(Guard(f"G{number}", reach("all"), demand) for number, demand in enumerate(asked))
        document = SiteDocument("Made", "made", pages=site.pages, layout=replace(layout, guards=guards))
        memory = GuardMemory(memory)
        assert check_guards(document, index, moment, memory) == check_guards(document, index, moment)
        match data.draw(st.sampled_from(["rules", "rules", "demands", "pieces", "moment", "pages"])):
            case "rules":
                rules = list(layout.rules)
                rules[0:1] = data.draw(layouts()).rules[:1]
                layout = replace(layout, rules=tuple({rule.name: rule for rule in rules}.values()))
            case "demands":
                asked = [data.draw(demands), *asked[1:]]
            case "pieces":
                slug = data.draw(st.sampled_from(sorted(layout.pieces)))
                entries = () if layout.pieces[slug].entries else (SidebarEntry("note"),)
                kept = {**layout.pieces, slug: replace(layout.pieces[slug], entries=entries)}
                layout = replace(layout, pieces=kept)
            case "moment":
                moment += timedelta(hours=1)
            case _:
                site = data.draw(sites())
                index = PageIndex(site)


def test_what_was_found_of_pages_that_an_edit_leaves_as_they_were_is_not_looked_for_again():
    site, layout = small(FOOT)
    documents = [
        SiteDocument("Made", "made", pages=site.pages, layout=replace(layout, rules=rules, guards=(bare(),)))
        for rules in ((FOOT,), (FOOT, Rule("Head", reach("all"), (Action("fill", "header", "main"),))))
    ]
    index = PageIndex(site)
    memory = GuardMemory()
    (before,) = check_guards(documents[0], index, NOW, memory)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(guards_module, "LensSpace", None)
        (after,) = check_guards(documents[1], index, NOW, GuardMemory(memory))
    assert after == before
    assert after.is_broken


@pytest.mark.parametrize("include", ["", "page:/gone"])
def test_one_that_reaches_no_page_is_not_broken(include):
    (state,) = checked(*small(FOOT), Guard("None", reach(include) if include else Condition(), bare().demand))
    assert (state.reached, state.is_broken) == (0, False)


GUARDED = {
    "navrel": 1,
    "site": {
        "name": "Made",
        "slug": "made",
        "language": "en",
        "time_zone": "UTC",
        "settings": [{"name": "crumbs", "type": "switch", "default": True}],
    },
    "taxonomies": [],
    "pages": [],
    "pieces": [{"slug": "main", "kind": "header", "name": "Main"}, {"slug": "plain", "kind": "template", "name": "P"}],
    "rules": [],
}
DEMANDS = [
    {"is": "shows", "slot": "footer"},
    {"is": "bare", "slot": "footer"},
    {"is": "holds", "pieces": ["main"]},
    {"is": "lacks", "slot": "header", "pieces": ["main"]},
    {"is": "is", "slot": "header", "pieces": ["main"]},
    {"is": "is", "templates": ["plain"]},
    {"is": "is", "setting": "crumbs", "values": [False]},
    {"is": "at-most", "pieces": ["main"], "most": 0},
    {"is": "at-most", "kind": "widget", "most": 2},
    {"is": "at-most", "item": "notice", "most": 1},
]


def guarded(demand, **more):
    return {**GUARDED, "guards": [{"name": "It", "demand": demand, **more}]}


@pytest.mark.parametrize("demand", DEMANDS, ids=lambda demand: demand["is"])
def test_a_guard_in_a_file_is_read_and_written_as_it_stands(demand):
    condition = {"include": "type:checkout", "visitors": {"exclude": "role:crew"}}
    tree = guarded(demand, note="Nothing to click away to.", on=False, condition=condition)
    assert write_document(read_document(tree))["guards"] == tree["guards"]


@pytest.mark.parametrize(
    ("demand", "pointer", "said"),
    [
        (None, "/guards/0", "demand is missing"),
        ({}, "/guards/0/demand", "is is missing"),
        ({"is": "never"}, "/guards/0/demand/is", "never is none of"),
        ({"is": "bare"}, "/guards/0/demand", "slot is missing"),
        ({"is": "bare", "slot": "footer", "pieces": ["main"]}, "/guards/0/demand/pieces", "bare takes no pieces"),
        ({"is": "holds"}, "/guards/0/demand", "pieces is missing"),
        ({"is": "lacks", "pieces": ["gone"]}, "/guards/0/demand/pieces/0", "there is no piece gone"),
        ({"is": "is", "slot": "header"}, "/guards/0/demand", "for none, ask for bare"),
        ({"is": "is", "slot": "header", "templates": ["plain"]}, "/guards/0/demand", "name one of"),
        ({"is": "is", "templates": ["main"]}, "/guards/0/demand/templates/0", "main is a header"),
        ({"is": "is", "setting": "crumbs", "values": [1]}, "/guards/0/demand/values/0", "does not take this"),
        ({"is": "is", "setting": "gone", "values": [1]}, "/guards/0/demand/setting", "there is no setting gone"),
        ({"is": "at-most", "most": 1}, "/guards/0/demand", "name one of pieces, kind, item"),
        ({"is": "at-most", "item": "notice"}, "/guards/0/demand", "most is missing"),
        ({"is": "at-most", "item": "notice", "most": -1}, "/guards/0/demand/most", "a whole number from 0"),
        ({"is": "at-most", "kind": "gadget", "most": 1}, "/guards/0/demand/kind", "gadget is none of"),
    ],
)
def test_a_guard_that_cannot_be_used_is_told_of_in_its_place(demand, pointer, said):
    with pytest.raises(DocumentError) as found:
        read_document(guarded(demand))
    assert any(one.pointer == pointer and said in one.message for one in found.value.problems), found.value.problems


def test_two_guards_of_one_name_are_refused():
    tree = {**GUARDED, "guards": [{"name": name, "demand": DEMANDS[0]} for name in ("It", "it")]}
    with pytest.raises(DocumentError, match="stands twice"):
        read_document(tree)
