"""A blog with linked data, Open Graph and landmarks; its posts end otherwise than its other pages."""

import json

POSTS = (
    ("a-bench-with-a-view", "A bench with a view", "Imre Holt", "2026-03-14", "walking"),
    ("terns-are-back", "Terns are back", "Tove Marr", "2026-04-02", "birds"),
    ("soup-on-the-night-boat", "Soup on the night boat", "Imre Holt", "2026-04-19", "food"),
    ("the-last-paper-ticket", "The last paper ticket", "Tove Marr", "2026-05-01", "history"),
    ("how-buoys-are-painted", "How buoys are painted", "Imre Holt", "2026-05-20", "history"),
    ("a-day-with-the-pilot", "A day with the pilot", "Tove Marr", "2026-06-03", "work"),
)
BINDINGS = (("header", "body > header"), ("below-header", "body > nav"), ("footer", "body > footer"))
FACTS = {
    "/": {"title": "Marrowick journal", "kind": "home", "language": "en-GB"},
    "/about": {"title": "Who writes here", "kind": "single", "language": "en-GB"},
    "/posts": {"title": "All posts", "kind": "listing", "language": "en-GB"},
    "/404": {"title": "Nothing here", "kind": "missing", "language": "en-GB"},
    **{
        f"/posts/{slug}": {
            "title": title, "kind": "single", "type": "article", "language": "en-GB",
            "author": author.lower().replace(" ", "-"), "published": day, "terms": [f"topic/{topic}"],
        }
        for slug, title, author, day, topic in POSTS
    },
}  # fmt: skip
RECIPE = [
    {"fact": "author", "places": [{"at": "element", "of": "article > p", "take": r"^By (.+)\.$"}]},
    {"fact": "published", "places": [{"at": "data", "of": "datePublished"}]},
    {"fact": "title", "places": [{"at": "title", "take": r"^(.+) \| [^|]+$"}]},
    {"fact": "terms/topic", "places": [{"at": "data", "of": "keywords"}]},
]
TOLD = {"/posts/terns-are-back": {"author": "tove-marr", "published": "2026-04-02"}}
FINDS = {"header": ([10], 0), "below-header": ([10], 0), "footer": ([6, 4], 0)}


def files() -> dict[str, bytes]:
    """The files of the site, by name."""
    found: dict[str, str | bytes] = {
        "index.html": _page("", "Marrowick journal", "<p>Notes from the quay.</p>", {"@type": "Blog"}),
        "about.html": _page("about", "Who writes here", "<p>Imre and Tove, mostly.</p>", {"@type": "AboutPage"}),
        "posts/index.html": _page("posts/", "All posts", _listed(), {"@type": "CollectionPage"}),
        "404.html": _page("404", "Nothing here", "<p>This page has sailed.</p>", {"@type": "WebPage"}),
        "theme/site.css": b"body{font-family:serif}header{background:#0f5c7a;color:#fff}",
        "img/tern.png": b"\x89PNG\r\n\x1a\n",
    }
    for slug, title, author, day, topic in POSTS:
        thing = {
            "@context": "https://schema.org", "@type": "BlogPosting", "headline": title, "datePublished": day,
            "author": {"@type": "Person", "name": author}, "keywords": topic,
        }  # fmt: skip
        text = f'<p>By {author}.</p><p><img src="/img/tern.png" alt=""> {title}, told at length and with care.</p>'
        found[f"posts/{slug}/index.html"] = _page(f"posts/{slug}/", title, text, thing)
    return {name: page if isinstance(page, bytes) else page.encode() for name, page in found.items()}


def _listed() -> str:
    return "<ul>" + "".join(f'<li><a href="/posts/{post[0]}/">{post[1]}</a></li>' for post in POSTS) + "</ul>"


def _page(address: str, title: str, text: str, thing: dict) -> str:
    is_post = thing["@type"] == "BlogPosting"
    topic = f'<meta property="article:tag" content="{thing["keywords"]}">' if is_post else ""
    here = ' class="active" aria-current="page"'
    menu = "".join(
        f'<li><a href="/{place}"{here if place == address else ""}>{name}</a></li>'
        for place, name in (("", "Journal"), ("posts/", "All posts"), ("about", "Who"))
    )
    more = '<section class="signup"><h2>Post by boat</h2><p>One letter a month.</p></section>' if is_post else ""
    return f"""<!doctype html>
<html lang=en-GB>
<head>
<meta charset=utf-8>
<title>{title} | Marrowick journal</title>
<link rel=canonical href="https://journal.marrowick.example/{address}">
<meta property="og:type" content="{"article" if is_post else "website"}">
<meta property="og:title" content="{title}">{topic}
<link rel=stylesheet href=/theme/site.css>
<script type="application/ld+json">{json.dumps(thing)}</script>
</head>
<body>
<header class=top><a href="/">Marrowick <b>journal</b></a></header>
<nav aria-label=Main><ul>{menu}</ul></nav>
<main><article><h1>{title}</h1>{text}</article></main>
<footer>{more}<p>&copy; Marrowick Ferries &middot; <a href="/about">Who writes here</a></p></footer>
</body>
</html>
"""
