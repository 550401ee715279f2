"""What can be written at the caret of a query: the facts or values that fit, each with the pages it would match."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from ..language.facts import Value
from ..language.query import FACTS, Domain, quote
from ..layout.document import SiteDocument
from .choices import Choice, choices
from .page_index import PageIndex


@dataclass(frozen=True)
class Offer:
    """One thing to write: ``insert`` goes in place of what stands there; the rest is for people.

    ``pages`` is how many pages the term would match with it, None in a visitor query.
    """

    insert: str
    label: str
    about: str
    pages: int | None


@dataclass(frozen=True)
class Completion:
    """What fits at the caret. ``start`` and ``end``: the part of the text that an offer takes the place of."""

    start: int
    end: int
    what: Literal["fact", "value"]
    offers: tuple[Offer, ...]


@dataclass(frozen=True)
class _Spot:
    """Where the caret stands: in a fact (``fact`` is empty then) or in a value of one that begins at ``name``."""

    start: int
    end: int
    typed: str
    fact: str = ""
    negated: bool = False
    name: int = 0


def complete(
    index: PageIndex, document: SiteDocument, text: str, caret: int, domain: Domain = "page", limit: int = 20
) -> Completion:
    """The facts or values that fit at ``caret`` (from 0) of a query text, which need not be whole; best first.

    Raises ValueError for a caret outside of the text.
    """
    if not 0 <= caret <= len(text):
        raise ValueError(f"the caret {caret} is outside of a text of {len(text)} characters")
    spot = _spot(text, caret)
    base = spot.fact.partition(".")[0]
    if domain == "page" and base not in FACTS["page"] and any(base == known.slug for known in document.taxonomies):
        return _terms_meant(index, document, spot, limit)
    if not spot.fact:
        found = choices(index, document, "", spot.typed, limit, domain)
        offers = tuple(_fact_offer(choice, domain) for choice in found)
    else:
        found = choices(index, document, spot.fact, spot.typed, limit) if base in FACTS[domain] else []
        offers = tuple(_value_offer(choice, base, domain, index.size if spot.negated else None) for choice in found)
    return Completion(spot.start, spot.end, "value" if spot.fact else "fact", offers)


def _terms_meant(index: PageIndex, document: SiteDocument, spot: _Spot, limit: int) -> Completion:
    """The terms of a taxonomy that was written as if it were a fact: ``topic:food`` is ``term:topic/food``."""
    begun = f"{spot.fact}/"
    if spot.start > spot.name + len(begun):
        return Completion(spot.start, spot.end, "value", ())  # A further value, for which the first would have to go.
    found = choices(index, document, "term", begun + spot.typed, limit)
    whole = index.size if spot.negated else None
    offers = [_value_offer(choice, "term", "page", whole) for choice in found if choice.text.startswith(begun)]
    return Completion(spot.name, spot.end, "value", tuple(replace(one, insert=f"term:{one.insert}") for one in offers))


def _fact_offer(choice: Choice, domain: Domain) -> Offer:
    insert = choice.text if choice.text == "all" or choice.text.endswith(".") else f"{choice.text}:"
    return Offer(insert, choice.text, choice.about, choice.pages if domain == "page" else None)


def _value_offer(choice: Choice, fact: str, domain: Domain, whole: int | None) -> Offer:
    """``whole``: the number of all pages, where the term is negated."""
    needs_quotes = FACTS[domain][fact].needs_quotes(Value(choice.text, choice.wild))
    pages = choice.pages if whole is None else whole - choice.pages
    return Offer(
        quote(choice.text) if needs_quotes else choice.text,
        choice.label,
        choice.about,
        pages if domain == "page" else None,
    )


def _spot(text: str, caret: int) -> _Spot:
    """Read the term that the caret stands in; what is not closed yet ends where its clause does."""
    at = 0
    while True:
        while at < len(text) and (text[at].isspace() or text[at] == "|"):
            at += 1
        begin = at
        negated = at < len(text) and text[at] == "-"
        at += negated
        start = at
        while at < len(text) and text[at] not in ':|,"' and not text[at].isspace():
            at += 1
        if caret <= at:
            if caret < begin:
                # Between two terms: a new one begins at the caret.
                return _Spot(caret, caret, "")
            return _Spot(min(start, caret), at, text[start:caret])
        if at < len(text) and text[at] == ":":
            name, fact = start, text[start:at]
            while at < len(text) and text[at] in ":,":
                start = at = at + 1
                typed, at = _value(text, at, caret)
                if caret <= at:
                    return _Spot(start, at, typed, fact, negated, name)
        elif at < len(text) and text[at] in ',"':
            at += 1


def _value(text: str, start: int, caret: int) -> tuple[str, int]:
    """The part of a value before the caret, and the place after the value."""
    if text[start : start + 1] == '"':
        at = start + 1
        while at < len(text) and text[at] != '"':
            at += 2 if text[at] == "\\" else 1
        end = min(at + 1, len(text))
        return text[start + 1 : min(caret, at)].replace('\\"', '"').replace("\\\\", "\\"), end
    at = start
    while at < len(text) and text[at] not in ',|"' and not text[at].isspace():
        at += 1
    return text[start:caret], at
