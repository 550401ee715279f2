"""A site of 1999: tables, upper-case tags, ends left out, Latin-1, no languages, and a set of frames at its door."""

PAGES = (
    ("home.htm", "Welcome aboard"),
    ("fahren.htm", "Fähren & Preise"),
    ("havner.htm", "Havner på øyene"),
    ("crew.htm", "The crew"),
    ("old/news97.htm", "News of 1997"),
    ("old/news98.htm", "News of 1998"),
    ("old/news99.htm", "News of 1999"),
)
BINDINGS = (("header", "#top"), ("aside-start", "td.left"), ("footer", "p.foot"))
FACTS = {f"/{name.removesuffix('.htm')}": {"title": title, "kind": "single"} for name, title in PAGES}
FINDS = {"header": ([7], 0), "aside-start": ([4, 3], 0), "footer": ([7], 0)}
#: What nothing but the text says: `Set down 12.3.1997 by Sigrun Vale`.
RECIPE = [
    {"fact": "published", "places": [{"at": "element", "of": "td.main-content > i", "take": r"^Set down (\S+) by", "form": "%d.%m.%Y"}]},
    {"fact": "author", "places": [{"at": "element", "of": "td.main-content > i", "take": "by (.+)$"}]},
    {"fact": "type", "places": [{"at": "file", "take": "^old/(news)"}, {"at": "fixed", "of": "page"}]},
]  # fmt: skip
TOLD = {
    **{f"/old/news{year}": {"published": f"19{year}-03-12", "author": "sigrun-vale", "type": "news"} for year in (97, 98, 99)},
    "/fahren": {"published": None, "author": "", "type": "page"},
}  # fmt: skip


def files() -> dict[str, bytes]:
    """The files of the site, by name; the door is made of frames, and its parts are pages of their own."""
    frames = (
        b'<HTML><HEAD><TITLE>Marrowick</TITLE></HEAD><FRAMESET COLS="20%,*"><FRAME SRC="home.htm"></FRAMESET></HTML>'
    )
    found = {"index.htm": frames, "pics/boat.gif": b"GIF89a"}
    for name, title in PAGES:
        found[name] = _page(name, title).encode("latin-1")
    return found


def _page(name: str, title: str) -> str:
    up = "../" * name.count("/")
    shown = PAGES[4:] if "/" in name else PAGES[:4]
    links = "\n".join(f'<LI><A HREF="{up}{one}">{told.replace("&", "&amp;")}</A>' for one, told in shown)
    told = title.replace("&", "&amp;")
    written = f"<I>Set down 12.3.19{name[-6:-4]} by Sigrun Vale</I>" if "/" in name else ""
    return f"""<HTML>
<HEAD><TITLE>{told}</TITLE>
<META HTTP-EQUIV="Content-Type" CONTENT="text/html; charset=iso-8859-1">
</HEAD>
<BODY BGCOLOR=#FFFFFF TEXT=#000066>
<!-- built {name} -->
<TABLE ID=top WIDTH=100% BORDER=0><TR><TD><IMG SRC="{up}pics/boat.gif" ALT="Fähre"><TD><FONT SIZE=+3>Marrowick
Ferries</FONT></TABLE>
<TABLE WIDTH=100% CELLPADDING=4><TR>
<TD CLASS=left WIDTH=140 VALIGN=TOP>
<UL>
{links}
</UL>
<TD CLASS=main-content VALIGN=TOP>
<H1>{told}</H1>{written}
<P>Alle Fähren fahren <B>täglich</B>; på søndag etter ruteplan.
<P>Call us, or <A HREF="{up}crew.htm">meet the crew</A>.
</TABLE>
<P CLASS=foot>Last seen with Navigator. <A HREF="{up}home.htm">Home</A>
</BODY></HTML>
"""
