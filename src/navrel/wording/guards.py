"""Guards in words: what each asks for, and how a page does not meet it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from navrel.core.layout.model import TEMPLATE, Demand, SettingValue, Target
from navrel.core.questions.guards import Fault

#: The names of pieces, by slug.
Names = Mapping[str, str]


def demand_words(demand: Demand, names: Names) -> str:
    """What a demand asks for, as a sentence without a full stop: `the footer shows nothing`."""
    target = demand.target
    where = _place(target)
    match demand.kind:
        case "shows":
            return f"{where} shows something"
        case "bare":
            return f"{where} shows nothing"
        case "holds":
            return f"{where} shows {_listed(demand.pieces, names)}"
        case "lacks":
            return f"{where} does not show {_listed(demand.pieces, names, 'or')}"
        case "is" if target == TEMPLATE:
            return f"the template is {_listed(demand.pieces, names, 'or')}"
        case "is" if target is not None and target.kind == "setting":
            return f"{where} is {' or '.join(map(_value, demand.values))}"
        case "is":
            return f"{where} shows {_row(demand.pieces, names)} and nothing else"
    return f"the page shows {f'at most {demand.most}' if demand.most else 'no'} {_counted(demand, names)}"


def fault_words(demand: Demand, fault: Fault, names: Names) -> str:
    """How a page does not meet a demand: `the footer shows Site footer, by “Site footer”`."""
    by = f", by “{fault.by}”" if fault.by else ""
    where = _place(demand.target)
    match demand.kind:
        case "holds":
            return f"{where} does not show {_listed(fault.found, names, 'or')}{by}"
        case "is" if demand.target == TEMPLATE:
            return f"the template is {_row(fault.found, names) or 'none'}{by}"
        case "is" if demand.target is not None and demand.target.kind == "setting":
            return f"{where} is {_value(fault.value)}{by}"
        case "at-most" | "lacks":
            return f"{where} shows {_listed(fault.found, names)}{by}"
    return f"{where} shows {_row(fault.found, names) or 'nothing'}{by}"


def _place(target: Target | None) -> str:
    if target is None:
        return "the page"
    name = target.name.replace("-", " ")
    return f"the setting {name}" if target.kind == "setting" else f"the {name or 'template'}"


def _counted(demand: Demand, names: Names) -> str:
    """Of what there may be so many: `widgets`, `piece with the item notice`, `of Main header, Slim header`."""
    many = "s" if demand.most > 1 else ""
    if demand.pieces:
        return f"{'' if demand.most else f'piece{many} '}of {_row(demand.pieces, names, ', ')}"
    return f"{demand.piece_kind}{many}" if demand.piece_kind else f"piece{many} with the item {demand.item}"


def _listed(slugs: Sequence[str], names: Names, last: str = "and") -> str:
    told = [names.get(slug, slug) for slug in slugs]
    return f"{', '.join(told[:-1])} {last} {told[-1]}" if len(told) > 1 else "".join(told)


def _row(slugs: Sequence[str], names: Names, between: str = " + ") -> str:
    return between.join(names.get(slug, slug) for slug in slugs)


def _value(value: SettingValue | None) -> str:
    if isinstance(value, bool):
        return "on" if value else "off"
    return str(value) or "nothing"
