"""What the slots of a page show, for pages that somebody else puts together: markup, and what it takes to look right.

It is drawn as on pages in their own HTML: the styles of the page around it and the project's leave each other alone.
"""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass

from navrel.core.cascade.plain import Outcome
from navrel.core.cascade.seating import seated_slots
from navrel.core.language.visitor import Lens
from navrel.core.layout.model import Target
from navrel.core.pages.page import Page

from .in_place.drawing import slot_in_place
from .items.place import no_content
from .page import Source, styles_for
from .settings import document_title, setting_values
from .slots import SlotDrawing


@dataclass(frozen=True)
class Fragments:
    """A page in parts: its outcomes, its title, the markup of its slots by name, and the styles that this takes.

    A slot that shows nothing, or has no place on the page, is not among them.
    """

    outcomes: dict[Target, Outcome]
    title: str
    slots: dict[str, str]
    styles: str

    @property
    def left_empty(self) -> set[str]:
        """The names of the slots that are left empty."""
        return {
            target.name for target, found in self.outcomes.items() if (target.kind, found.state) == ("slot", "empty")
        }


def draw_fragments(
    source: Source,
    page: Page,
    lens: Lens,
    only: Collection[str] | None = None,
    *,
    content: Callable[[], str] = no_content,
) -> Fragments:
    """Draw the slots of a page as seen through a lens: all, or ``only`` some. ``content`` gives what stands on it."""
    traces = source.resolve(page, lens)
    outcomes = {target: found.outcome for target, found in traces.items()}
    seated = seated_slots(source.document.layout, page, outcomes, lens, source.index.tree)
    values = setting_values(traces)
    place = source.place(page, lens, values, content, in_place=True)
    wanted = [
        one for one in outcomes if one.kind == "slot" and one.name in seated and (only is None or one.name in only)
    ]
    found = {
        # Each is drawn as if it stood alone: what stands in a piece of another may be asked for by itself.
        target.name: slot_in_place(SlotDrawing(place, outcomes, seated, None), target.name, outcomes[target])
        for target in wanted
    }
    shown = {name: markup for name, markup in found.items() if markup}
    return Fragments(outcomes, document_title(values, page, place), shown, styles_for(place, "".join(shown.values())))
