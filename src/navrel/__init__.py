"""Navrel: decide by rules which layout every page of a site gets, see why, publish it.

`navrel.load` reads a layout file into a program; see `navrel.program`.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from navrel.program import NoSuchPage, PageLayout, Site, load

__all__ = ["NoSuchPage", "PageLayout", "Site", "load"]


def __getattr__(name: str) -> Any:
    # What a program asks of one layout is not loaded by all that else is here.
    if name in __all__:
        from navrel import program

        return getattr(program, name)
    raise AttributeError(f"module navrel has no attribute {name}")
