"""A shop in three languages, each in a folder: products by microdata, a header for each language, no landmarks."""

from zlib import crc32

WORDS = {
    "en": ("Harbour shop", "Basket", "Oilskins", "Knitted cap", "Tide table", "Enamel mug"),
    "nb": ("Havnebutikken", "Kurv", "Oljeklær", "Strikkelue", "Tidevannstabell", "Emaljekrus"),
    "de": ("Hafenladen", "Korb", "Ölzeug", "Strickmütze", "Gezeitentafel", "Emailbecher"),
}
SLUGS = ("oilskins", "cap", "tide-table", "mug")
BINDINGS = (("header", "#shop-header"), ("aside-end", "div.basket-aside"), ("footer", "#shop-footer"))
FACTS = {
    path: facts
    for language, words in WORDS.items()
    for path, facts in (
        (f"/{language}", {"title": words[0], "kind": "single", "language": language}),
        (f"/{language}/basket", {"title": words[1], "kind": "single", "language": language}),
        *(
            (f"/{language}/{slug}", {"title": name, "kind": "single", "type": "product", "language": language})
            for slug, name in zip(SLUGS, words[2:], strict=True)
        ),
    )
}
RECIPE = [
    {"fact": "type", "places": [{"at": "standards"}, {"at": "file", "take": r"/(basket)\."}]},
    {"fact": "fields/price", "places": [{"at": "element", "of": "[itemprop=price]", "attribute": "content"}]},
    {"fact": "terms/market", "places": [{"at": "path", "of": "1", "values": {"nb": "North", "de": "South", "en": "Isles"}}]},
]  # fmt: skip
TOLD = {
    "/nb/basket": {"type": "basket", "fields": {}, "terms": ["market/north"]},
    "/de/mug": {"type": "product", "fields": {"price": "24"}, "terms": ["market/south"]},
    "/en": {"type": "", "fields": {}, "terms": ["market/isles"]},
}
FINDS = {"header": ([6, 6, 6], 0), "aside-end": ([5, 5, 5], 0), "footer": ([18], 0)}


def files() -> dict[str, bytes]:
    """The files of the site, by name."""
    found: dict[str, bytes] = {"assets/shop.css": b"#shop-header{display:flex}", "assets/mug.png": b"\x89PNG\r\n\x1a\n"}
    for language, words in WORDS.items():
        found[f"{language}/index.html"] = _page(language, "", words[0])
        found[f"{language}/basket.html"] = _page(language, "basket", words[1])
        for slug, name in zip(SLUGS, words[2:], strict=True):
            found[f"{language}/{slug}.html"] = _page(language, slug, name)
    return found


def _page(language: str, slug: str, name: str) -> bytes:
    words = WORDS[language]
    is_product = slug in SLUGS
    item = ' itemscope itemtype="https://schema.org/Product"' if is_product else ""
    price = '<span itemprop="price" content="24">24</span>' if is_product else ""
    aside = "" if slug == "basket" else f'<div class="basket-aside"><a href="basket.html">{words[1]}</a></div>'
    menu = "".join(
        f'<a class="{"nav-item current" if one == slug else "nav-item"}" href="{one}.html">{told}</a>'
        for one, told in zip(SLUGS, words[2:], strict=True)
    )
    others = "".join(f'<a hreflang="{one}" href="/{one}/">{one}</a>' for one in WORDS)
    return f"""<!DOCTYPE html>
<html>
<head>
<meta charset="utf-8">
<title>{name} - {words[0]}</title>
<link rel="stylesheet" href="/assets/shop.css?v=12">
<meta name="csrf-token" content="{crc32(f"{language} {slug}".encode()):x}">
</head>
<body class="page">
<div id="shop-header"><a class="logo" href="/{language}/">{words[0]}</a><div class="menu">{menu}</div>
<form action="/{language}/basket.html"><input type="hidden" name="t" value="{slug}x"><input name="q"></form>{others}</div>
<div class="wrap">
<div id="content"{item}><h1 itemprop="name">{name}</h1>
<p>{name}: {price} <img src="/assets/mug.png" alt=""></p><script>basket.load()</script></div>
{aside}
</div>
<div id="shop-footer"><p>Marrowick Ferries · <a href="/en/">en</a> <a href="/nb/">nb</a> <a href="/de/">de</a></p></div>
</body>
</html>
""".encode()
