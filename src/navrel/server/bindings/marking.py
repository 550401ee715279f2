"""Marks of where a reader is, as pieces that were found say them: in Liquid, by the page that they are drawn on.

A navigation shows the link to the page itself, or to the section around it, otherwise than the others. On which pages
it does is known from all of them; the fewest words that come to just these pages say so in the piece.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence, Set
from html import escape

from navrel.core.pages.tree import PageTree
from navrel.server.inventory.addresses import address_of
from navrel.server.inventory.blocks import VALUE, Mark, place_of

#: Most pages that are named where a mark stands.
MOST_NAMED = 60
#: What ends a text in Liquid, or Liquid itself, or a class.
_UNSAID = re.compile(r'["{}\s]')
_TRAIL = '{% assign trail = page.above | map: "path" %}'
_LIQUID = re.compile(r"\{\{|\{%")


def marked_markup(
    markup: str,
    links: Sequence[Sequence[str]],
    marked: Mapping[Mark, Set[str]],
    pages: Set[str],
    tree: PageTree,
) -> tuple[str, int]:
    """Markup as the code of a piece for some pages, with what marks where a reader is; and how many marks it lacks.

    ``marked``: for each mark the paths on which it stands, in the order of their places in the markup; ``links``:
    what is led to from each. A mark whose pages cannot be said in a few words is left out.
    """
    # Liquid has no meaning in markup that was found.
    code = _LIQUID.sub(lambda found: f"{{% raw %}}{found[0]}{{% endraw %}}", markup)
    by_trail, lacking = False, 0
    for at, ((mark, shown), led) in enumerate(zip(marked.items(), links, strict=True)):
        meant = (tree.meant(address) for link in led if (address := address_of(link)))
        targets = dict.fromkeys(page.path for page in meant if page is not None)
        unsaid = _LIQUID if mark.name == VALUE else _UNSAID
        asked = None if unsaid.search(mark.value) else _asked(shown, pages, list(targets), tree)
        lacking += asked is None
        by_trail = by_trail or "trail contains " in (asked or "")
        code = _put(code, at, mark, asked)
    return f"{_TRAIL}{code}" if by_trail else code, lacking


def _put(code: str, at: int, mark: Mark, asked: str | None) -> str:
    """Code with a mark in its place where something holds: always where that is empty, never where it is None."""
    name = place_of(at)

    def said(text: str) -> str:
        if asked is None:
            return ""
        return f"{{% if {asked} %}}{text}{{% endif %}}" if asked else text

    value = escape(mark.value)
    code = code.replace(f' data-{name}=""', said(f' {mark.name}="{value}"'), 1)
    return re.sub(rf' {name}(?=[" ])', lambda _: said(f" {value}"), code, count=1)


def _asked(shown: Set[str], pages: Set[str], targets: Sequence[str], tree: PageTree) -> str | None:
    """What holds on just those pages of several on which a mark is shown, in Liquid; None where it takes too much."""
    if shown == pages:
        return ""
    if any(map(_UNSAID.search, targets)):
        targets = ()
    if targets and shown == pages & set(targets):
        return _one_of([path for path in targets if path in shown])
    if targets and len(targets) <= MOST_NAMED and shown == {path for path in pages if _is_below(path, targets, tree)}:
        each = (f'page.path == "{path}" or trail contains "{path}"' for path in targets)
        return " or ".join(each)
    if len(shown) <= MOST_NAMED and not any(map(_UNSAID.search, shown)):
        return _one_of(sorted(shown))
    return None


def _is_below(path: str, targets: Sequence[str], tree: PageTree) -> bool:
    page = tree.page(path)
    return page is not None and any(one in targets for one in (path, *tree.ancestor_paths(page)))


def _one_of(paths: Sequence[str]) -> str:
    return " or ".join(f'page.path == "{path}"' for path in paths)
