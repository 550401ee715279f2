"""What an edit did to the parts of a draft, in words: `Site footer: added a link to /help`."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from difflib import SequenceMatcher
from typing import Any, Protocol

from navrel.core.layout.contents import items_of
from navrel.core.layout.model import Target

Tree = Mapping[str, Any]

#: Parts, and things done to one of them, that are told one by one; more are counted.
_MOST_TOLD = 3
#: Longest quotation from a text, in characters.
_MOST_QUOTED = 40

_DOES = {"fill": "", "prepend": "before it: ", "append": "after it: ", "use": "", "empty": "left empty"}
_ITEMS = {
    "logo": "the logo", "menu": "a menu", "links": "a link list", "heading": "a heading", "text": "a text",
    "button": "a button", "notice": "a notice", "search": "the search box", "newest": "a list of newest pages",
    "page-title": "the page's title", "breadcrumbs": "the breadcrumbs", "byline": "the byline",
    "sign-in": "the sign-in link", "languages": "the language switch", "social": "social links",
    "hours": "opening hours", "newsletter": "a newsletter field", "image": "an image", "slides": "slides",
    "alike": "pages like this one", "neighbours": "previous and next", "topics": "the topics",
    "calendar": "a calendar", "contents": "a table of contents", "share": "share links", "divider": "a divider",
    "space": "a space", "piece": "a widget", "slot": "a slot", "markup": "the markup", "feed": "a feed",
}  # fmt: skip


class EditedPart(Protocol):
    """A part of a draft before and after: None where it was not there, or is not there any more."""

    @property
    def key(self) -> str: ...
    @property
    def before(self) -> Tree | None: ...
    @property
    def after(self) -> Tree | None: ...


def edit_words(parts: Sequence[EditedPart], names: Mapping[str, str]) -> str:
    """What an edit did; ``names`` are those of pieces by slug, and of rules by the keys of their parts."""
    told = [words for part in parts if (words := _part_words(part, parts, names))]
    more = [f"and {len(told) - _MOST_TOLD} more"] if len(told) > _MOST_TOLD else []
    return "; ".join([*told[:_MOST_TOLD], *more])


def target_words(target: str) -> str:
    """A target as people read it: `above-footer` is `above footer`."""
    return slot_words(Target.read(target).name) if target != "template" else "template"


def slot_words(slot: str) -> str:
    """A slot, or a setting, as people read its name."""
    return slot.replace("-", " ")


def _part_words(part: EditedPart, parts: Sequence[EditedPart], names: Mapping[str, str]) -> str:
    kind, _, name = part.key.partition("/")
    match kind:
        case "rule":
            return _told(part, lambda before, after: _rule_words(before, after, names))
        case "place":
            return _place_words(part, f"rule/{name}", parts, names)
        case "piece":
            return _told(part, lambda before, after: _piece_words(before, after, names))
        case "page":
            return f"{name}: {_listed(_fact_words(part.before or {}, part.after or {}))}"
    return "Site: " + _listed(_site_words(part.before or {}, part.after or {}, names))


def _told(part: EditedPart, differences: Any) -> str:
    tree = part.after or part.before or {}
    if part.before is None:
        return f"{tree['name']}: made"
    if part.after is None:
        return f"{tree['name']}: removed"
    name = part.before["name"]
    told = differences(part.before, part.after)
    if part.after["name"] != name:
        told.insert(0, f"renamed to {part.after['name']}")
    return f"{name}: {_listed(told)}"


def _fact_words(before: Tree, after: Tree) -> list[str]:
    """What was corrected of a page by hand."""
    differing = [fact for fact in {**before, **after} if before.get(fact) != after.get(fact)]
    return [f"{fact} {_fact_text(after[fact])}" if fact in after else f"{fact} as taken in" for fact in differing]


def _fact_text(value: Any) -> str:
    if isinstance(value, dict):
        return ", ".join(f"{name} {_fact_text(one)}" for name, one in value.items())
    if isinstance(value, list):
        return ", ".join(one["slot"] if isinstance(one, dict) else str(one) for one in value) or "none"
    return _quoted(str(value)) if value else "none"


def _listed(told: Sequence[str]) -> str:
    more = [f"and {len(told) - _MOST_TOLD} more"] if len(told) > _MOST_TOLD else []
    return ", ".join([*told[:_MOST_TOLD], *more])


def _place_words(part: EditedPart, rule: str, parts: Sequence[EditedPart], names: Mapping[str, str]) -> str:
    """A rule that moved; one that came, went or changed too is told of as that."""
    if part.before is None or part.after is None or any(one.key == rule for one in parts):
        return ""
    how = "up" if part.after["position"] < part.before["position"] else "down"
    return f"{names.get(rule, 'A rule')}: moved {how}"


def _rule_words(before: Tree, after: Tree, names: Mapping[str, str]) -> list[str]:
    found = []
    if before["on"] != after["on"]:
        found.append("switched on" if after["on"] else "switched off")
    if before["priority"] != after["priority"]:
        found.append(f"priority {after['priority']}, was {before['priority']}")
    found += _condition_words(before["condition"], after["condition"])
    found += _action_words(before["actions"], after["actions"], names)
    if before["note"] != after["note"]:
        found.append("note changed")
    return found


def _condition_words(before: Tree, after: Tree) -> list[str]:
    found = []
    for key, word in (("include", "on"), ("exclude", "not on")):
        old, new = before.get(key, ""), after.get(key, "")
        if old != new:
            now, was = _where_they_differ(new, old)
            found.append(f"{word} {now or 'nothing'}, was {was or 'nothing'}")
    if before.get("visitors") != after.get("visitors"):
        found.append("for other visitors")
    if before.get("schedule") != after.get("schedule"):
        found.append("at other times")
    return found


def _action_words(before: Iterable[Tree], after: Iterable[Tree], names: Mapping[str, str]) -> list[str]:
    old, new = list(before), list(after)
    came = [action for action in new if action not in old]
    went = [action for action in old if action not in new]
    found = [_doing(action, names) for action in came]
    targets = {_target(action) for action in came}
    found += [f"no longer {_doing(action, names)}" for action in went if _target(action) not in targets]
    return found or (["actions in another order"] if old != new else [])


def _target(action: Tree) -> str:
    if action["do"] == "set":
        return f"setting:{action['setting']}"
    return "template" if action["do"] == "use" else str(action["slot"])


def _doing(action: Tree, names: Mapping[str, str]) -> str:
    if action["do"] == "set":
        return f"{action['setting']} set to {action['value']}"
    slug = action.get("template") or action.get("piece") or ""
    return f"{target_words(_target(action))}: {_DOES[action['do']]}{names.get(slug, slug)}"


def piece_differences(before: Tree, after: Tree, names: Mapping[str, str]) -> list[str]:
    """How one piece differs from another, as if it had been changed into it; ``names`` are those of pieces by slug."""
    return _piece_words(before, after, names)


def _piece_words(before: Tree, after: Tree, names: Mapping[str, str]) -> list[str]:
    found = []
    old, new = before["content"], after["content"]
    items = [list(items_of(one)) for one in (old, new)]
    found += _item_words(*items)
    if items[0] == items[1] and _arranged(old) != _arranged(new):
        found.append("items arranged otherwise")
    if _colours(old) != _colours(new):
        found.append("another look")
    if any(old.get(key) != new.get(key) for key in ("areas", "columns", "tablet", "phone")):
        found.append("another arrangement")
    found += _came_and_went("slot", before["slots"], after["slots"], str)
    found += _entry_words(before["entries"], after["entries"], names)
    if before["note"] != after["note"]:
        found.append("note changed")
    return found


def _arranged(content: Tree) -> object:
    return content.get("rows"), content.get("style", {}).get("arrange")


def _colours(content: Tree) -> dict[str, object]:
    return {key: value for key, value in content.get("style", {}).items() if key != "arrange"}


def _entry_words(before: Sequence[Tree], after: Sequence[Tree], names: Mapping[str, str]) -> list[str]:
    old, new = [entry["piece"] for entry in before], [entry["piece"] for entry in after]
    found = _came_and_went("widget", old, new, lambda slug: names.get(slug, slug))
    if not found and old != new:
        return ["widgets in another order"]
    if not found:
        pairs = list(zip(before, after, strict=True))
        switched = [
            (names.get(new["piece"], new["piece"]), new)
            for one, new in pairs
            if one.get("on", True) != new.get("on", True)
        ]
        found += [f"switched {name} {_said(one.get('on', True))}" for name, one in switched]
        if any(one.get("condition") != new.get("condition") for one, new in pairs):
            found.append("where its widgets show")
        if any(one.get("note") != new.get("note") for one, new in pairs):
            found.append("why its widgets are there")
    return found


def _came_and_went(what: str, before: Sequence[str], after: Sequence[str], name: Any) -> list[str]:
    return [
        *(f"added the {what} {name(one)}" for one in after if one not in before),
        *(f"removed the {what} {name(one)}" for one in before if one not in after),
    ]


def _item_words(before: Sequence[Tree], after: Sequence[Tree]) -> list[str]:
    """What became of a piece's items; those of one type at one place are held to be the same."""
    found: list[str] = []
    # The order of an item's keys says nothing, and is another in the database than in a file.
    old_texts, new_texts = ([json.dumps(one, sort_keys=True) for one in items] for items in (before, after))
    matcher = SequenceMatcher(None, old_texts, new_texts, autojunk=False)
    gone: list[Tree] = []
    came: list[Tree] = []
    for how, low, high, new_low, new_high in matcher.get_opcodes():
        if how == "equal":
            continue
        old, new = list(before[low:high]), list(after[new_low:new_high])
        for item in list(old):
            twin = next((one for one in new if one["type"] == item["type"]), None)
            if twin is not None:
                old.remove(item)
                new.remove(twin)
                found += _changed_item(item, twin)
        gone += old
        came += new
    moved = [item for item in came if item in gone]
    found += [f"moved {_item(item)}" for item in moved]
    found += [f"added {_item(item)}" for item in came if item not in moved]
    return found + [f"removed {_item(item)}" for item in gone if item not in moved]


def _item(item: Tree) -> str:
    return _ITEMS.get(item["type"], f"a {item['type']}")


def _changed_item(before: Tree, after: Tree) -> list[str]:
    if before.get("links") != after.get("links"):
        return _link_words(before.get("links", []), after.get("links", []))
    text = after.get("text") or after.get("heading") or after.get("label")
    what = _item(after).removeprefix("a ").removeprefix("the ")
    return [f"{what} now “{_quoted(str(text))}”" if text and text not in before.values() else f"changed the {what}"]


def _link_words(before: Sequence[Tree], after: Sequence[Tree]) -> list[str]:
    found = [f"added a link to {_quoted(link['href'])}" for link in after if link not in before]
    found += [f"removed the link to {_quoted(link['href'])}" for link in before if link not in after]
    return found or ["links in another order"]


_SITE_FACTS = {
    "name": "name", "base_url": "address", "language": "language", "time_zone": "time zone", "roles": "roles",
}  # fmt: skip


def _site_words(before: Tree, after: Tree, names: Mapping[str, str]) -> list[str]:
    found = [
        f"{called} {_fact_text(after[fact])}"
        for fact, called in _SITE_FACTS.items()
        if fact in after and before.get(fact) != after[fact]
    ]
    if before.get("by_hand") != after.get("by_hand"):
        found.append(
            "facts of pages may be corrected by hand" if after.get("by_hand") else "facts of pages as taken in"
        )
    if before.get("scripts") != after.get("scripts"):
        found.append("scripts of pages run where they are published" if after.get("scripts") else "no scripts of pages")
    if before.get("default_template") != after.get("default_template"):
        slug = after.get("default_template") or ""
        found.append(f"default template {names.get(slug, slug) or 'none'}")
    found += _setting_words(before.get("settings") or [], after.get("settings") or [])
    found += _named_words("menu", "slug", before.get("menus") or [], after.get("menus") or [])
    found += _named_words("dress", "slug", before.get("dresses") or [], after.get("dresses") or [])
    found += _named_words("guard", "name", before.get("guards") or [], after.get("guards") or [])
    found += _binding_words(before.get("bindings") or [], after.get("bindings") or [])
    if (before.get("recipe") or []) != (after.get("recipe") or []):
        found.append(_recipe_words(before.get("recipe") or [], after.get("recipe") or []))
    return [*found, *_named_words("file", "name", before.get("files") or [], after.get("files") or [])]


def _binding_words(before: Sequence[Tree], after: Sequence[Tree]) -> list[str]:
    """What became of the places of slots in the HTML of pages."""
    old, new = ([f"{one['slot']} to {_quoted(one['selector'])}" for one in listed] for listed in (before, after))
    found = _came_and_went("binding", old, new, lambda name: f"of {name}")
    return found or (["bindings otherwise"] if list(before) != list(after) else [])


def _recipe_words(before: Sequence[Tree], after: Sequence[Tree]) -> str:
    """Of which facts the places changed from which they are read."""
    old, new = ({one["fact"]: one for one in listed} for listed in (before, after))
    facts = [fact for fact in dict.fromkeys((*old, *new)) if old.get(fact) != new.get(fact)]
    return f"how {', '.join(facts)} {'is' if len(facts) == 1 else 'are'} read" if facts else "order of the recipe"


def _named_words(what: str, key: str, before: Sequence[Tree], after: Sequence[Tree]) -> list[str]:
    """What became of menus, dresses or files."""
    old, new = ({one[key]: one for one in listed} for listed in (before, after))
    found = _came_and_went(what, list(old), list(new), lambda name: (new.get(name) or old[name])["name"])
    return found + [f"{what} {new[name]['name']} changed" for name in new if name in old and old[name] != new[name]]


def _setting_words(before: Sequence[Tree], after: Sequence[Tree]) -> list[str]:
    old, new = ({one["name"]: one for one in settings} for settings in (before, after))
    found = _came_and_went("setting", list(old), list(new), str)
    for name in [one for one in new if one in old and old[one] != new[one]]:
        was, now = (_said(settings[name].get("default")) for settings in (old, new))
        found.append(f"setting {name}: default {was} → {now}" if was != now else f"setting {name} changed")
    return found or (["settings in another order"] if list(before) != list(after) else [])


def _said(value: Any) -> str:
    """A setting's value as it is told."""
    return ("on" if value else "off") if isinstance(value, bool) else str(value)


def _where_they_differ(one: str, other: str) -> tuple[str, str]:
    """Two texts, quoted from the word in which they begin to differ where they are long."""
    shorter = min(len(one), len(other))
    same = next((n for n in range(shorter) if one[n] != other[n]), shorter)
    begins = max(one.rfind(" ", 0, same), one.rfind(",", 0, same)) + 1
    if max(len(one), len(other)) <= _MOST_QUOTED or begins == 0:
        return _quoted(one), _quoted(other)
    return f"… {_quoted(one[begins:])}", f"… {_quoted(other[begins:])}" if other[begins:] else "without that"


def _quoted(text: str) -> str:
    line = " ".join(text.split())
    return line if len(line) <= _MOST_QUOTED else f"{line[: _MOST_QUOTED - 1]}…"
