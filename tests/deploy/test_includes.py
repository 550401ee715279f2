"""Pages of somebody else with slots of Navrel in them, put together by nginx (SSI) and by Varnish (ESI)."""

from functools import partial
from urllib.parse import quote

import pytest

from .edges import fetched

#: They ask the same servers, one after the other.
pytestmark = pytest.mark.xdist_group("edges")

PHONE = "Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Safari/604.1"
SLOTS = ("header", "aside-end", "footer")
HOST = {"Host": "tickets.example"}
SLIM = b'data-piece="slim-header"'


def page(include):
    slots = "\n".join(f"<div>{include(f'slots/{slot}')}</div>" for slot in SLOTS)
    return f"<!doctype html>\n<html><head>{include('styles')}</head>\n<body>{slots}\n<main>Tickets é</main></body></html>\n"


def ssi(what):
    return f'<!--#include virtual="/-/include/{what}" -->'


def esi(what):
    return f'<esi:include src="/-/include/{what}"/>'


#: A header of the page's own, where nothing is set in the slot.
OWN = '<!--#block name="own" -->Our own<!--#endblock --><!--#include virtual="/-/include/slots/header" stub="own" -->'


@pytest.fixture(scope="module")
def pages(place):
    """The same pages of somebody else behind both edges."""
    for name in ("about", "help", "tickets"):
        (place.folder / "esi" / f"{name}.html").write_text(page(esi))
        (place.folder / "ssi" / f"{name}.html").write_text(page(ssi))
    for name in ("contact", "nowhere"):
        (place.folder / "ssi" / f"{name}.html").write_text(OWN)
    (place.folder / "esi" / "nowhere.html").write_text(page(esi))
    place.desk("clear")
    place.desk.header("On phones, here", "/help", "device:phone")
    place.desk.header("In spring", "/tickets", "query.campaign:spring")
    empty = {"include": "page:/contact", "visitors": {"include": "query.bare:yes"}}
    place.desk("rule", name="Bare", priority=95, condition=empty, actions=[{"do": "empty", "slot": "header"}])
    place.publish()
    return place


def of_navrel(place, path, device, what):
    """What a program is told that asks for itself."""
    address = f"{place.stage.published}/-/layout/v1/marrowick/{what}?path={quote(path)}"
    return fetched(address, Authorization=f"Bearer {place.token}", Navrel_Device=device)[2].decode()


@pytest.mark.parametrize("edge", ["nginx", "varnish"])
def test_slots_stand_in_pages_as_navrel_draws_them_for_whoever_asks(pages, edge):
    for path, agent, device in (
        ("/about", "", "desktop"), ("/help", "", "desktop"), ("/help", PHONE, "phone"), ("/help", "", "desktop"),
        ("/tickets", "", "desktop"), ("/tickets?campaign=spring", "", "desktop"), ("/tickets", PHONE, "phone"),
    ):  # fmt: skip
        status, told, body = fetched(pages.pages[edge] + path, User_Agent=agent, **HOST)
        assert status == 200, path
        wanted = page(partial(of_navrel, pages, path, device))
        assert body.decode() == wanted, (edge, path, agent)
        assert (SLIM in body) is (path == "/tickets?campaign=spring" or (path, device) == ("/help", "phone"))
        assert "Surrogate-Key" not in told
    styles = wanted.partition('<link rel="stylesheet" href="')[2].partition('"')[0]
    assert styles.startswith("/-/place-") and fetched(pages.pages[edge] + styles, **HOST)[0] == 200


def test_a_page_has_something_of_its_own_where_nothing_is_set_and_where_navrel_cannot_say(pages):
    header = of_navrel(pages, "/contact", "desktop", "slots/header")
    shown = {
        path: fetched(pages.pages["nginx"] + path, **HOST)[2].decode()
        for path in ("/contact", "/contact?bare=yes", "/nowhere")
    }
    assert 'data-piece="main-header"' in header
    # Left empty is not the same as nothing set.
    assert shown == {"/contact": header, "/contact?bare=yes": "\n", "/nowhere": "Our own"}
    status, _, body = fetched(pages.pages["varnish"] + "/nowhere", **HOST)
    assert (status, body.decode()) == (200, page(lambda what: ""))


@pytest.mark.parametrize("edge", ["nginx", "varnish"])
def test_what_a_page_alone_may_ask_for_nobody_else_may(pages, edge):
    for path in ("/-/include/slots/header", "/-/include/styles", "/-/include/all", "/-/include/../layout/v1/marrowick"):
        assert fetched(pages.pages[edge] + path, Navrel_Page="/about", **HOST)[0] in (400, 401, 404), path
    assert fetched(pages.pages[edge] + "/-/layout/v1/marrowick?path=/about", **HOST)[0] == 401
