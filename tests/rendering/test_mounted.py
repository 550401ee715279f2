"""Pages and style sheets below a path of a shared host: what leads from the root leads below it, all else stays."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from navrel.rendering.mounted import Mount

SHOP = Mount("/shop")


@pytest.mark.parametrize(("written", "becomes"), [
    ('<a href="/fares">', '<a href="/shop/fares">'),
    ("<a href='/fares?a=1&amp;b=2#c'>", "<a href='/shop/fares?a=1&amp;b=2#c'>"),
    ("<img src=/boat.svg alt=/fares>", "<img src=/shop/boat.svg alt=/fares>"),
    ('<form action="/">', '<form action="/shop/">'),
    ('<base href="/">', '<base href="/shop/">'),
    ('<a href="/shop/fares">', '<a href="/shop/shop/fares">'),
    ('<img srcset="/a.png 1x, /b.png 2x">', '<img srcset="/shop/a.png 1x, /shop/b.png 2x">'),
    ('<p style="background:url(/wave.svg)">', '<p style="background:url(/shop/wave.svg)">'),
    ('<style>@import "/x.css";p{background:url("/y.png")}</style>',
     '<style>@import "/shop/x.css";p{background:url("/shop/y.png")}</style>'),
])  # fmt: skip
def test_what_leads_from_the_root_leads_below_the_path(written, becomes):
    assert SHOP.html(written.encode()).decode() == becomes


@pytest.mark.parametrize("written", [
    '<a href="//elsewhere.example/">', '<a href="https://skerry.example/">', '<a href="fares">', '<a href="../fares">',
    '<a href="#there">', '<a title="/fares">', "<script>go('/fares')</script>", "<!-- <a href='/fares'> -->",
    '<a href="mailto:x@skerry.example">', "<p>/fares</p>", "<img srcset='a.png  1x,b.png 2x'>",
])  # fmt: skip
def test_all_else_stays(written):
    assert SHOP.html(written.encode()).decode() == written


def test_what_a_site_writes_below_its_own_path_means_that():
    own = Mount("/shop", is_own=True)
    assert [own.address(one) for one in ("/shop/fares", "/shop", "/shops", "/fares")] == [
        "/shop/fares", "/shop", "/shop/shops", "/shop/fares",
    ]  # fmt: skip


@given(st.binary(max_size=300))
def test_bytes_that_lead_nowhere_stay_whatever_they_are_written_in(data):
    if b"/" not in data:
        assert SHOP.html(data) == data and SHOP.css(data) == data


def test_letters_of_other_encodings_are_not_touched():
    page = '<a href="/fähre" title="Fähre">Fähre'.encode("latin-1")
    assert SHOP.html(page) == '<a href="/shop/fähre" title="Fähre">Fähre'.encode("latin-1")
