"""The plain records that the core works on. All are frozen: a change is a new record."""

from __future__ import annotations

import datetime
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal, NamedTuple

from .query import Query

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

Do = Literal["fill", "empty", "prepend", "append", "use"]
DECIDING: tuple[Do, ...] = ("fill", "empty", "use")
ADDING: tuple[Do, ...] = ("prepend", "append")


def slot_kind(slot: str) -> PieceKind:
    """The kind of piece that fills ``slot``."""
    return SLOT_KINDS.get(slot, "widget")


@dataclass(frozen=True)
class Page:
    """One address of a site, with its facts (cascade: Facts). ``parent`` None: the nearest ancestor by path."""

    path: str
    title: str = ""
    kind: str = "single"
    type: str = ""
    parent: str | None = None
    terms: tuple[str, ...] = ()
    lists: str = ""
    author: str = ""
    language: str = "en"
    published: datetime.date | None = None
    words: int = 0
    fields: Mapping[str, str] = field(default_factory=dict, hash=False)
    slots: tuple[str, ...] = ()
    locks: tuple[str, ...] = ()


@dataclass(frozen=True)
class Visitor:
    """Who looks at a page. The defaults are those of a request that names no visitor."""

    signed: Literal["in", "out"] = "out"
    roles: frozenset[str] = frozenset()
    device: str = "desktop"
    browser: str = "other"
    accepts: tuple[str, ...] = ()
    query: Mapping[str, str] = field(default_factory=dict, hash=False)
    referrer: str = ""


class Target(NamedTuple):
    """What an action is about: a slot, or the page template (then ``name`` is empty)."""

    kind: Literal["slot", "template"]
    name: str = ""

    def __str__(self) -> str:
        return self.name if self.kind == "slot" else "template"

    @classmethod
    def read(cls, text: str) -> Target:
        """The target that a text names; `template` is no slot name."""
        return TEMPLATE if text == "template" else cls("slot", text)


TEMPLATE = Target("template")


@dataclass(frozen=True)
class Condition:
    """Where and for whom something holds. An empty ``visitors_include`` means everyone."""

    include: Query = Query()
    exclude: Query = Query()
    visitors_include: Query = Query()
    visitors_exclude: Query = Query()


@dataclass(frozen=True)
class Action:
    """One thing that a rule does. ``piece`` is a slug: of a template for `use`, None for `empty`."""

    do: Do
    slot: str = ""
    piece: str | None = None
    exclusive: bool = False

    @property
    def target(self) -> Target:
        return TEMPLATE if self.do == "use" else Target("slot", self.slot)

    @property
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


@dataclass(frozen=True)
class SidebarEntry:
    """A widget in a sidebar. An empty include means every page."""

    piece: str
    condition: Condition = Condition()


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
    def widgets(self) -> frozenset[str]:
        """The slugs of the widgets that a sidebar can show."""
        return frozenset(entry.piece for entry in self.entries)


@dataclass(frozen=True)
class Layout:
    """Everything that is edited: pieces, the ordered rules, and the template of pages that no rule gives one."""

    pieces: Mapping[str, Piece] = field(default_factory=dict, hash=False)
    rules: tuple[Rule, ...] = ()
    default_template: str | None = None
