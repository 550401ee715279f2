"""A site of one folder a page: addresses with a slash at their end, redirect pages, canonical links, a base element."""

PAGES = (
    ("", "Marrowick Ferries"),
    ("routes", "Routes"),
    ("routes/north-isle", "North isle"),
    ("routes/outer-ring", "Outer ring"),
    ("harbours", "Harbours"),
    ("harbours/hestan", "Hestan"),
    ("harbours/seal-bay", "Seal bay"),
    ("legal/imprint", "Imprint"),
)
MOVED = {"linjer": "/routes/", "old/hestan": "../../harbours/hestan/"}
BINDINGS = (
    ("header", '[role="banner"]'),
    ("before-content", "ol.breadcrumb"),
    ("footer", '[role="contentinfo"]'),
)
FACTS = {
    "/": {"title": "Marrowick Ferries", "kind": "home", "language": "en"},
    **{f"/{path}": {"title": title, "kind": "single", "language": "en"} for path, title in PAGES[1:]},
}
RECIPE = [
    {"fact": "type", "places": [{"at": "file", "take": "^([a-z]+)/(?!index)", "values": {"routes": "route", "harbours": "harbour"}}]},
    {"fact": "terms/season", "places": [{"at": "element", "of": "details summary", "take": "In (.+)"}]},
    {"fact": "parent", "places": [{"at": "element", "of": "[role=main] p a:last-child"}]},
]  # fmt: skip
TOLD = {
    "/harbours/hestan": {"type": "harbour", "terms": ["season/winter"], "parent": "/routes/north-isle"},
    "/routes/outer-ring": {"type": "route", "terms": ["season/winter"], "parent": "/routes/north-isle"},
    "/legal/imprint": {"type": "legal", "parent": "/routes/north-isle"},
}
FINDS = {"header": ([8], 0), "before-content": ([], 7), "footer": ([5, 3], 0)}


def files() -> dict[str, bytes]:
    """The files of the site, by name."""
    found = {
        "app.css": b"body{margin:0}",
        "app.js": b"start()",
        "favicon.ico": b"\0\0\1\0",
        "robots.txt": b"User-agent: *",
    }
    for path, title in PAGES:
        found[f"{path}/index.html".lstrip("/")] = _page(path, title).encode()
    for path, target in MOVED.items():
        found[f"{path}/index.html"] = (
            f'<!doctype html><html><head><meta http-equiv="refresh" content="0; url={target}"><title>Moved</title></head>'
            f'<body><a href="{target}">Here</a></body></html>'
        ).encode()
    return found


def _page(path: str, title: str) -> str:
    parts = path.split("/") if path else []
    crumbs = "".join(
        f'<li><a href="{"/".join(parts[:number])}{"/" if number else "./"}">{parts[number - 1] if number else "start"}</a></li>'
        for number in range(len(parts) + 1)
    )
    trail = f'<ol class="breadcrumb">{crumbs}</ol>' if path else ""
    hours = "<p>The desk at the quay is open until ten.</p>" if path.startswith("harbours") else ""
    return f"""<!doctype html>
<html lang="en"><head><meta charset="utf-8"><base href="/">
<title>{title} · Marrowick Ferries</title>
<link rel="canonical" href="https://marrowick.example/{path}{"/" if path else ""}">
<link rel="stylesheet" href="app.css"><script src="app.js" defer></script></head>
<body><div id="root">
<div role="banner"><a href="./">Marrowick</a> <a href="routes/">Routes</a> <a href="harbours/">Harbours</a></div>
{trail}<div role="main"><h1>{title}</h1><p>Boats, times and fares for {title}.</p>
<details open><summary>In winter</summary><p><a href="legal/imprint/">Ask us</a> or go by
<a href="routes/north-isle/index.html">the north isle</a>.</p></details></div>
<div role="contentinfo">{hours}<a href="legal/imprint/">Imprint</a></div>
</div></body></html>
"""
