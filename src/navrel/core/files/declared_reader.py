"""What a site declares for all its pages, read from its tree: settings, menus, files, dresses."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, cast

from ..layout.document import SiteFile
from ..layout.dress import COLOURS, FAMILIES, FONT_ENDING, FONTS, MEASURES, Dress, is_written_colour
from ..layout.model import SETTING_TYPES, Menu, MenuEntry, Setting, SettingType, SettingValue
from ..text import unfit
from .reader import Reader, name_of

#: Levels of a menu, and the most that a side of a picture may have.
MENU_DEPTH = 3
MAX_PIXELS = 20_000


class DeclaredReader(Reader):
    """Reads what a site declares. Each method takes a value and the pointer at which it stands."""

    def settings(self, site: Mapping[str, Any], at: str) -> tuple[Setting, ...]:
        found = []
        seen: dict[str, str] = {}
        for item, place in self.items(site, "settings", at):
            tree = self.table(item, place, ("name", "type", "choices", "default", "help"))
            name = self.slug(tree, "name", place)
            self.once(seen, name, place, "setting")
            if not tree.get("type"):
                self.fail(place, "type is missing", "required")
            stated = self.choice(tree, "type", place, SETTING_TYPES, "text")
            # One that is none has been told of; what else is wrong is told of as of a text.
            kind: SettingType = stated if stated in SETTING_TYPES else "text"
            choices = self.texts(tree, "choices", place)
            if kind == "choice" and not choices:
                self.fail(place, "a choice needs choices", "required")
            elif kind != "choice" and choices:
                self.fail(f"{place}/choices", f"a {kind} has no choices")
            elif len(set(choices)) != len(choices):
                self.fail(f"{place}/choices", "a choice stands twice", "repeated")
            usual: dict[SettingType, SettingValue] = {
                "choice": choices[0] if choices else "",
                "text": "",
                "switch": False,
                "number": 0,
            }
            setting = Setting(name, kind, usual[kind], choices, self.text(tree, "help", place))
            if tree.get("default") in (None, ""):
                found.append(setting)
            else:
                default = self.value(tree, "default", place, setting)
                found.append(replace(setting, default=default))
        return tuple(found)

    def value(self, tree: Mapping[str, Any], key: str, at: str, setting: Setting) -> SettingValue:
        """A value that a setting takes."""
        value = tree.get(key)
        if isinstance(value, str) and (wrong := unfit(value)):
            self.fail(f"{at}/{key}", wrong.message, "character")
        elif not setting.takes(value):
            wanted = {
                "choice": "one of " + ", ".join(setting.choices),
                "text": "a text",
                "switch": "true or false",
                "number": "a number",
            }
            self.fail(f"{at}/{key}", f"{setting.name} takes {wanted[setting.type]}", "type")
        else:
            return cast(SettingValue, value)
        return setting.default

    def menus(self, tree: Mapping[str, Any], at: str = "") -> dict[str, Menu]:
        """The menus of a site."""
        found: dict[str, Menu] = {}
        seen: dict[str, str] = {}
        for item, place in self.items(tree, "menus", at):
            menu = self.table(item, place, ("slug", "name", "entries"))
            slug = self.slug(menu, "slug", place)
            self.once(seen, slug, place, "menu")
            found.setdefault(
                slug, Menu(slug, self.name(menu, place, name_of(slug)), self.menu_entries(menu, place, MENU_DEPTH))
            )
        return found

    def menu_entries(self, tree: Mapping[str, Any], at: str, depth: int) -> tuple[MenuEntry, ...]:
        found = []
        for item, place in self.items(tree, "entries", at):
            entry = self.table(item, place, ("text", "page", "href", "panel", "entries"))
            text, page, href = (self.text(entry, key, place) for key in ("text", "page", "href"))
            if page and href:
                self.fail(f"{place}/href", "an entry leads to a page or to an address, not both")
            if not (text or page or href):
                self.fail(place, "an entry needs a text or a page", "required")
            panel = self.slug(entry, "panel", place) if entry.get("panel") else ""
            inner: tuple[MenuEntry, ...] = ()
            if entry.get("entries") and depth == 1:
                self.fail(f"{place}/entries", f"a menu is at most {MENU_DEPTH} levels deep")
            elif depth > 1:
                inner = self.menu_entries(entry, place, depth - 1)
            found.append(MenuEntry(text, page, href, panel, inner))
        return tuple(found)

    def files(self, tree: Mapping[str, Any]) -> tuple[SiteFile, ...]:
        """The pictures of a site; their bytes stand beside it."""
        found = []
        seen: dict[str, str] = {}
        for item, place in self.items(tree, "files", ""):
            file = self.table(item, place, ("name", "type", "digest", "width", "height", "widths", "data"))
            name = self.text(file, "name", place, required=True)
            self.once(seen, name, place, "file")
            sizes = range(1, MAX_PIXELS)
            widths = file.get("widths") or []
            if not isinstance(widths, list) or any(not isinstance(one, int) or one not in sizes for one in widths):
                self.fail(f"{place}/widths", "this has to be a list of numbers of pixels", "type")
                widths = []
            found.append(
                SiteFile(
                    name,
                    self.text(file, "type", place, required=True),
                    self.text(file, "digest", place, required=True),
                    self.number(file, "width", place, sizes),
                    self.number(file, "height", place, sizes),
                    tuple(widths),
                )
            )
        return tuple(found)

    def dresses(self, tree: Mapping[str, Any]) -> dict[str, Dress]:
        """The dresses of a site."""
        found: dict[str, Dress] = {}
        seen: dict[str, str] = {}
        for item, place in self.items(tree, "dresses", ""):
            dress = self.table(item, place, ("slug", "name", "colours", "dark", "fonts", "measures"))
            slug = self.slug(dress, "slug", place)
            self.once(seen, slug, place, "dress")
            read = Dress(
                slug,
                self.name(dress, place, name_of(slug)),
                self.colours(dress, "colours", place),
                self.colours(dress, "dark", place),
                self.fonts(dress, place),
                self.measures(dress, place),
            )
            found.setdefault(slug, read)
        return found

    def colours(self, tree: Mapping[str, Any], key: str, at: str) -> dict[str, str]:
        place = f"{at}/{key}"
        stated = self.table(tree.get(key) or {}, place, tuple(COLOURS))
        found = {name: self.text(stated, name, place) for name in COLOURS if stated.get(name)}
        for name, colour in found.items():
            if colour and not is_written_colour(colour):
                self.fail(f"{place}/{name}", "a colour is written as # with six or three hexadecimal digits")
        return found

    def fonts(self, tree: Mapping[str, Any], at: str) -> dict[str, str]:
        place = f"{at}/fonts"
        stated = self.table(tree.get("fonts") or {}, place, tuple(FONTS))
        found = {name: self.text(stated, name, place) for name in FONTS if stated.get(name)}
        for name, font in found.items():
            if font and font not in FAMILIES and not font.endswith(FONT_ENDING):
                wanted = ", ".join(FAMILIES)
                self.fail(f"{place}/{name}", f"a font is one of {wanted}, or a font file of the site ({FONT_ENDING})")
        return found

    def measures(self, tree: Mapping[str, Any], at: str) -> dict[str, float]:
        place = f"{at}/measures"
        stated = self.table(tree.get("measures") or {}, place, tuple(MEASURES))
        found: dict[str, float] = {}
        for name, measure in MEASURES.items():
            value = stated.get(name)
            if value is None:
                continue
            if isinstance(value, bool) or not isinstance(value, int | float):
                self.fail(f"{place}/{name}", "this has to be a number", "type")
            elif not measure.least <= value <= measure.most:
                least, most = (f"{one:g}" for one in (measure.least, measure.most))
                self.fail(f"{place}/{name}", f"this has to lie between {least} and {most} {measure.unit}")
            else:
                found[name] = value
        return found
