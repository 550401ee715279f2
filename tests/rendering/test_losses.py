"""What HTML of a page's own loses as markup: only what runs or reaches out, and that is counted."""

import pytest

from navrel.rendering.markup.html import clean_markup
from navrel.rendering.markup.losses import lost_in

KEPT = [
    '<div class="" id="side"><p class="a">Ferries</p></div>',
    '<header id="top" style="color: red" role="banner" data-x="1" accesskey="t" tabindex="-1">Ferries</header>',
    '<table width="100%" cellpadding="2" summary="Links" bgcolor="#eef"><tr valign="top"><td nowrap align="left">N</table>',
    '<font color="navy" face="serif" size="2"><a name="top" target="_top" href="/">Top</a></font><hr noshade>',
    '<img src="/boats.gif" usemap="#boats" border="0" alt=""><map name="boats"><area shape="rect" coords="0,0,1,1" href="/"></map>',
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1 1"><path fill-rule="evenodd" d="M0 0"/><use xlink:href="#a"/></svg>',
    '<form action="/search" role="search"><input type="search" name="q" spellcheck="false" disabled><button disabled>Go</button></form>',
    '<ol itemscope itemtype="https://schema.org/BreadcrumbList"><li itemprop="itemListElement"><meta itemprop="position" content="1"></ol>',
    '<select multiple><optgroup label="Routes"><option selected>Hestan</option></optgroup></select>',
    '<header site-bar _ngcontent-abc=""><data class="u-url" href="/" value="1">Ferries</data></header><dialog id="find">Find</dialog>',
    '<sticky-bar side="start" class="bar" data-at="1"><site-search label="Search the boats" to="/search"><input></site-search></sticky-bar>',
    '<picture><source srcset="/a.webp" media="(min-width: 1px)" type="image/webp"><img src="/a.png" alt="A"></picture>',
]  # fmt: skip


@pytest.mark.parametrize("markup", KEPT, ids=range(len(KEPT)))
def test_what_shows_and_leads_stays(markup):
    assert not lost_in(markup, in_place=True)


@pytest.mark.parametrize(
    ("markup", "lost"),
    [
        ("<div>Boats<script>run()</script><script src='/x.js'></script></div>", {"script": 2}),
        ('<a onclick="run()" href="javascript:run()">Boats</a>', {"a[onclick]": 1, "a[href]": 1}),
        ('<img src="https://elsewhere.example/x.png" alt="">', {"img[src]": 1}),
        ('<svg><use href="//elsewhere.example/x.svg#a"></use></svg>', {"use[href]": 1}),
        ('<form action="https://elsewhere.example/"><input formaction="/x"></form>', {"form[action]": 1, "input[formaction]": 1}),
        ('<iframe src="/x" srcdoc="x"></iframe><object data="/x"></object>', {"iframe": 1, "object": 1}),
        ('<meta http-equiv="refresh" content="0;/x"><link rel="stylesheet" href="/x.css">', {"meta[http-equiv]": 1, "link[rel]": 1}),
        ("<td>Boats</td>", {"td": 1}),
        # Of what a site made up: code, what is fetched from elsewhere, and values on what is not made up.
        ('<div x-data="run()" ng-app="" v-cloak hx-get="/x" site-bar="run()" @click="run()" href="/x">Boats</div>',
         {f"div[{name}]": 1 for name in ("x-data", "ng-app", "v-cloak", "hx-get", "site-bar", "@click", "href")}),
        ('<site-search src="//elsewhere.example/x" onclick="run()" html="<b>" at="{run()}" is="x-y" srcdoc="x"></site-search>',
         {f"site-search[{name}]": 1 for name in ("src", "onclick", "html", "at", "is", "srcdoc")}),
        ('<button formaction="/x" is="x-y">Go</button><font-face></font-face><svg><a-b onload="run()"></a-b></svg>',
         {"button[formaction]": 1, "button[is]": 1, "font-face": 1, "a-b": 1}),
        ('<video src="https://elsewhere.example/x.mp4" poster="/x.png"></video>', {"video[src]": 1}),
        ('<table background="//elsewhere.example/x.png"><tr><td>N</table>', {"table[background]": 1}),
    ],
)  # fmt: skip
def test_what_runs_or_reaches_out_is_lost_and_told(markup, lost):
    assert lost_in(markup, in_place=True) == lost
    assert "elsewhere" not in clean_markup(markup, in_place=True)
