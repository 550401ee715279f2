"""Hostile contents, saved as far as the application takes them, published, and opened in the browser.

Each either ends with an error that says what is wrong and where, or is drawn: nothing in it runs, nothing is fetched
from elsewhere, nothing outside of its piece looks any different.
"""

import json

import pytest
from playwright.sync_api import expect

from .conftest import send
from .test_jobs import publish

RUN = "window.ran=1"
FAR = "https://far.example"

#: Text, links and names of items, wherever a person can type them.
ITEMS = [
    {"type": "text", "text": f"<script>{RUN}</script>"},
    {"type": "text", "text": f"<img src=x onerror='{RUN}'>"},
    {"type": "text", "text": f"[a](javascript:{RUN})"},
    {"type": "text", "text": f"![a]({FAR}/x.png)"},
    {"type": "text", "text": f"[a](data:text/html,<script>{RUN}</script>)"},
    {"type": "text", "text": "</div></div></footer></body><main>"},
    {"type": "text", "text": "{page.title}{{7*7}}{% x %}${7}"},
    {"type": "text", "text": "<style>*{display:none}</style>"},
    {"type": "heading", "text": f"</h2><script>{RUN}</script>"},
    {"type": "heading", "text": "\u202eright to left\u2066"},
    {"type": "button", "text": "a", "href": f"javascript:{RUN}"},
    {"type": "button", "text": "a", "href": f"  JaVaScRiPt:{RUN}"},
    {"type": "button", "text": "a", "href": f"java\tscript:{RUN}"},
    {"type": "button", "text": "a", "href": "//far.example"},
    {"type": "button", "text": "a", "href": "/\\far.example"},
    {"type": "button", "text": f'"><script>{RUN}</script>', "href": '/"onclick="window.ran=1'},
    {"type": "notice", "text": f"<svg onload={RUN}>", "href": f"vbscript:{RUN}"},
    {"type": "links", "links": [{"text": "a", "href": f"data:text/html,{RUN}"}]},
    {"type": "links", "links": [{"text": f"<b onmouseover={RUN}>a", "href": "/"}]},
    {"type": "search", "action": f"{FAR}/steal"},
    {"type": "newsletter", "action": f"{FAR}/steal"},
    {"type": "image", "file": f"{FAR}/x.png", "alt": "a"},
    {"type": "image", "file": "../../secret.svg", "alt": f'"onerror="{RUN}'},
    {"type": "logo", "text": f"<script>{RUN}</script>", "href": f"javascript:{RUN}"},
    {"type": "social", "links": [{"text": "a", "href": f"javascript:{RUN}"}]},
    {"type": "newest", "query": "type:article' or 1=1 --"},
    {"type": "heading", "text": "a", "look": {"background": "red;position:fixed;inset:0"}},
    {"type": "heading", "text": "a", "look": {"ink": f"url({FAR})"}},
    {"type": "text", "text": "x" * 100_000},
    {"type": "iframe", "src": FAR},
]

_HTML = [
    f"<script>{RUN}</script>", f"<img src=x onerror={RUN}>", f"<svg onload={RUN}></svg>", f"<svg><script>{RUN}</script></svg>",
    f"<a href='javascript:{RUN}'>a</a>", f"<a href='&#106;avascript:{RUN}'>a</a>", f"<a href='java\nscript:{RUN}'>a</a>",
    f"<iframe srcdoc='<script>parent.{RUN}</script>'></iframe>", f"<iframe src='{FAR}'></iframe>", f"<object data='{FAR}'></object>",
    f"<embed src='{FAR}'>", f"<base href='{FAR}'>", f"<meta http-equiv=refresh content='0;url={FAR}'>", f"<link rel=stylesheet href='{FAR}/a.css'>",
    f"<form action='{FAR}'><button>a</button></form>", f"<button formaction='{FAR}'>a</button>", f"<img src='{FAR}/x.png'>", f"<img srcset='{FAR}/x.png 1x'>",
    f"<video src='{FAR}/x.mp4' autoplay onplay={RUN}></video>", f"<audio src='{FAR}/x.mp3' autoplay></audio>", f"<details open ontoggle={RUN}>a</details>",
    f"<div style='position:fixed;inset:0;background:url({FAR})'>a</div>", "<style>body{display:none}</style>", "<dialog open>a</dialog>",
    "<div popover=manual id=pop>a</div><button popovertarget=pop>a</button>", "</div></div></footer></body></html><main>a</main>", "<main>a</main><header>b</header><h1>c</h1>",
    "<div id=content>a</div>", "<template shadowrootmode=open><style>*{display:none}</style></template>", f"<math><mtext><img src=x onerror={RUN}></mtext></math>",
    "<noscript><p title='</noscript><img src=x onerror=window.ran=1>'>", f"<svg><use href='{FAR}/a.svg#b'></use></svg>", f"<svg><a href='javascript:{RUN}'><text y=20>a</text></a></svg>",
    f"<svg><animate attributeName=href values='javascript:{RUN}'></animate></svg>", f"<input autofocus onfocus={RUN}>", f"<marquee onstart={RUN}>a</marquee>",
    "<!--><script>window.ran=1</script>-->", f"<a href='{FAR}' ping='{FAR}/ping'>a</a>", "<div class='skip grid slot slot-header panel folds' role=banner>a</div>",
    "{{ '<script>window.ran=1</script>' }}", "{% assign x = '<img src=x onerror=window.ran=1>' %}{{ x }}", "<p title=\"{{ page.title }}\" {{ 'onclick=window.ran=1' }}>a</p>",
]  # fmt: skip

_CSS = [
    "body{display:none}", "*{position:fixed;inset:0;z-index:99999;background:red}", ":root{--paper:red!important;--ink:red!important}", ":scope{position:fixed;inset:0;z-index:9999}",
    ".a{position:fixed;inset:-1000px;background:red}", ".a{margin:-5000px;width:20000px;height:3000px;position:absolute;background:red}", ".a{transform:scale(100)}", "html,header{visibility:hidden}",
    f".a{{background:url({FAR}/x.png)}}", f"@import '{FAR}/a.css';", f"@font-face{{font-family:x;src:url({FAR})}}", ".a{} } body{display:none}", ".a{content:'</style><script>window.ran=1</script>'}",
    "@property --paper{syntax:'*';inherits:false}", "@keyframes a{from{opacity:0}}", "@media all{body{display:none}}", ":scope~*,:scope+*{display:none}", "header :is(*){display:none}",
    ":has(.a){display:none}", f".a{{background:image-set('{FAR}/x.png' 1x)}}", ".a{outline:9999px solid red;box-shadow:0 0 0 9999px red}", ".a{filter:drop-shadow(900px 0 red)}",
    "a\\7d body{display:none}", "@layer a{body{display:none}}",
]  # fmt: skip

_LIQUID = [
    "{% for i in (1..100000000) %}x{% endfor %}", "{% for a in (1..999) %}{% for b in (1..999) %}x{% endfor %}{% endfor %}", "{% include 'settings.py' %}", "{{ page.__class__ }}{{ site.__init__.__globals__ }}",
    "{% assign s = 'a' %}{% for i in (1..99) %}{% assign s = s | append: s %}{% endfor %}", "{{ 'type:article' | pages: 99999 }}", "{% if %}", "{{ x" + "[0]" * 3000 + "}}", "x" * 10_000_000,
]  # fmt: skip

MARKUPS = [
    *({"type": "markup", "code": code} for code in _HTML),
    *({"type": "markup", "code": "<div class='a'>styled</div>", "css": css} for css in _CSS),
    *({"type": "markup", "code": code} for code in _LIQUID),
]

_SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20">{}</svg>'
PICTURES = [
    _SVG.format("<script>window.ran=1</script>"), _SVG.format('<path onload="window.ran=1" d="M0 0"/>'), _SVG.format(f'<image href="{FAR}/x.png"/>'),
    _SVG.format(f"<style>@import '{FAR}';</style>"), _SVG.format('<foreignObject><iframe xmlns="http://www.w3.org/1999/xhtml" src="javascript:parent.ran=1"/></foreignObject>'),
    '<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>' + _SVG.format("&b;"), "<html><script>window.ran=1</script></html>", "GIF89a<script>window.ran=1</script>",
    _SVG.format('<a href="javascript:window.ran=1"><path d="M0 0h9v9z"/></a>'), "\x89PNG\r\n\x1a\n" + "0" * 100, "x" * 10_000_000,
]  # fmt: skip


def save(page, slug, items):
    """Save items as the content of a widget."""
    piece = page.evaluate(f"fetch('/api/sites/marrowick/pieces/{slug}').then((one) => one.json())")
    tree = {key: piece[key] for key in ("name", "kind", "note") if key in piece}
    return send(page, "PUT", f"/api/sites/marrowick/pieces/{slug}", json.dumps({**tree, "content": {"items": items}}))


def taken(page, contents):
    """Those of some items that can be drawn, and so be saved; what was refused says what and where."""
    kept = []
    for item in contents:
        body = json.dumps(
            {"piece": {"kind": "widget", "name": "Hostile", "content": {"items": [item]}}, "path": "/about"}
        )
        status, text = send(page, "POST", "/api/sites/marrowick/picture", body)
        if status == 200:
            kept.append(item)
            continue
        told = json.loads(text)
        assert status in (400, 413, 422), (status, text[:300])
        assert told["title"] and len(text) < 20_000
        if status == 422:
            assert all(one["pointer"] and one["message"] for one in told["problems"]), text[:300]
    return kept


@pytest.fixture
def watched(page, public):
    """A window on the published site, and what it tried that it must not."""
    window = public("/about")
    tried = []
    window.on("dialog", lambda dialog: (tried.append(f"dialog {dialog.message}"), dialog.dismiss()))
    window.on("request", lambda asked: "far.example" in asked.url and tried.append(asked.url))
    return window, tried


def around(window):
    """How the parts of the page outside of the notice look: where they stand, and what is on top of them."""
    return window.evaluate("""() => ['header', 'main', 'footer', '.slot-title', '.slot-header .menu'].map((one) => {
      const found = document.querySelector(one);
      const box = found.getBoundingClientRect();
      window.scrollTo(0, 0);
      const at = found.getBoundingClientRect();
      const top = document.elementFromPoint(Math.min(at.x + at.width / 2, 1270), Math.min(at.y + 12, 790));
      const style = getComputedStyle(found);
      return [one, Math.round(box.width), at.height > 0, style.display, style.visibility, style.color,
              getComputedStyle(document.documentElement).backgroundColor, !!top && !top.closest('.markup')];
    })""")


def stretches(items, most):
    return [items[at : at + most] for at in range(0, len(items), most)]


@pytest.mark.parametrize("contents", [ITEMS, MARKUPS], ids=["items", "markup"])
def test_hostile_contents_never_run_reach_out_or_leave_their_piece(page, public, watched, contents):
    window, tried = watched
    before = around(window)
    kept = taken(page, contents)
    assert len(contents) - len(kept) >= 8, "some have to be refused"
    for stretch in stretches(kept, 40):
        status, text = save(page, "winter-notice", stretch)
        assert status == 200, text[:300]
        publish(page)
        public("/about")
        assert window.evaluate("window.ran") is None
        for element in window.locator(".slot-above-footer a, .slot-above-footer button").all():
            element.dispatch_event("mouseover")
            element.dispatch_event("focus")
        assert window.evaluate("window.ran") is None
        assert around(window) == before
        assert window.locator("main, [role=main]").count() == 1
        assert (
            window.locator(
                "script, iframe, object, embed, base, dialog, link:not([rel=stylesheet], [rel=canonical])"
            ).count()
            == 0
        )
        page.goto("/marrowick/pieces/winter-notice")
        expect(page.locator("iframe[title='Winter notice, Phone']")).to_be_attached()
        page.wait_for_load_state("networkidle")
        assert page.evaluate("window.ran") is None
    assert tried == []


def test_hostile_pictures_are_refused_or_harmless(page, public, watched):
    window, tried = watched
    for data in PICTURES:
        status, text = send(page, "POST", "/api/sites/marrowick/files", data)
        assert status in (201, 413, 422), text[:300]
        if status != 201:
            assert json.loads(text)["title"]
            continue
        window.goto(f"{page.evaluate('location.origin')}{json.loads(text)['address']}")
        assert window.evaluate("window.ran") is None
        assert window.locator("script, style, image, foreignObject").count() == 0
    assert tried == []


def test_there_are_at_least_eighty_of_them():
    assert len(ITEMS) + len(MARKUPS) + len(PICTURES) >= 110
