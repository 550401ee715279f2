"""Proposals of bindings: which parts of the pages of a site may be those of its slots.

Told by landmarks (HTML Standard, WAI-ARIA), by what parts are called, and by standing on many pages.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from navrel.core.layout.binding import Binding
from navrel.core.layout.model import SLOTS
from navrel.core.pages.tree import PageTree
from navrel.server.inventory.blocks import GENERIC, Block
from navrel.server.inventory.called import kind_called
from navrel.server.inventory.decoding import Unreadable
from navrel.server.inventory.models import Original, Site
from navrel.server.inventory.originals import bytes_of, look_for
from navrel.server.inventory.reader import Reader, read_beside

from .services import Fit, fits, sample

#: Proposals for one slot, and the share of the pages on which a part has to stand.
MOST_FOR_SLOT = 3
LEAST_SHARE = 0.15
_FEWEST = 3
_REPEATED = "The same stands there on many pages"
_LED = "The same links stand there on many pages"
#: Links of a navigation at least, and those of one that stands beside a page rather than across it.
_FEWEST_LINKS, _LINKS_BESIDE = 4, 12
#: What a part tells that is called so and another one on most pages, and one that is but for something steady in it.
_OF_EACH_PAGE, _GIVING_WAY = 0.75, 0.5
#: What a part of a sidebar tells, where the sidebar as a whole is told too.
_OF_A_SIDEBAR = 0.7
_LANDMARK = 1.0
_IN_ORDER = list(SLOTS)
_BESIDE = ("aside-start", "aside-end")
_LANDMARKS = {
    "header": "header", "banner": "header", "footer": "footer", "contentinfo": "footer", "nav": "navigation",
    "navigation": "navigation", "aside": "aside", "complementary": "aside",
}  # fmt: skip


@dataclass(frozen=True)
class Proposal:
    """A place that may be a slot's; ``distinct``: how many different contents stand there.

    ``sure``: a landmark, a name or links tell so, not only that it stands on many pages.
    """

    binding: Binding
    why: str
    sure: bool
    distinct: int
    fit: Fit


@dataclass
class _Part:
    """A part that one selector finds on several pages."""

    selector: str
    blocks: dict[str, Block] = field(default_factory=dict)

    @property
    def first(self) -> Block:
        return next(iter(self.blocks.values()))

    @property
    def before(self) -> bool:
        """Whether it stands before the content, on most pages."""
        return sum(block.before for block in self.blocks.values()) * 2 > len(self.blocks)

    @property
    def landmark(self) -> str:
        """The kind of landmark that it is; empty for none."""
        role, tag = self.first.role, self.first.tag
        return _LANDMARKS.get(role) or ("" if role == GENERIC else _LANDMARKS.get(tag, ""))

    @property
    def distinct(self) -> int:
        return len({block.digest for block in self.blocks.values()})

    @property
    def of_each_page(self) -> bool:
        """Whether it is another one on most of its pages, so that no piece could stand there for several."""
        return len(self.blocks) >= _FEWEST and self.distinct * 2 > len(self.blocks)

    def gives_way(self, slot: str, others: Iterable[_Part]) -> bool:
        """Whether it is another one on most pages only by little: much of it is one of others, which is the same."""
        if not self.of_each_page:
            return False
        # It has to stand on nearly all of its pages.
        wide = [other for other in others if len(other.blocks) * 5 >= len(self.blocks) * 4]
        # A sidebar is more than what stands above its list.
        times = 2 if slot in _BESIDE else 3
        by_little = (
            any(
                one.weight * times >= block.weight and _inside(one, block)
                for other in wide
                if (one := other.blocks.get(path))
            )
            for path, block in self.blocks.items()
        )
        return 2 * sum(by_little) > len(self.blocks)

    def within(self, others: Sequence[_Part]) -> bool:
        """Whether it lies inside others on half of its pages or more."""
        inside = (
            any(path in other.blocks and _inside(block, other.blocks[path]) for other in others)
            for path, block in self.blocks.items()
        )
        return 2 * sum(inside) >= len(self.blocks)


def _inside(block: Block, other: Block) -> bool:
    return other.start <= block.start and block.end <= other.end and block.selector != other.selector


def propose(site: Site, tree: PageTree) -> tuple[list[Proposal], int]:
    """Places that may be those of slots, the likeliest of each first, and on how many pages it was looked."""
    originals = sample(site)
    parts = _parts(_blocks(site, tree, originals))
    count = len(originals)
    ranked = []
    told = [one for part in parts if (one := (part, *_slot_of(part)))[1]]
    steady = [part for part, _, _, why in told if why != _REPEATED and not part.of_each_page]
    little = [part.gives_way(slot, steady) for part, slot, _, _ in told]
    sidebars = [
        part for (part, slot, _, _), is_little in zip(told, little, strict=True)
        if slot in _BESIDE and part.of_each_page and not is_little
    ]  # fmt: skip
    for (part, slot, telling, why), is_little in zip(told, little, strict=True):
        share = len(part.blocks) / count if count else 0
        if share >= LEAST_SHARE or len(part.blocks) >= _FEWEST:
            if is_little:
                telling *= _GIVING_WAY
            elif slot in _BESIDE and part.landmark != "aside" and part.within(sidebars):
                telling *= _OF_A_SIDEBAR
            elif part.of_each_page and telling < _LANDMARK:
                telling *= _OF_EACH_PAGE
            ranked.append((telling * share, why, Binding(slot, part.selector), part))
    # Of two landmarks for one slot that of the site is the same on its pages.
    ranked.sort(key=lambda one: (-one[0], one[3].of_each_page))
    found: list[_Chosen] = []
    for _, why, binding, part in ranked:
        known = [other for _, _, other in found]
        alike = part.within(known) or any(_same(part, other) for other in known)
        # What little tells of gives way to what it has in it.
        steady_known = (other for other in known if not other.of_each_page)
        tells_little = why == _REPEATED or part.gives_way(binding.slot, steady_known)
        alike = alike or (tells_little and any(other.within([part]) for other in known))
        if not alike and sum(one.slot == binding.slot for one, _, _ in found) < MOST_FOR_SLOT:
            found.append((binding, why, part))
    found = sorted(_headed(found), key=lambda one: _IN_ORDER.index(one[0].slot))
    look_for(originals.items(), [binding for binding, _, _ in found])
    found = _beside(found, tree, originals)
    alone = [fits([binding], tree, originals)[0] for binding, _, _ in found]
    proposals = [
        Proposal(binding, why, why != _REPEATED, part.distinct, fit)
        for (binding, why, part), fit in zip(found, alone, strict=True)
        # What stands on pages several times, and is called nothing, is a part of what they say.
        if why != _REPEATED or 4 * fit.several <= fit.found
    ]
    return proposals, count


_Chosen = tuple[Binding, str, _Part]


def _headed(found: list[_Chosen]) -> list[_Chosen]:
    """What was chosen; where nothing is a header, the first landmark that leads, the same on its pages, is."""
    leading = [
        one for one in found
        if one[0].slot == "below-header" and one[2].landmark == "navigation" and not one[2].of_each_page
        and not one[2].within([part for _, _, part in found])
    ]  # fmt: skip
    if not leading or any(binding.slot == "header" for binding, _, _ in found):
        return found
    first = min(leading, key=lambda one: one[2].first.start)
    return [(Binding("header", one[0].selector), *one[1:]) if one is first else one for one in found]


def _beside(found: list[_Chosen], tree: PageTree, originals: Mapping[str, Original]) -> list[_Chosen]:
    """Those whose places do not lie inside those of others.

    What a selector finds first may, where the part that was seen does not. Of several for one slot only the first
    that has a place is told to lie inside, so that it is looked again until none does.
    """
    while True:
        together = fits([binding for binding, _, _ in found], tree, originals)
        left = [one for one, fit in zip(found, together, strict=True) if 2 * fit.inside < max(1, fit.found)]
        if len(left) == len(found):
            return left
        found = left


def _same(part: _Part, other: _Part) -> bool:
    """Whether a part is another one wherever it stands, found by other means."""
    return all(path in other.blocks and one.start == other.blocks[path].start for path, one in part.blocks.items())


def _blocks(site: Site, tree: PageTree, originals: Mapping[str, Original]) -> list[tuple[str, list[Block]]]:
    def read(reader: Reader, one: tuple[str, Original]) -> tuple[str, list[Block]]:
        path, original = one
        page = tree.page(path)
        address = page.href if page else path
        try:
            return path, reader.blocks(bytes_of(original.digest), original.encoding, address, site.base_url)
        except (OSError, Unreadable):
            return path, []

    return read_beside(originals.items(), read)


def _parts(pages: Iterable[tuple[str, list[Block]]]) -> list[_Part]:
    found: dict[str, _Part] = {}
    wide: dict[str, _Part] = {}
    for path, blocks in pages:
        for block in blocks:
            found.setdefault(block.selector, _Part(block.selector)).blocks[path] = block
            for selector in (block.selector, *block.others):
                wide.setdefault(selector, _Part(selector)).blocks[path] = block
    widest = (_widest(part, wide) for part in found.values())
    return list({part.selector: part for part in widest}.values())


def _widest(part: _Part, wide: Mapping[str, _Part]) -> _Part:
    """The same part by the selector that finds it on most pages, as the simplest one does not stand alone on all.

    Beyond the pages of the part itself that selector has to find mostly what stands there, too, or a landmark again.
    """
    first, told, found = part.first, {block.digest for block in part.blocks.values()}, part
    for selector in (part.selector, *first.others):
        other = wide[selector]
        if len(other.blocks) > len(found.blocks) and all(
            other.blocks.get(path) is one for path, one in part.blocks.items()
        ):
            more = [
                one.digest in told or one.tag in _LANDMARKS
                for path, one in other.blocks.items()
                if path not in part.blocks
            ]
            found = other if sum(more) * 2 > len(more) else found
    return found


def _slot_of(part: _Part) -> tuple[str, float, str]:
    """The slot that a part may be the place of, how much tells so, and what does; empty where nothing does."""
    block = part.first
    landmark = part.landmark
    # A navigation may be anywhere: what it is called says more.
    if landmark and landmark != "navigation":
        return _placed(landmark, part), _LANDMARK, f"It is a landmark: {block.role or block.tag}"
    # A role or a tag is what a part is, not what it is called.
    name = part.selector.rpartition(">")[2].strip()
    name = "" if name.startswith("[") or name == block.tag else name
    if called := kind_called(re.sub(r"^\w+(?=\.)", "", name)):
        kind, word = called
        return _placed(kind, part), 0.95 if landmark else 0.9, f"It is called {word}"
    if landmark:
        return _placed(landmark, part), 0.9, f"It is a landmark: {block.role or block.tag}"
    if len(part.blocks) >= _FEWEST and part.distinct * 3 <= len(part.blocks):
        if block.links >= _FEWEST_LINKS:
            return _placed("aside" if block.links > _LINKS_BESIDE else "navigation", part), 0.7, _LED
        return ("above-header" if part.before else "above-footer"), 0.4, _REPEATED
    return "", 0, ""


def _placed(kind: str, part: _Part) -> str:
    """The slot of a kind of part by where it stands: before the content, or behind."""
    if kind == "aside":
        return "aside-start" if part.before else "aside-end"
    if kind == "navigation":
        return "below-header" if part.before else "above-footer"
    return kind
