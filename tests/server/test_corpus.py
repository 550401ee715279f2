"""Five sites built as differently as real ones are, taken in, bound, found, and drawn in place."""

import re
from html import unescape
from urllib.parse import unquote, urljoin, urlsplit

import pytest
from django.test import Client, override_settings
from lxml import html

from navrel.core.files.writing import write_binding
from navrel.core.layout.binding import Binding
from navrel.server.bindings.finding import find
from navrel.server.bindings.proposing import propose
from navrel.server.bindings.services import bindings_version, put_bindings
from navrel.server.bindings.taking import prove, take_finds, taken_up
from navrel.server.inventory.facts import page_of
from navrel.server.inventory.rereading import with_files
from navrel.server.inventory.services import make_empty_site
from navrel.server.inventory.sources import take_in_folder
from navrel.server.outcomes.findings import findings
from navrel.server.publishing.services import publish
from navrel.server.recipes.proposing import propose as propose_recipe
from navrel.server.recipes.services import as_texts, put_recipe, recipe_version, taken_facts
from navrel.server.settings import delivery
from navrel.server.sitestate.draft import draft
from tests.sites import SITES, write

pytestmark = pytest.mark.django_db


@pytest.fixture(params=SITES)
def taken(request, tmp_path, settings):
    """One of the sites, taken in from a folder to be drawn in place."""
    built = SITES[request.param]
    site = make_empty_site(
        "made", "Made", f"https://{'journal.' * (request.param == 'journal')}marrowick.example", "in-place"
    )
    take_in_folder("made", write(built, tmp_path))
    return site, built


@pytest.fixture
def asked():
    """An address of the site as it is published."""
    middleware = [one for one in delivery.MIDDLEWARE if "Squeeze" not in one]
    with override_settings(ROOT_URLCONF=delivery.ROOT_URLCONF, MIDDLEWARE=middleware, ALLOWED_HOSTS=["127.0.0.1"]):
        yield lambda address: Client().get(address, headers={"Host": "made.localhost"})


def bind(site, built):
    trees = [write_binding(Binding(slot, selector)) for slot, selector in built.BINDINGS]
    site.refresh_from_db()
    put_bindings("made", trees, bindings_version(site), by=None)
    site.refresh_from_db()


def test_nearly_all_facts_are_right_without_a_hand(taken):
    site, built = taken
    pages = {page.path: page_of(page, "") for page in site.pages.filter(gone=False)}
    assert pages.keys() == built.FACTS.keys()
    wanted = [(path, fact, value) for path, facts in built.FACTS.items() for fact, value in facts.items()]
    wrong = [
        (path, fact, value, told)
        for path, fact, value in wanted
        if (told := _plain(getattr(pages[path], fact))) != value
    ]
    assert len(wrong) <= 0.05 * len(wanted), wrong


def test_by_its_recipe_every_fact_is_right_and_without_it_all_is_as_it_was(taken):
    site, built = taken
    before = _facts(site)
    put_recipe("made", built.RECIPE, recipe_version(site), by=None)
    after = _facts(site)
    for path, facts in (*built.FACTS.items(), *built.TOLD.items()):
        named = {line["fact"].split("/")[0] for line in built.RECIPE} if path in built.TOLD else set()
        assert [
            (fact, after[path][fact]) for fact in facts if fact not in named and after[path][fact] != facts[fact]
        ] == []
    for path, facts in built.TOLD.items():
        assert {fact: after[path][fact] for fact in facts} == facts, path
    site.refresh_from_db()
    put_recipe("made", [], recipe_version(site), by=None)
    assert _facts(site) == before


def _facts(site):
    names = ("title", "kind", "type", "parent", "terms", "author", "language", "published", "fields")
    pages = {page.path: page_of(page, "") for page in site.pages.filter(gone=False)}
    return {path: {name: _plain(getattr(page, name)) for name in names} for path, page in pages.items()}


def test_what_is_proposed_is_what_the_pages_have(taken):
    site, built = taken
    proposed, asked = propose_recipe(site)
    assert asked == len(built.FACTS)
    recipe = [{"fact": one.fact, "places": [one.place]} for one in proposed]
    for one in recipe:
        put_recipe("made", [one], recipe_version(site), by=None)
        site.refresh_from_db()
        told = {
            page.path: as_texts(page.path, taken_facts(page)).get(str(one["fact"]), "") for page in with_files(site)
        }
        (seen,) = [each for each in proposed if (each.fact, each.place) == (one["fact"], one["places"][0])]
        assert {path: told[path] for path in seen.told} | {"": ""} == {**seen.told, "": ""}, one


def _plain(value):
    return list(value) if isinstance(value, tuple) else value.isoformat() if hasattr(value, "isoformat") else value


def test_what_was_alive_is_alive_and_every_page_is_its_own_file(taken, asked):
    site, built = taken
    files = built.files()
    bind(site, built)
    publish("made", None, "")
    links = set()
    for name, data in files.items():
        if re.search(r"\.html?$", name):
            links |= {f"/{name}", *_led_to(f"/{name}", data, files)}
    frames = {f"/{name}" for name, data in files.items() if b"<FRAMESET" in data}
    for link in links - frames:
        answer = asked(link)
        while answer.status_code == 308:
            answer = asked(answer.headers["Location"])
        wanted = 404 if "404" in link else 200
        assert answer.status_code == wanted, link
    originals = {data for name, data in files.items() if re.search(r"\.html?$", name)}
    for page in site.pages.filter(gone=False):
        assert asked(page.address or page.path).content in originals, page.path


def _led_to(name, data, files):
    """What a file leads to that is there, as a browser resolves it."""
    text = data.decode("utf-8", "replace")
    base = urljoin(f"http://here{name}", (re.search(r'<base href="([^"]*)"', text) or ["", ""])[1])
    for reference in re.findall(r"""(?i)\s(?:href|src)=["']?([^"'\s>#]+)""", text):
        parts = urlsplit(urljoin(base, unescape(reference)))
        path = unquote(parts.path)
        if parts.netloc == "here" and (path[1:] in files or f"{path.strip('/')}/index.html".lstrip("/") in files):
            yield path + (f"?{parts.query}" if parts.query else "")


def test_the_places_of_slots_are_proposed(taken):
    site, built = taken
    proposed, asked = propose(site, draft(site).index.tree)
    known = {(one.binding.slot, one.binding.selector) for one in proposed}
    assert asked == len(built.FACTS)
    for slot, selector in built.BINDINGS:
        assert (slot, selector) in known, sorted(known)
    for one in proposed:
        assert (one.fit.inside, one.fit.problem) == (0, "")
        assert one.fit.found == one.fit.pages - len(one.fit.missed)


def test_what_is_found_is_what_is_there_and_rules_come_to_it(taken):
    site, built = taken
    bind(site, built)
    state = draft(site)
    found = find(site)
    told = {one.slot: ([len(each.pages) for each in one.finds], len(one.alone)) for one in found}
    assert told == built.FINDS
    assert [each.problem for one in found for each in one.finds if each.problem] == []
    rules, pieces = taken_up(found, [])
    proof = prove(state, found, rules, pieces)
    assert proof.wrong == ()
    assert proof.right == sum(sum(counts) + alone for counts, alone in built.FINDS.values())


def test_a_page_whose_finds_were_taken_shows_what_it_showed(taken, asked):
    site, built = taken
    bind(site, built)
    done = take_finds("made", [slot for slot, _ in built.BINDINGS])
    assert done["wrong"] == 0
    publish("made", None, "")
    originals = {data for name, data in built.files().items() if re.search(r"\.html?$", name)}
    texts = [(_words(data), _marks(data)) for data in originals]
    shown = [asked(page.address or page.path).content for page in site.pages.filter(gone=False)]
    for data in shown:
        assert (_words(data), _marks(data)) in texts, data
        # What was found is a part of the page as it was, with nothing of ours around it.
        assert b"data-piece" not in data
    assert any(map(_marks, originals)) == any(map(_marks, shown))
    site.refresh_from_db()
    assert {one.check for one in findings("made", draft(site))} & {"empty-shows", "blank-sidebar"} == set()


def _marks(data):
    """Where a page says that a reader is: the text of what is marked, and how."""
    marked = html.document_fromstring(data).xpath(
        "//*[@aria-current or contains(@class, 'current') or @class='active']"
    )
    told = ((one, (one.get("class") or "").split()) for one in marked)
    return tuple((one.text_content().split(), sorted(classes), one.get("aria-current")) for one, classes in told)


def _words(data):
    """What is read on a page: its text, without what only parts it."""
    try:
        text = data.decode()
    except UnicodeDecodeError:
        text = data.decode("latin-1")
    text = re.sub(r"(?s)<script.*?</script>|<!--.*?-->", "", text)
    return " ".join(unescape(re.sub(r"<[^>]*>", " ", text)).split())
