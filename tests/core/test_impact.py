"""Impact against both states resolved plainly, through every lens."""

from dataclasses import replace
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from navrel.core.cascade.plain import resolve_page
from navrel.core.cascade.seating import is_in_place, shown_entries
from navrel.core.files.reading import read_dresses
from navrel.core.index.page_index import PageIndex
from navrel.core.language.query import Query
from navrel.core.language.visitor import Lens
from navrel.core.layout.document import SiteDocument
from navrel.core.lenses.space import Sighting
from navrel.core.questions.differing import MOST_COMING
from navrel.core.questions.impact import impact
from navrel.core.questions.shifts import nowhere

from .strategies import NOW, TERM_PARENTS, layouts, pages, sites
from .test_looks import any_visitor, later


def state(site, layout):
    from navrel.core.layout.document import Taxonomy, TaxonomyTerm

    terms = tuple(TaxonomyTerm(slug, slug, (TERM_PARENTS.get(f"topic/{slug}") or "topic/").split("/")[1] or None)
                  for slug in ("sea", "gulls", "food"))  # fmt: skip
    document = SiteDocument(
        "Marrowick", "marrowick", taxonomies=(Taxonomy("topic", "Topics", terms),), pages=site.pages, layout=layout
    )
    return document, PageIndex(document.tree)


@st.composite
def edited(draw, layout):
    """The layout with something about it changed."""
    other = draw(layouts())
    rules = list(layout.rules)
    how = draw(st.sampled_from(("nothing", "add", "remove", "switch", "move", "default", "all")))
    if how == "all":
        return other
    if how == "default":
        return replace(layout, default_template=other.default_template)
    if how == "add" and other.rules:
        rules.insert(draw(st.integers(0, len(rules))), replace(other.rules[0], name="new"))
    elif rules and how != "nothing":
        rule = rules.pop(draw(st.integers(0, len(rules) - 1)))
        if how != "remove":
            rules.insert(
                draw(st.integers(0, len(rules))) if how == "move" else 0, replace(rule, on=rule.on != (how == "switch"))
            )
    return replace(layout, rules=tuple(rules))


def shown(layout, site, page, lens):
    """What each target shows, with the widgets of its sidebars, and in its own HTML beside what the page has there."""
    found = {}
    outcomes = {target: trace.outcome for target, trace in resolve_page(site, layout, page, lens).items()}
    in_place = is_in_place(page, outcomes)
    for target, one in outcomes.items():
        widgets = [
            w.slug
            for slug in one.pieces
            if slug in layout.pieces
            for w in shown_entries(layout, layout.pieces[slug], site, page, lens)
        ]
        found[target] = (one.state, one.pieces, one.value, tuple(widgets), one.own_at if in_place else None)
    return found


@settings(max_examples=60)
@given(sites(), layouts(), st.data())
def test_every_lens_sees_the_shifts_that_it_resolves_to(site, layout, data):
    before, before_index = state(site, layout)
    after, after_index = state(site, data.draw(edited(layout)))
    found = impact(before, before_index, after, after_index, NOW)
    assert found.untold == ()
    lens = Lens(data.draw(any_visitor), data.draw(later))
    for page in site.pages:
        old, new = (shown(one.layout, site, page, lens) for one in (before, after))
        differing = {target for target in old.keys() & new.keys() if old[target] != new[target]}
        told = {
            shift.target
            for shift in found.shifts
            if page in shift.pages
            for sighting in shift.seen
            if sighting.admits(lens)
        }
        possible = {shift.target for shift in found.shifts if page in shift.pages}
        assert told <= differing <= possible
        for shift in found.shifts:
            assert (
                shift.before is None
                or shift.after is None
                or shift.before != shift.after
                or shift.widgets[0] != shift.widgets[1]
            )


@settings(max_examples=50)
@given(sites(), layouts(), st.data())
def test_every_lens_sees_the_shifts_of_pages_whose_facts_differ(site, layout, data):
    from navrel.core.pages.tree import PageTree

    number = data.draw(st.integers(0, len(site.pages) - 1))
    other = list(site.pages)
    other[number] = data.draw(pages(other[number].path))
    changed = PageTree(other, TERM_PARENTS)
    before, before_index = state(site, layout)
    after, after_index = state(changed, data.draw(edited(layout)))
    found = impact(before, before_index, after, after_index, NOW)
    lens = Lens(data.draw(any_visitor), data.draw(later))
    for page in site.pages:
        old = shown(before.layout, site, page, lens)
        new = shown(after.layout, changed, changed.page(page.path), lens)
        differing = {target for target in old.keys() & new.keys() if old[target] != new[target]}
        on_it = [shift for shift in found.shifts if page.path in {one.path for one in shift.pages}]
        told_of = {shift.target for shift in on_it for seen in shift.seen if seen.admits(lens)}
        assert told_of <= differing <= {shift.target for shift in on_it}


@given(sites(), layouts())
def test_nothing_differs_between_equal_states(site, layout):
    one, index = state(site, layout)
    assert impact(one, index, one, index, NOW).shifts == ()


def test_pages_that_come_and_go_shift_to_and_from_nothing():
    from .test_questions import header
    from .test_questions import state as small

    before = small(header("site", "all", "main"))
    after = replace(before, pages=(*before.pages[:2], replace(before.pages[0], path="/c")))
    found = impact(before, PageIndex(before.tree), after, PageIndex(after.tree), NOW)
    assert {(shift.pages[0].path, shift.before and shift.before.pieces, shift.after and shift.after.pieces) for shift in found.shifts} == {
        ("/c", None, ("main",)), ("/b", ("main",), None),
    }  # fmt: skip
    assert found.paths == {"/b", "/c"}


PIECES: list[dict[str, Any]] = [
    {"slug": "main", "kind": "header"},
    {"slug": "slim", "kind": "header"},
    {"slug": "note", "kind": "widget"},
    {"slug": "desk", "kind": "sidebar", "entries": [{"piece": "note"}]},
]
WIDTH = {"name": "width", "type": "choice", "choices": ["normal", "wide"]}


def small_state(*rules, pieces=PIECES, **site):
    from navrel.core.files.reading import read_document

    return read_document(
        {"navrel": 1, "site": {"name": "Marrowick", "roles": ["crew"], **site}, "pages": [{"path": path} for path in ("/", "/a", "/b")],
         "pieces": pieces, "rules": list(rules)}
    )  # fmt: skip


def a_rule(name, include, action, **more):
    visitors, schedule = more.pop("visitors", ""), more.pop("schedule", None)
    condition = {"include": include, "visitors": {"include": visitors}, "schedule": schedule}
    return {"name": name, "condition": condition, "actions": [action], **more}


def header(piece):
    return {"do": "fill", "slot": "header", "piece": piece}


def shifted(before, after):
    """The shifts in short: target, before, after, who sees it, and where."""
    found = impact(before, PageIndex(before.tree), after, PageIndex(after.tree), NOW)

    def short(outcome):
        return (
            None
            if outcome is None
            else (outcome.value or ",".join(outcome.pieces), outcome.by.name if outcome.by else None)
        )

    return [
        (str(one.target), short(one.before), short(one.after), [str(seen.visitors) for seen in one.seen],
         [page.path for page in one.pages])
        for one in found.shifts
    ]  # fmt: skip


def test_a_default_that_changes_reaches_every_page_that_does_not_overrule_it():
    own = a_rule("wide b", "page:/b", {"do": "set", "setting": "width", "value": "wide"})
    before = small_state(own, settings=[WIDTH])
    after = small_state(own, settings=[{**WIDTH, "default": "wide"}])
    assert shifted(before, after) == [("setting:width", ("normal", None), ("wide", None), [""], ["/", "/a"])]


def test_a_change_for_some_visitors_is_told_as_theirs():
    everyone = a_rule("all", "all", header("main"))
    crew = a_rule("crew", "page:/a", header("slim"), visitors="role:crew")
    assert shifted(small_state(everyone), small_state(everyone, crew)) == [
        ("header", ("main", "all"), ("slim", "crew"), ["role:crew"], ["/a"])
    ]


def test_a_change_of_order_is_told_where_it_decides():
    one, other = a_rule("one", "under:/", header("main")), a_rule("other", "child:/", header("slim"))
    assert shifted(small_state(one, other), small_state(other, one)) == [
        ("header", ("main", "one"), ("slim", "other"), [""], ["/a", "/b"])
    ]


def test_a_rule_switched_on_for_some_times_is_told_with_them():
    rule = a_rule("december", "all", header("main"), schedule={"from": "2026-12-01", "until": "2027-01-01"})
    before, after = small_state({**rule, "on": False}), small_state(rule)
    found = impact(before, PageIndex(before.tree), after, PageIndex(after.tree), NOW)
    (shift,) = found.shifts
    assert [(span.start.isoformat(), span.end.isoformat()) for span in shift.seen[0].spans] == [
        ("2026-12-01T00:00:00", "2027-01-01T00:00:00")
    ]


def test_an_entry_taken_out_of_a_sidebar_is_told_with_its_pages():
    rule = a_rule("desk", "page:/a", {"do": "fill", "slot": "aside-end", "piece": "desk"})
    bare = [*PIECES[:3], {"slug": "desk", "kind": "sidebar"}]
    before, after = small_state(rule), small_state(rule, pieces=bare)
    found = impact(before, PageIndex(before.tree), after, PageIndex(after.tree), NOW)
    assert [(str(one.target), one.widgets, [page.path for page in one.pages]) for one in found.shifts] == [
        ("aside-end", (("note",), ()), ["/a"])
    ]


def told(before, after):
    """What is drawn differently, in short: the pieces with who sees them and where, the pages themselves, the count."""
    found = impact(before, PageIndex(before.tree), after, PageIndex(after.tree), NOW)
    redraws = [
        (one.piece, [str(seen.visitors) for seen in one.seen], [page.path for page in one.pages])
        for one in found.redraws
    ]
    return redraws, [page.path for page in found.own], len(found.paths)


def with_content(slug, **more):
    return [{**piece, "content": {"items": []}, **more} if piece["slug"] == slug else piece for piece in PIECES]


def test_notes_and_names_change_nothing_on_any_page():
    rule = a_rule("all", "all", header("main"))
    renamed = [{**PIECES[0], "name": "Other", "note": "new"}, *PIECES[1:]]
    before, after = small_state(rule), small_state({**rule, "note": "why"}, pieces=renamed)
    assert shifted(before, after) == []
    assert told(before, after) == ([], [], 0)


def test_a_piece_whose_content_differs_changes_every_page_that_shows_it():
    rules = a_rule("all", "all", header("main")), a_rule("crew", "page:/a", header("slim"), visitors="role:crew")
    before, after = small_state(*rules), small_state(*rules, pieces=with_content("main"))
    assert told(before, after) == ([("main", [""], ["/", "/b"]), ("main", ["-role:crew"], ["/a"])], [], 3)


def test_a_widget_whose_content_differs_changes_the_pages_of_its_sidebars():
    rule = a_rule("desk", "page:/a", {"do": "fill", "slot": "aside-end", "piece": "desk"})
    assert told(small_state(rule), small_state(rule, pieces=with_content("note"))) == ([("note", [""], ["/a"])], [], 1)


def test_a_piece_without_a_place_is_drawn_nowhere():
    plain = {"slug": "plain", "kind": "template", "slots": ["footer"]}
    rule = a_rule("all", "all", header("main"))
    before = small_state(rule, pieces=[*PIECES, plain], default_template="plain")
    after = small_state(rule, pieces=[*with_content("main"), plain], default_template="plain")
    assert told(before, after) == ([], [], 0)


def test_a_template_that_loses_a_slot_changes_its_pages():
    whole, less = (
        {"slug": "plain", "kind": "template", "slots": slots} for slots in (["header", "footer"], ["footer"])
    )
    rule = a_rule("all", "page:/b", {"do": "use", "template": "plain"})
    before, after = (small_state(rule, pieces=[*PIECES, one]) for one in (whole, less))
    assert told(before, after) == ([("plain", [""], ["/b"])], [], 1)


def test_a_shift_in_a_slot_without_a_place_is_told_but_counts_no_page():
    plain = {"slug": "plain", "kind": "template", "slots": ["footer"]}
    before = small_state(pieces=[*PIECES, plain], default_template="plain")
    after = small_state(a_rule("all", "all", header("main")), pieces=[*PIECES, plain], default_template="plain")
    found = impact(before, PageIndex(before.tree), after, PageIndex(after.tree), NOW)
    assert [(one.is_visible, len(one.pages)) for one in found.shifts] == [(False, 3)]
    assert found.paths == set()


def test_pages_whose_facts_differ_are_told():
    before = small_state()
    after = replace(before, pages=(replace(before.pages[0], title="Home"), *before.pages[1:]))
    assert told(before, after) == ([], ["/"], 1)


def test_a_fact_that_takes_a_page_out_of_a_rule_shifts_that_page_alone():
    rules = a_rule("all", "all", header("main")), a_rule("words", "words:<10", header("slim"))
    before = small_state(*rules)
    longer = replace(before.pages[1], words=500)
    after = replace(before, pages=(before.pages[0], longer, before.pages[2]))
    assert shifted(before, after) == [("header", ("slim", "words"), ("main", "all"), [""], ["/a"])]
    assert told(before, after) == ([], ["/a"], 1)


def test_of_very_many_pages_that_come_all_are_told_to_differ():
    before = small_state(a_rule("all", "all", header("main")))
    many = tuple(replace(before.pages[0], path=f"/n{number}") for number in range(1000))
    after = replace(before, pages=(*before.pages, *many))
    found = impact(before, PageIndex(before.tree), after, PageIndex(after.tree), NOW)
    assert len(found.paths) == 1000
    assert [len(one.pages) for one in found.shifts] == [MOST_COMING]


def test_audiences_are_told_with_their_pages():
    rules = a_rule("all", "all", header("main")), a_rule("crew", "page:/a", header("slim"), visitors="role:crew")
    before, after = small_state(), small_state(*rules)
    found = impact(before, PageIndex(before.tree), after, PageIndex(after.tree), NOW)
    told_of = [
        ([str(one.visitors) for one in seen], [page.path for page in pages]) for seen, pages in found.by_audience()
    ]
    assert told_of == [([""], ["/", "/b"]), (["-role:crew"], ["/a"]), (["role:crew"], ["/a"])]


def test_pages_that_differ_in_themselves_are_told_as_everybodys():
    before = small_state(a_rule("all", "all", header("main")))
    retitled = replace(before, pages=(replace(before.pages[0], words=9), *before.pages[1:]))
    found = impact(before, PageIndex(before.tree), retitled, PageIndex(retitled.tree), NOW)
    assert found.by_audience() == [((Sighting(Query(), ()),), (retitled.pages[0],))]
    slim = replace(retitled, layout=small_state(a_rule("all", "all", header("slim"))).layout)
    found = impact(before, PageIndex(before.tree), slim, PageIndex(slim.tree), NOW)
    ((seen, pages),) = found.by_audience()
    assert (len(seen), len(pages)) == (1, len(before.pages)), "told together with what else everybody sees"


def test_times_that_repeat_for_ever_are_told_as_the_schedule_they_are():
    repeats = {"rrule": "FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR", "start": "2026-11-23T22:00", "duration": "PT12H"}
    night = a_rule("night", "all", header("slim"), schedule={"repeats": repeats})
    before, after = small_state(), small_state(night)
    found = impact(before, PageIndex(before.tree), after, PageIndex(after.tree), NOW)
    (seen,) = found.shifts[0].seen
    assert seen.schedule == after.layout.rules[0].condition.schedule
    assert (seen.outside, seen.repeats_after is not None) == (False, True)


def test_pages_with_too_many_visitors_to_tell_apart_are_named():
    many = " | ".join(f"role:r{number}" for number in range(18))
    crowd = a_rule("crowd", "page:/a", header("slim"), visitors=many)
    before, after = small_state(), small_state(crowd)
    found = impact(before, PageIndex(before.tree), after, PageIndex(after.tree), NOW)
    assert ([page.path for page in found.untold], found.shifts) == (["/a"], ())


DRESSES: list[dict[str, Any]] = [
    {"slug": "day", "name": "Day"},
    {"slug": "night", "name": "Night", "colours": {"paper": "#000"}},
]
DRESS = {"name": "dress", "type": "choice", "choices": ["day", "night"]}


def in_dresses(*rules, dresses=DRESSES, settings=(DRESS,)):
    whole = small_state(*rules, settings=list(settings))
    return replace(whole, layout=replace(whole.layout, dresses=read_dresses(list(dresses))))


def told_of_dresses(before, after):
    """The dresses drawn differently, for whom and where; and the shifts of the setting."""
    found = impact(before, PageIndex(before.tree), after, PageIndex(after.tree), NOW)
    redraws = [
        (one.dress, [str(seen.visitors) for seen in one.seen], [page.path for page in one.pages])
        for one in found.redraws
        if one.dress
    ]
    return redraws, [(one[0], one[1][0], one[2][0], one[4]) for one in shifted(before, after)], len(found.paths)


WEARS_NIGHT = {"do": "set", "setting": "dress", "value": "night"}
OTHER_NIGHT = [DRESSES[0], {**DRESSES[1], "measures": {"corner": 9}}]
CREW = a_rule("crew", "page:/a", WEARS_NIGHT, visitors="role:crew")


def test_a_dress_that_changes_is_told_where_and_by_whom_it_is_seen():
    assert told_of_dresses(in_dresses(CREW), in_dresses(CREW, dresses=OTHER_NIGHT)) == (
        [("night", ["role:crew"], ["/a"])], [], 1,
    )  # fmt: skip
    everywhere = in_dresses(CREW, dresses=[{**DRESSES[0], "fonts": {"text": "slab"}}, DRESSES[1]])
    assert told_of_dresses(in_dresses(CREW), everywhere) == (
        [("day", [""], ["/", "/b"]), ("day", ["-role:crew"], ["/a"])], [], 3,
    )  # fmt: skip


def test_another_dress_by_a_rule_is_a_shift_and_no_redraw_beside_it():
    both = in_dresses(a_rule("b", "page:/b", WEARS_NIGHT), dresses=OTHER_NIGHT)
    assert told_of_dresses(in_dresses(), both) == ([], [("setting:dress", "day", "night", ["/b"])], 1)


def test_a_second_dress_and_its_setting_change_no_page():
    one = in_dresses(dresses=DRESSES[:1], settings=())
    assert told_of_dresses(one, in_dresses()) == ([], [], 0)


def test_the_first_dress_and_another_order_of_them_are_told():
    nothing = in_dresses(dresses=(), settings=())
    first = in_dresses(dresses=DRESSES[1:], settings=())
    assert told_of_dresses(nothing, first) == ([("night", [""], ["/", "/a", "/b"])], [], 3)
    turned = in_dresses(dresses=DRESSES[::-1], settings=())
    assert told_of_dresses(in_dresses(settings=()), turned) == ([("night", [""], ["/", "/a", "/b"])], [], 3)


def items(*texts):
    return {"items": [{"type": "text", "text": text} for text in texts]}


def swapped(main, slim, before=None, **site):
    """What is told where a header of one content gives way to one of another on all pages."""
    pieces = [{**PIECES[0], "content": main}, {**PIECES[1], "content": slim}, *PIECES[2:]]
    was = small_state(a_rule("all", "all", header("main")), pieces=before or pieces, **site)
    now = small_state(a_rule("all", "all", header("slim")), pieces=pieces, **site)
    return impact(was, PageIndex(was.tree), now, PageIndex(now.tree), NOW)


def test_a_copy_in_place_of_what_it_was_copied_from_is_told_as_drawn_as_before():
    found = swapped(items("Boats"), items("Boats"))
    assert [(one.alike, len(one.pages)) for one in found.shifts] == [(True, 3)]
    assert found.paths == set()
    other = swapped(items("Boats"), items("Ferries"))
    assert [one.alike for one in other.shifts] == [False]
    assert len(other.paths) == 3


def added(how, *more, form="in-place"):
    """The state of three pages with HTML of their own, to whose footers a note is added."""
    pieces = [*PIECES, {"slug": "sign-off", "kind": "footer"}]
    page_form = {"name": "page-form", "type": "choice", "choices": ["arranged", "in-place"], "default": form}
    note = a_rule("note", "all", {"do": how, "slot": "footer", "piece": "note"})
    document = small_state(note, *more, pieces=pieces, settings=[page_form])
    return replace(document, pages=tuple(replace(page, bound=("footer",)) for page in document.pages))


def told_between(was, now, standing=nowhere):
    return impact(was, PageIndex(was.tree), now, PageIndex(now.tree), NOW, standing=standing)


def test_before_and_after_what_stands_there_is_a_difference_on_pages_in_their_own_html_alone():
    found = told_between(added("prepend"), added("append"))
    assert [(one.before.own_at, one.after.own_at) for one in found.shifts] == [(1, 0)]
    assert len(found.paths) == 3
    assert told_between(added("prepend", form="arranged"), added("append", form="arranged")).paths == set()


def test_a_piece_that_shows_what_stands_there_changes_nothing_beside_what_is_added():
    taken = added("append", a_rule("found", "all", {"do": "fill", "slot": "footer", "piece": "sign-off"}))
    found = told_between(added("append"), taken, lambda path: frozenset({("footer", "sign-off")}))
    assert [one.alike for one in found.shifts] == [True] and found.paths == set()
    assert len(told_between(added("append"), taken).paths) == 3
    other = told_between(added("prepend"), taken, lambda path: frozenset({("footer", "sign-off")}))
    assert [one.alike for one in other.shifts] == [False], "the note stands on the other side of it"


def test_a_copy_is_not_drawn_as_before_where_what_it_was_copied_from_was_another():
    before = [{**PIECES[0], "content": items("Barges")}, {**PIECES[1], "content": items("Boats")}, *PIECES[2:]]
    assert len(swapped(items("Boats"), items("Boats"), before).paths) == 3


def test_a_copy_that_embeds_what_is_drawn_differently_now_changes_its_pages():
    holding = {"items": [{"type": "piece", "piece": "note"}]}
    before = [
        {**PIECES[0], "content": holding}, {**PIECES[1], "content": holding}, {**PIECES[2], "content": items("Old")}, PIECES[3],
    ]  # fmt: skip
    assert len(swapped(holding, holding, before).paths) == 3


def test_a_place_that_comes_with_a_copy_is_a_difference():
    templates = [
        {"slug": "full", "kind": "template", "slots": ["header"]},
        {"slug": "bare", "kind": "template", "slots": []},
    ]
    pieces = [
        {**PIECES[0], "content": items("Boats")},
        {**PIECES[1], "content": items("Boats")},
        *PIECES[2:],
        *templates,
    ]
    was = small_state(a_rule("all", "all", header("main")), pieces=pieces, default_template="bare")
    now = small_state(a_rule("all", "all", header("slim")), pieces=pieces, default_template="full")
    found = impact(was, PageIndex(was.tree), now, PageIndex(now.tree), NOW)
    assert [one.alike for one in found.shifts if str(one.target) == "header"] == [False]


def test_a_widget_inside_of_a_sidebar_and_one_after_it_are_not_the_same():
    empty = {**PIECES[3], "slug": "bare", "entries": []}
    pieces = [*PIECES, empty]
    beside = {
        "name": "note",
        "condition": {"include": "all"},
        "actions": [{"do": "append", "slot": "aside-end", "piece": "note"}],
    }
    was = small_state(a_rule("desk", "all", {"do": "fill", "slot": "aside-end", "piece": "desk"}), pieces=pieces)
    now = small_state(
        beside, a_rule("desk", "all", {"do": "fill", "slot": "aside-end", "piece": "bare"}), pieces=pieces
    )
    found = impact(was, PageIndex(was.tree), now, PageIndex(now.tree), NOW)
    assert [(str(one.target), one.alike) for one in found.shifts] == [("aside-end", False)]
