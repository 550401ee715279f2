"""What pages tell of each other is looked for only where a piece may, and for everybody whom it tells apart."""

import pytest

from navrel.rendering import redrawing as redrawn
from navrel.rendering.hinges import looks_elsewhere
from navrel.rendering.redrawing import redrawing

from .test_rendering import piece_with, put, source

PAGES = [
    {"path": "/", "title": "Home"},
    {"path": "/news", "title": "News"},
    {"path": "/news/fog", "title": "Fog", "type": "article", "published": "2026-11-20"},
]
NEWEST = '{% assign found = "type:article" | pages: 3 %}{% for one in found %}<b>{{ one.title }}</b>{% endfor %}'


def states(code, *, title="Fog", bound=None, where="all"):
    """The pages with a footer of markup, with another title for one of them or slots bound in it."""
    pages = [{**page} for page in PAGES]
    pages[2]["title"] = title
    if bound is not None:
        pages = [{**page, "bound": bound} for page in pages]
    piece = piece_with("footer", {"type": "markup", "code": code}) | {"slug": "foot"}
    found = source(
        pages=pages, pieces=[piece], rules=[put("footer", "foot") | {"condition": {"include": where}}], roles=["crew"]
    )
    return found.document, found.index


@pytest.mark.parametrize(
    "code",
    [
        NEWEST,
        f'{{% if visitor.signed == "in" %}}{NEWEST}{{% endif %}}',
        f'{{% if visitor.roles contains "crew" %}}{NEWEST}{{% endif %}}',
        f'{{% if visitor.device == "phone" %}}{NEWEST}{{% endif %}}',
    ],
)
def test_what_a_piece_tells_of_another_page_is_another_for_whoever_sees_it(code):
    found = redrawing(*states(code), *states(code, title="Ice"))
    assert found.on_pages == {page["path"]: frozenset({"foot"}) for page in PAGES}
    assert redrawing(*states(code, where="within:/news"), *states(code, title="Ice", where="page:/news")).on_pages == {
        "/news": frozenset({"foot"})
    }


def test_nothing_is_drawn_where_no_piece_tells_of_other_pages_or_only_places_of_slots_differ(monkeypatch):
    monkeypatch.setattr(redrawn, "_differ", lambda *_: pytest.fail("drawn"))
    plain = '<nav class="{% if page.path == "/news" %}here{% endif %}">{{ site.name }}</nav>'
    found = redrawing(*states(plain), *states(plain, title="Ice"))
    assert found.pages == {"/news/fog"}
    assert found.on_pages == {}
    assert redrawing(*states(NEWEST), *states(NEWEST, bound=["footer"])).on_pages == {}


@pytest.mark.parametrize(
    ("code", "looks"),
    [
        ("{{ page.title }}{{ settings.tint }}{{ visitor.device }}", False),
        ("<b>Quays</b>", False),
        ("{% if", False),
        ("{{ page }}", True),
        ("{% assign it = page %}{{ it.above }}", True),
        ("{{ page[settings.tint] }}", True),
        ("{% for line in menus.main %}{{ line.text }}{% endfor %}", True),
        (NEWEST, True),
    ],
)
def test_markup_that_may_tell_of_other_pages_is_known(code, looks):
    assert looks_elsewhere(code) is looks
