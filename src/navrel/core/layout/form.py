"""How the pages of a site are drawn where no rule says: the default of a page setting."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from .model import ARRANGED, FORM_SETTING, FORMS, IN_PLACE, Setting

_HELP = "Whether a page is put together from its content, or drawn in its own HTML"


def form_of(settings: Iterable[Setting]) -> str:
    """How pages are drawn where no rule says."""
    return next((str(one.default) for one in settings if one.name == FORM_SETTING), ARRANGED)


def has_form(settings: Iterable[Setting]) -> bool:
    """Whether any page may be drawn in its own HTML."""
    return any(one.name == FORM_SETTING for one in settings)


def with_form(settings: Iterable[Setting], form: str) -> tuple[Setting, ...]:
    """The settings with this form where no rule says. A site that never said so needs no setting to be arranged."""
    known = tuple(settings)
    if has_form(known):
        stated = Setting(FORM_SETTING, "choice", form, FORMS, _HELP)
        return tuple(replace(stated, help=one.help or _HELP) if one.name == FORM_SETTING else one for one in known)
    return (*known, Setting(FORM_SETTING, "choice", form, FORMS, _HELP)) if form == IN_PLACE else known
