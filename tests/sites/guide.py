"""A handbook as a documentation generator builds it: relative `.html` links, sidebars, permalinks, links to neighbours."""

PAGES = (
    ("index", "The deck handbook"),
    ("glossary", "Words used on board"),
    ("search", "Search the handbook"),
    ("safety/index", "Safety"),
    ("safety/boats", "Boats and rafts"),
    ("safety/drills", "Drills"),
    ("safety/fire", "Fire on the car deck"),
    ("mooring/index", "Mooring"),
    ("mooring/lines", "Lines and springs"),
    ("mooring/tides", "Mooring on a falling tide"),
    ("mooring/winter", "Ice on the lines"),
)
BINDINGS = (
    ("header", "div.masthead"),
    ("below-header", "div.related"),
    ("aside-end", "div.docsidebar"),
    ("footer", "div.foot"),
)
FACTS = {
    "/": {"title": "The deck handbook", "kind": "home", "language": "en"},
    "/glossary": {"title": "Words used on board", "kind": "single", "language": "en"},
    "/search": {"title": "Search the handbook", "kind": "search", "language": "en"},
    **{
        f"/{name.removesuffix('/index')}": {"title": title, "kind": "single", "language": "en"}
        for name, title in PAGES[3:]
    },
}
#: The order in which its pages are to be read: each says which is the next.
ORDER = [
    "/",
    "/glossary",
    "/search",
    *(path for path in FACTS if path.count("/") > 1 or path in ("/safety", "/mooring")),
]
RECIPE = [
    {"fact": "fields/edition", "places": [{"at": "title", "take": r"Deck handbook (\S+)$"}]},
    {"fact": "type", "places": [{"at": "file", "take": "^([a-z]+)/"}, {"at": "fixed", "of": "front"}]},
    {"fact": "parent", "places": [{"at": "trail", "of": ".related"}]},
]
TOLD = {
    "/safety/fire": {"fields": {"edition": "4.2"}, "type": "safety", "parent": "/"},
    "/glossary": {"fields": {"edition": "4.2"}, "type": "front", "parent": None},
}
#: The sidebar of a section lists its pages; the start and the other pages have that of the whole.
FINDS = {"header": ([11], 0), "below-header": ([], 11), "aside-end": ([4, 4, 3], 0), "footer": ([11], 0)}


def files() -> dict[str, bytes]:
    """The files of the site, by name."""
    found = {"_static/guide.css": b".masthead{background:url(../_static/wave.svg)}", "_static/wave.svg": b"<svg/>"}
    for number, (name, title) in enumerate(PAGES):
        found[f"{name}.html"] = _page(number, name, title).encode()
    return found


def _page(number: int, name: str, title: str) -> str:
    up = "../" * name.count("/")
    section = name.split("/")[0] if "/" in name else ""
    before = PAGES[number - 1] if number else None
    after = PAGES[number + 1] if number + 1 < len(PAGES) else None
    listed = [one for one in PAGES if (one[0].startswith(f"{section}/") if section else "/" not in one[0])]
    links = "\n".join(
        f'<li class="toctree-l1{" current" if one == name else ""}"><a class="reference'
        f'{" current" if one == name else ""}" href="{up}{one}.html">{told}</a></li>'
        for one, told in listed
    )
    rel = "".join(
        f'<link rel="{what}" title="{one[1]}" href="{up}{one[0]}.html" />\n'
        for what, one in (("next", after), ("prev", before))
        if one
    )
    crumbs = f"<li><a href='{up}index.html'>Deck handbook</a> &#187;</li>"
    kind = ' data-kind="search"' if name == "search" else ""
    ld = '<script type="application/ld+json">{"@type": "SearchResultsPage"}</script>' if name == "search" else ""
    return f"""<!DOCTYPE html>
<html lang="en">
  <head>
    <meta charset="utf-8" />
    <title>{title} &#8212; Deck handbook 4.2</title>
    <link rel="stylesheet" type="text/css" href="{up}_static/guide.css" />
    <script data-url_root="./" src="{up}_static/options.js"></script>
    {rel}{ld}
  </head><body{kind}>
    <div class="masthead"><a class="brand" href="{up}index.html">Marrowick deck handbook</a>
      <a href="{up}glossary.html">Words</a> <a href="{up}search.html">Search</a></div>
    <div class="related" role="navigation" aria-label="related navigation">
      <h3>Navigation</h3><ul>{crumbs}<li class="this">{title}</li></ul>
    </div>
    <div class="document"><div class="documentwrapper"><div class="bodywrapper">
      <div class="body" role="main">
        <section id="{name.replace("/", "-")}">
<h1>{title}<a class="headerlink" href="#{name.replace("/", "-")}" title="Permalink to this heading">¶</a></h1>
<p>What every deckhand knows about {title.lower()}, and what to do when the <em>wind</em> turns.</p>
<h2 id="more">More<a class="headerlink" href="#more">¶</a></h2>
<p>See <a class="reference internal" href="{up}mooring/tides.html#more">the tides</a> and
<a href="{up}safety/index.html">safety</a>.</p>
        </section>
      </div>
    </div></div>
    <div class="docsidebar" role="navigation" aria-label="main navigation">
      <p class="caption">Contents</p><ul>
{links}
      </ul>
    </div></div>
    <div class="clearer"></div>
    <div class="foot">&copy; Marrowick Ferries. <a href="{up}glossary.html">Words used</a>.</div>
  </body>
</html>
"""
