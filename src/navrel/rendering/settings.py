"""The page settings that the rendering itself follows, where a site declares settings of these names."""

from __future__ import annotations

import re
from collections.abc import Mapping

from navrel.core.cascade.plain import Trace
from navrel.core.layout.document import SiteDocument
from navrel.core.layout.model import SettingValue, Target
from navrel.core.pages.page import Page

#: What the style sheet knows of each, told in attributes of the body.
STYLED: Mapping[str, tuple[str, ...]] = {
    "measure": ("narrow", "normal", "wide"),
    "header-ground": ("own", "see-through"),
    "header-scroll": ("leaves", "stays"),
}
_PLACEHOLDER = re.compile(r"\{([a-z]+\.[a-z]+)\}")


def setting_values(traces: Mapping[Target, Trace]) -> dict[str, SettingValue | None]:
    """The value of each setting on a page."""
    return {target.name: found.outcome.value for target, found in traces.items() if target.kind == "setting"}


def styled(values: Mapping[str, SettingValue | None]) -> dict[str, str]:
    """The settings that the style sheet follows, each with a value that it knows."""
    return {name: str(values[name]) for name, known in STYLED.items() if values.get(name) in known}


def shows_breadcrumbs(values: Mapping[str, SettingValue | None]) -> bool:
    """Whether breadcrumbs are drawn: unless a switch of that name is off."""
    return values.get("breadcrumbs") is not False


def document_title(values: Mapping[str, SettingValue | None], page: Page, document: SiteDocument) -> str:
    """The text of the title element: the setting `document-title` with its placeholders filled in.

    A page that is called like its site says so once. What is no placeholder stays as it is written.
    """
    pattern = values.get("document-title")
    if page.title == document.name:
        return page.title
    if not isinstance(pattern, str) or not pattern.strip():
        return f"{page.title} · {document.name}"
    told = {"page.title": page.title, "page.path": page.path, "site.name": document.name}
    return _PLACEHOLDER.sub(lambda found: told.get(found[1], found[0]), pattern)
