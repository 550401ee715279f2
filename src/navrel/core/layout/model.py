"""The plain records that the core works on. All are frozen: a change is a new record."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal, NamedTuple

from .condition import Condition
from .contents import is_menu_open, menus_in, pieces_in, slots_in
from .dress import Dress

PieceKind = Literal["header", "footer", "sidebar", "widget", "title", "template"]
PIECE_KINDS: tuple[PieceKind, ...] = ("header", "footer", "sidebar", "widget", "title", "template")

#: The ten standard slots, in page order.
SLOTS = (
    "above-header",
    "header",
    "below-header",
    "title",
    "before-content",
    "after-content",
    "aside-start",
    "aside-end",
    "above-footer",
    "footer",
)

#: Which kind of piece takes a slot; any other slot is taken by a widget.
SLOT_KINDS: Mapping[str, PieceKind] = {
    "header": "header",
    "footer": "footer",
    "title": "title",
    "aside-start": "sidebar",
    "aside-end": "sidebar",
}

Do = Literal["fill", "empty", "prepend", "append", "use", "set"]
ADDING: tuple[Do, ...] = ("prepend", "append")

SettingType = Literal["choice", "text", "switch", "number"]
SETTING_TYPES: tuple[SettingType, ...] = ("choice", "text", "switch", "number")
SettingValue = str | bool | int | float
#: The page setting that says which dress a page wears.
DRESS_SETTING = "dress"
#: The page setting that says how a page is drawn: its content put into a template, or its own HTML with slots bound.
FORM_SETTING = "page-form"
FORMS = ("arranged", "in-place")
ARRANGED, IN_PLACE = FORMS


def slot_kind(slot: str) -> PieceKind:
    """The kind of piece that fills ``slot``."""
    return SLOT_KINDS.get(slot, "widget")


class Target(NamedTuple):
    """What an action is about: a slot, a setting, or the page template (then ``name`` is empty)."""

    kind: Literal["slot", "template", "setting"]
    name: str = ""

    def __str__(self) -> str:
        if self.kind == "setting":
            return f"setting:{self.name}"
        return self.name if self.kind == "slot" else "template"

    @classmethod
    def read(cls, text: str) -> Target:
        """The target that a text names: `template`, `setting:NAME`, or a slot. `template` is no slot name."""
        if text.startswith("setting:"):
            return cls("setting", text.removeprefix("setting:"))
        return TEMPLATE if text == "template" else cls("slot", text)


TEMPLATE = Target("template")
FORM = Target("setting", FORM_SETTING)


@dataclass(frozen=True)
class Action:
    """One thing that a rule does. ``piece`` is a slug: of a template for `use`, None for `empty` and `set`."""

    do: Do
    slot: str = ""
    piece: str | None = None
    exclusive: bool = False
    setting: str = ""
    value: SettingValue | None = None

    @cached_property
    def target(self) -> Target:
        if self.do == "set":
            return Target("setting", self.setting)
        return TEMPLATE if self.do == "use" else Target("slot", self.slot)

    @cached_property
    def adds(self) -> bool:
        """Whether it adds to what stands in a slot, and so decides nothing."""
        return self.do in ADDING

    @cached_property
    def closes(self) -> bool:
        """Whether weaker additions are dropped when this action decides."""
        return self.do == "empty" or self.exclusive


@dataclass(frozen=True)
class Rule:
    """Conditions, a priority, and actions. ``key`` is the caller's own name for it, such as a database id."""

    name: str
    condition: Condition = Condition()
    actions: tuple[Action, ...] = ()
    priority: int = 0
    on: bool = True
    note: str = ""
    key: int | None = None

    @cached_property
    def additions_first(self) -> tuple[Action, ...]:
        """The actions, those that add before those that decide; each group in its order."""
        return tuple(sorted(self.actions, key=lambda action: not action.adds))


@dataclass(frozen=True)
class SidebarEntry:
    """A widget in a sidebar. An empty include means every page; one that is not ``on`` shows nowhere."""

    piece: str
    condition: Condition = Condition()
    note: str = ""
    on: bool = True


@dataclass(frozen=True)
class Piece:
    """A reusable layout part. ``slots``: those that it holds; a template's are those that a page gets."""

    slug: str
    kind: PieceKind
    name: str
    note: str = ""
    content: Mapping[str, Any] = field(default_factory=dict, hash=False)
    slots: tuple[str, ...] = ()
    entries: tuple[SidebarEntry, ...] = ()

    @cached_property
    def entries_on(self) -> tuple[SidebarEntry, ...]:
        """The entries that are on, in their order: those that can show."""
        return tuple(entry for entry in self.entries if entry.on)

    @cached_property
    def own_slots(self) -> frozenset[str]:
        """The slots that it holds itself: those stated, and those of its items."""
        return frozenset((*self.slots, *slots_in(self.content)))

    @cached_property
    def embedded(self) -> tuple[str, ...]:
        """The slugs of the pieces that its items embed."""
        return pieces_in(self.content)

    @cached_property
    def menus(self) -> tuple[str, ...]:
        """The slugs of the menus that its items show."""
        return menus_in(self.content)

    @cached_property
    def widgets(self) -> frozenset[str]:
        """The slugs of the widgets that a sidebar names."""
        return frozenset(entry.piece for entry in self.entries)


@dataclass(frozen=True)
class MenuEntry:
    """A line of a menu: a page, an address, or with neither a heading. ``panel`` names a slot that it opens.

    An empty ``text`` means the page's own title.
    """

    text: str = ""
    page: str = ""
    href: str = ""
    panel: str = ""
    entries: tuple[MenuEntry, ...] = ()


@dataclass(frozen=True)
class Menu:
    """A menu of the site, for any number of pieces."""

    slug: str
    name: str
    entries: tuple[MenuEntry, ...] = ()

    @cached_property
    def all_entries(self) -> tuple[MenuEntry, ...]:
        """Its entries, however deep, in reading order."""
        found: list[MenuEntry] = []
        waiting = list(reversed(self.entries))
        while waiting:
            entry = waiting.pop()
            found.append(entry)
            waiting.extend(reversed(entry.entries))
        return tuple(found)


@dataclass(frozen=True)
class Setting:
    """A page setting that the site declares. ``choices`` are the values of a `choice`, empty for the other types.

    ``help`` says what it is for.
    """

    name: str
    type: SettingType
    default: SettingValue
    choices: tuple[str, ...] = ()
    help: str = ""

    def takes(self, value: object) -> bool:
        """Whether a value is one of this setting's."""
        match self.type:
            case "choice":
                return value in self.choices
            case "text":
                return isinstance(value, str)
            case "switch":
                return isinstance(value, bool)
            case "number":
                return isinstance(value, int | float) and not isinstance(value, bool)


DemandKind = Literal["shows", "bare", "holds", "lacks", "is", "at-most"]
DEMANDS: tuple[DemandKind, ...] = ("shows", "bare", "holds", "lacks", "is", "at-most")


@dataclass(frozen=True)
class Demand:
    """What a guard asks for. ``target`` is None where it asks of the whole page.

    ``pieces`` are slugs: those that are to be seen, or not; templates where the target is the template. ``values``: one
    of which a setting has. `at-most` counts ``pieces``, else those of a ``piece_kind``, else those with an ``item`` of
    a type; ``most`` of them may be seen.
    """

    kind: DemandKind
    target: Target | None = None
    pieces: tuple[str, ...] = ()
    values: tuple[SettingValue, ...] = ()
    piece_kind: PieceKind | None = None
    item: str = ""
    most: int = 0


@dataclass(frozen=True)
class Guard:
    """Something that must stay so, on the pages, for the visitors and at the times of its condition."""

    name: str
    condition: Condition
    demand: Demand
    on: bool = True
    note: str = ""


@dataclass(frozen=True)
class Layout:
    """Everything that is edited: pieces, the ordered rules, and what pages have that no rule touches."""

    pieces: Mapping[str, Piece] = field(default_factory=dict, hash=False)
    rules: tuple[Rule, ...] = ()
    default_template: str | None = None
    settings: tuple[Setting, ...] = ()
    menus: Mapping[str, Menu] = field(default_factory=dict, hash=False)
    dresses: Mapping[str, Dress] = field(default_factory=dict, hash=False)
    guards: tuple[Guard, ...] = ()

    def dress(self, chosen: SettingValue | None) -> Dress | None:
        """What a page wears whose setting says ``chosen``: that dress, else the first; None where there is none."""
        if isinstance(chosen, str) and chosen in self.dresses:
            return self.dresses[chosen]
        return next(iter(self.dresses.values()), None)

    @cached_property
    def inner(self) -> dict[str, frozenset[str]]:
        """For each piece that embeds others, all that are drawn inside of it, however deep."""
        found = {}
        for slug, piece in self.pieces.items():
            if piece.embedded:
                waiting, seen = [slug], set[str]()
                while waiting:
                    for inner in self.pieces[waiting.pop()].embedded:
                        if inner not in seen and inner in self.pieces:
                            seen.add(inner)
                            waiting.append(inner)
                found[slug] = frozenset(seen)
        return found

    @cached_property
    def held_slots(self) -> dict[str, frozenset[str]]:
        """For each piece that holds slots, in itself or in what it embeds, their names."""
        held = {
            slug: self._own_slots(piece).union(
                *(self._own_slots(self.pieces[inner]) for inner in self.inner.get(slug, ()))
            )
            for slug, piece in self.pieces.items()
        }
        return {slug: slots for slug, slots in held.items() if slots}

    def menus_of(self, piece: Piece) -> tuple[str, ...]:
        """The slugs of the menus that a piece shows, or may show where a page setting says which."""
        return tuple(slug for slug in self.menus if slug in piece.menus or is_menu_open(piece.content))

    def _own_slots(self, piece: Piece) -> frozenset[str]:
        """The slots of a piece itself, and those in the panels of its menus."""
        menus = [self.menus[slug] for slug in self.menus_of(piece)]
        return piece.own_slots.union(entry.panel for menu in menus for entry in menu.all_entries if entry.panel)

    @cached_property
    def deciding_places(self) -> tuple[Target, ...]:
        """The targets that decide which slots have a place on a page: its template, and its form where that is set."""
        return (TEMPLATE, FORM) if FORM.name in self.setting_defaults else (TEMPLATE,)

    @cached_property
    def setting_defaults(self) -> dict[str, SettingValue]:
        """The value of each setting on pages where no rule sets it."""
        return {setting.name: setting.default for setting in self.settings}
