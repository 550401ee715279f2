"""The page settings that the rendering itself follows, where a site declares settings of these names."""

from __future__ import annotations

from collections.abc import Mapping

from navrel.core.cascade.plain import Trace
from navrel.core.layout.model import SettingValue, Target
from navrel.core.pages.page import Page

from .items.place import Place
from .placeholders import fill_in

#: What the style sheet knows of each, told in attributes of the body.
STYLED: Mapping[str, tuple[str, ...]] = {
    "measure": ("narrow", "normal", "wide"),
    "header-ground": ("own", "see-through"),
    "header-scroll": ("leaves", "stays"),
}


def setting_values(traces: Mapping[Target, Trace]) -> dict[str, SettingValue | None]:
    """The value of each setting on a page."""
    return {target.name: found.outcome.value for target, found in traces.items() if target.kind == "setting"}


def styled(values: Mapping[str, SettingValue | None]) -> dict[str, str]:
    """The settings that the style sheet follows, each with a value that it knows."""
    return {name: str(values[name]) for name, known in STYLED.items() if values.get(name) in known}


def document_title(values: Mapping[str, SettingValue | None], page: Page, place: Place) -> str:
    """The text of the title element: the setting `document-title` with its placeholders filled in.

    A page that is called like its site says so once. What is no placeholder stays as it is written.
    """
    pattern = values.get("document-title")
    if page.title == place.document.name:
        return page.title
    if not isinstance(pattern, str) or not pattern.strip():
        return f"{page.title} · {place.document.name}"
    return fill_in(pattern, place.told)
