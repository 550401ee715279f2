"""The kept states, with real transactions and real connections."""

from concurrent.futures import ThreadPoolExecutor
from functools import partial
from threading import Event
from typing import Any

import pytest
from django.db import connection, transaction

from navrel.core.files.writing import write_rule
from navrel.server.api.errors import Refused
from navrel.server.demo import load_demo
from navrel.server.inventory.models import Site
from navrel.server.library.services import make_piece
from navrel.server.publishing import live
from navrel.server.publishing.models import Revision
from navrel.server.publishing.services import publish
from navrel.server.rules.services import change_rule, make_rule
from navrel.server.sitestate import draft as draft_module
from navrel.server.sitestate.draft import draft
from navrel.server.sitestate.kept import Kept
from navrel.server.sitestate.locking import find_site, lock_site
from navrel.server.sitestate.records import read_layout

pytestmark = pytest.mark.django_db(transaction=True)
WAIT = 20


@pytest.fixture
def demo():
    Site.objects.all().delete()
    return load_demo()


@pytest.fixture
def elsewhere():
    """Runs a function on a connection of its own."""

    def run(function, *arguments):
        try:
            return function(*arguments)
        finally:
            connection.close()

    with ThreadPoolExecutor(4) as pool:
        yield lambda function, *arguments: pool.submit(run, function, *arguments)


def rule(name):
    return {"name": name, "condition": {"include": "all"}, "actions": [{"do": "empty", "slot": "footer"}]}


def rules_now():
    return [one.name for one in draft(find_site("marrowick")).layout.rules]


def test_a_save_after_a_refused_publication_is_seen(demo):
    before = find_site("marrowick").version
    with pytest.raises(Refused, match="already the same"):
        publish("marrowick", None)
    assert find_site("marrowick").version == before
    make_rule("marrowick", rule("After the refusal"))
    assert find_site("marrowick").version == before + 1, "the number that the refused publication had"
    assert rules_now()[0] == "After the refusal"


def test_what_a_transaction_sees_is_kept_for_nobody_else(demo, elsewhere):
    with pytest.raises(ZeroDivisionError), transaction.atomic():
        make_rule("marrowick", rule("Never committed"))
        locked = lock_site("marrowick")
        assert draft(locked).layout.rules[0].name == "Never committed"
        assert "Never committed" not in elsewhere(rules_now).result(WAIT)
        raise ZeroDivisionError
    assert "Never committed" not in rules_now()


def test_another_worker_sees_what_was_committed(demo, elsewhere, monkeypatch):
    rules_now()
    elsewhere(make_rule, "marrowick", rule("By the other")).result(WAIT)
    assert rules_now()[0] == "By the other"
    monkeypatch.setattr(draft_module, "_drafts", Kept())
    assert rules_now()[0] == "By the other", "and so does a worker that has kept nothing yet"


def test_a_state_is_read_in_one_snapshot(demo, elsewhere, monkeypatch):
    """A save between two reads of a build shows in neither part, or in both."""

    def slow(site, *older):
        monkeypatch.setattr(draft_module, "read_layout", read_layout)
        elsewhere(make_rule, "marrowick", rule("Meanwhile")).result(WAIT)
        return read_layout(site, *older)

    monkeypatch.setattr(draft_module, "read_layout", slow)
    first = draft(find_site("marrowick"))
    assert "Meanwhile" not in [one.name for one in first.layout.rules]
    now = find_site("marrowick")
    assert first.version == now.version - 1
    assert draft(now).layout.rules[0].name == "Meanwhile"


def test_only_what_changed_is_read_anew_and_comes_to_the_same(demo):
    before = draft(find_site("marrowick"))
    changed, kept = before.layout.rules[:2]
    assert changed.key is not None
    change_rule("marrowick", changed.key, {**write_rule(changed), "priority": 321}, 1)
    after = draft(find_site("marrowick"))
    assert after.layout.rules[0].priority == 321
    assert after.layout.rules[1] is kept
    # What rules are read against: a piece that comes makes them read anew.
    make_piece("marrowick", {"kind": "widget", "name": "Tide table", "content": {"items": []}})
    site = find_site("marrowick")
    assert draft(site).layout.rules[1] is not kept
    assert draft(site).layout == read_layout(site).layout


def test_a_site_that_is_being_built_keeps_no_other_waiting():
    kept, begun, go_on = Kept(), Event(), Event()

    def slow(older):
        begun.set()
        assert go_on.wait(WAIT)
        return "slow"

    with ThreadPoolExecutor(3) as pool:
        building = pool.submit(kept.get, 1, 1, slow)
        assert begun.wait(WAIT)
        assert kept.get(2, 1, lambda older: "quick") == "quick"
        waiting = pool.submit(kept.get, 1, 1, lambda older: "built twice")
        go_on.set()
        assert (building.result(WAIT), waiting.result(WAIT)) == ("slow", "slow")


def _given(value, older):
    return value


def test_asking_what_is_kept_keeps_nothing_and_drives_nothing_out():
    kept: Kept[str] = Kept(2)
    for key in "ab":
        kept.get(key, 1, lambda older: "made")
    assert [kept.newest(key) for key in "xyzab"] == [None, None, None, "made", "made"]
    kept.get("c", 1, lambda older: "made")
    assert [kept.newest(key) for key in "abc"] == [None, "made", "made"]


def test_the_last_asked_are_kept():
    kept = Kept[Any]()
    for key in range(20):
        kept.get(key, 1, partial(_given, key))
    assert kept.get(19, 1, lambda older: "anew") == 19
    assert kept.get(0, 1, lambda older: "anew") == "anew"
    assert kept.get(19, 2, lambda older: (older or 0) + 1) == 20


#: Before the fixtures of all tests here take it out.
MEANWHILE = Kept.meanwhile


def test_readers_get_what_was_served_before_until_one_thread_has_made_the_newest_ready(demo, monkeypatch):
    monkeypatch.setattr(Kept, "meanwhile", MEANWHILE)
    assert live.served_meanwhile(demo, 0).state.revision.number == 1
    go_on, opened = Event(), []
    open_revision = live.open_revision

    def slowly(revision, older):
        opened.append(revision.number)
        assert go_on.wait(WAIT)
        return open_revision(revision, older)

    publish_another(demo)
    monkeypatch.setattr(live, "open_revision", slowly)
    # However many ask, nobody waits, and one makes it.
    numbers = [live.served_meanwhile(find_site(demo.slug), 0).state.revision.number for _ in range(20)]
    assert numbers == [1] * 20
    go_on.set()
    assert live.served_meanwhile(find_site(demo.slug), WAIT).state.revision.number == 2
    assert opened == [2]


def test_a_revision_with_the_same_pages_shares_what_was_worked_out_of_them(demo):
    older = live.served(demo).state
    publish_another(demo)
    newer = live.served(find_site(demo.slug)).state
    assert newer.revision.number == 2
    assert newer.index is older.index
    assert newer.contents is older.contents


def test_where_nothing_was_served_before_the_newest_is_waited_for(demo, monkeypatch):
    monkeypatch.setattr(Kept, "meanwhile", MEANWHILE)
    publish_another(demo)
    monkeypatch.setattr(live, "_served", Kept())
    assert live.served_meanwhile(find_site(demo.slug), 0).state.revision.number == 2


def test_a_newest_revision_that_cannot_be_read_keeps_no_reader_waiting(demo, monkeypatch):
    monkeypatch.setattr(Kept, "meanwhile", MEANWHILE)
    assert live.served_meanwhile(demo, 0).state.revision.number == 1
    publish_another(demo)
    Revision.objects.filter(number=2).update(archive=b"nothing")
    served = live.served_meanwhile(find_site(demo.slug), WAIT)
    assert (served.state.revision.number, served.passed_over) == (1, (2,))


def publish_another(demo):
    make_rule(demo.slug, rule("Made"))
    publish(demo.slug, None, overrule="for a trial")
