"""The page setting that says which dress a page wears, kept in step with the dresses that a site has."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace

from .dress import Dress
from .model import DRESS_SETTING, Setting


def with_dress_setting(settings: Iterable[Setting], dresses: Mapping[str, Dress]) -> tuple[Setting, ...]:
    """The settings with that of the dress in step: its choices are the dresses. It comes with the second of them."""
    known = tuple(settings)
    choices = tuple(dresses)
    stated = next((one for one in known if one.name == DRESS_SETTING), None)
    if not choices or (stated is None and len(choices) == 1):
        return known
    if stated is None:
        return (*known, Setting(DRESS_SETTING, "choice", choices[0], choices, "Which dress a page wears"))
    default = stated.default if stated.default in choices else choices[0]
    kept = replace(stated, type="choice", default=default, choices=choices)
    return tuple(kept if one is stated else one for one in known)
