"""A visitor written as terms, such as ``signed:in role:crew device:phone``; and printed the same way."""

from __future__ import annotations

from ..errors import QueryError
from .facts import Value
from .query import Clause, Term, parse_query
from .visitor import Visitor

_ONE_VALUE = ("signed", "device", "browser", "referrer")


def parse_visitor(text: str, language: str) -> Visitor:
    """Read a visitor to a site in ``language``. A comma lists all that hold; what is not given takes its default.

    Raises QueryError.
    """
    query = parse_query(text, "visitor")
    if len(query.clauses) > 1:
        raise QueryError("two-visitors", "a visitor is one clause", 1, hint="leave out the |")
    found: dict[str, tuple[str, ...]] = {}
    parameters: dict[str, str] = {}
    for term in query.terms:
        _check_term(term)
        texts = tuple(value.text for value in term.values)
        if term.fact == "query":
            parameters[term.key] = texts[0]
        else:
            found[term.fact] = found.get(term.fact, ()) + texts
    signed = found.get("signed", ("out",))[0]
    if "role" in found and signed != "in":
        raise QueryError("role-signed-out", "only a signed-in visitor has a role", 1, hint="add signed:in")
    return Visitor(
        signed="in" if signed == "in" else "out",
        roles=frozenset(found.get("role", ())),
        device=found.get("device", ("desktop",))[0],
        browser=found.get("browser", ("other",))[0],
        accepts=found.get("accepts", (language,)),
        query=parameters,
        referrer=found.get("referrer", ("",))[0],
    )


def _check_term(term: Term) -> None:
    if term.negated or term.fact == "all":
        raise QueryError("no-visitor", f"{term} is no fact of one visitor", term.column, term.length)
    if (term.fact in _ONE_VALUE or term.fact == "query") and len(term.values) > 1:
        raise QueryError("one-value", f"a visitor has one {term.fact}", term.column, term.length)


def print_visitor(visitor: Visitor, language: str) -> str:
    """The terms of a visitor to a site in ``language`` that are not the defaults; `parse_visitor` reads them back."""
    plain = Visitor(accepts=(language,))
    stated = [
        ("signed", "", () if visitor.signed == plain.signed else (visitor.signed,)),
        ("role", "", tuple(sorted(visitor.roles))),
        ("device", "", () if visitor.device == plain.device else (visitor.device,)),
        ("browser", "", () if visitor.browser == plain.browser else (visitor.browser,)),
        ("accepts", "", () if visitor.accepts == plain.accepts else visitor.accepts),
        *(("query", key, (text,)) for key, text in sorted(visitor.query.items())),
        ("referrer", "", (visitor.referrer,) if visitor.referrer else ()),
    ]
    return str(
        Clause(
            tuple(
                Term(fact, tuple(Value(text) for text in texts), key, domain="visitor")
                for fact, key, texts in stated
                if texts
            )
        )
    )
