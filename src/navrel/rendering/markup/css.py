"""CSS of a piece's markup, kept to that piece: every rule stands in an at-rule that scopes it (CSS Cascade 6, @scope).

What acts on the whole page by its name alone (fonts, keyframes, registered properties) is left out, and what would
fetch something from elsewhere.
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable, Iterator
from functools import lru_cache
from typing import Any, NoReturn

import tinycss2

MAX_CSS = 20_000
#: At-rules that only say when what is in them holds.
_CONDITIONS = ("media", "supports", "container")
_FETCHING = ("url", "src", "image", "image-set", "-webkit-image-set", "cross-fade", "element", "paint")
_OWN = re.compile(r"/(?!/)[\w./~%-]*\Z")


class BadStyles(ValueError):
    """What is wrong with CSS, for people."""


def check_styles(css: str) -> None:
    """Look through CSS. Raises BadStyles with the line of the first thing that cannot be read or cannot stand."""
    _check_rules(tinycss2.parse_stylesheet(css, skip_comments=True, skip_whitespace=True))


def _check_rules(rules: Iterable[Any]) -> None:
    for rule in rules:
        if rule.type == "error":
            _refuse(rule, rule.message)
        if _is_broken(rule.prelude):
            _refuse(rule, "this cannot be read; a bracket has no other")
        if rule.type == "qualified-rule":
            _check_declarations(rule.content)
        elif rule.lower_at_keyword not in _CONDITIONS:
            known = ", ".join(f"@{name}" for name in _CONDITIONS)
            _refuse(rule, f"only {known} may stand here, not @{rule.at_keyword}")
        else:
            _check_rules(tinycss2.parse_rule_list(rule.content or (), skip_comments=True, skip_whitespace=True))


def _check_declarations(content: Any) -> None:
    for one in tinycss2.parse_declaration_list(content, skip_comments=True, skip_whitespace=True):
        if one.type != "declaration":
            _refuse(one, "in a rule stand declarations, such as color: red; rules do not stand in rules")
        if _fetches(one.value):
            _refuse(one, f"{one.name} fetches something that is not the site's own")


def _refuse(node: Any, message: str) -> NoReturn:
    raise BadStyles(f"line {node.source_line}: {message}")


def name_of_styles(css: str) -> str:
    """What an element carries whose styles these are."""
    return hashlib.sha256(css.encode()).hexdigest()[:16]


@lru_cache(maxsize=512)
def scoped(css: str) -> str:
    """The CSS as it stands in a page: scoped to what carries its name, without what cannot stand; may be nothing."""
    rules = "".join(_written(tinycss2.parse_stylesheet(css, skip_comments=True, skip_whitespace=True)))
    if not rules:
        return ""
    # A string may hold what would end the style element; in CSS a slash may be escaped.
    return f'@scope([data-styles="{name_of_styles(css)}"]){{{rules}}}'.replace("</", "<\\/")


def _written(rules: Iterable[Any]) -> Iterator[str]:
    for rule in rules:
        if rule.type == "qualified-rule":
            kept = "".join(_declared(rule.content))
            if kept and not _is_broken(rule.prelude):
                yield f"{tinycss2.serialize(rule.prelude).strip()}{{{kept}}}"
        elif rule.type == "at-rule" and rule.lower_at_keyword in _CONDITIONS and rule.content is not None:
            inner = "".join(_written(tinycss2.parse_rule_list(rule.content, skip_comments=True, skip_whitespace=True)))
            if inner and not _is_broken(rule.prelude):
                yield f"@{rule.lower_at_keyword} {tinycss2.serialize(rule.prelude).strip()}{{{inner}}}"


def _declared(content: Any) -> Iterator[str]:
    """The declarations that may stand; nested rules, which tinycss2 does not tell apart, are left out."""
    for one in tinycss2.parse_declaration_list(content, skip_comments=True, skip_whitespace=True):
        if one.type == "declaration" and not _fetches(one.value):
            yield f"{one.serialize()};"


def _is_broken(tokens: Iterable[Any]) -> bool:
    """Whether something in it would end, written out, what it stands in."""
    return any(token.type == "error" or _is_broken(_inside(token)) for token in tokens)


def _inside(token: Any) -> Iterable[Any]:
    return getattr(token, "content", None) or getattr(token, "arguments", None) or ()


def _fetches(tokens: Iterable[Any]) -> bool:
    """Whether a value fetches anything that is not the site's own."""
    return any(_token_fetches(token) for token in tokens)


def _token_fetches(token: Any) -> bool:
    if token.type == "url":
        return not _is_own(token.value)
    if token.type == "function" and token.lower_name in _FETCHING and not _names_own(token):
        return True
    return token.type == "error" or _fetches(_inside(token))


def _names_own(token: Any) -> bool:
    given = [one for one in token.arguments if one.type != "whitespace"]
    return token.lower_name == "url" and len(given) == 1 and given[0].type == "string" and _is_own(given[0].value)


def _is_own(address: str) -> bool:
    return _OWN.match(address) is not None
