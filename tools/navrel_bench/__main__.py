"""Run every benchmark, one after the other, and print the figures."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass

from rich.console import Console
from rich.table import Table

from . import core, delivery, interface, published, rendering, traffic


@dataclass(frozen=True)
class Figure:
    """One measured figure. ``value`` has to be at most ``goal`` where ``at_most``, else at least."""

    name: str
    value: float
    goal: float
    unit: str
    met: bool
    detail: str


Measured = Iterator[tuple[str, float, float, str, bool, str]]


def figures(benchmarks: list[Callable[[], Measured]]) -> Iterator[Figure]:
    """The figures of some benchmarks, as they come."""
    for benchmark in benchmarks:
        for name, value, goal, unit, at_most, detail in benchmark():
            met = value <= goal if at_most else value >= goal
            yield Figure(name, round(value, 3), goal, unit, met, detail)


_MEASURES = {
    "core": core.measure, "rendering": rendering.measure, "traffic": traffic.measure, "delivery": delivery.measure,
    "published": published.measure, "interface": interface.measure,
}  # fmt: skip


def main() -> None:
    """Print a table, or with --json a list of figures; of all, or of those that are named."""
    as_json = "--json" in sys.argv[1:]
    named = [name for name in sys.argv[1:] if name != "--json"]
    if unknown := [name for name in named if name not in _MEASURES]:
        sys.exit(f"There is no {unknown[0]} to measure; there is {', '.join(_MEASURES)}.")
    found = []
    for figure in figures([_MEASURES[name] for name in named or _MEASURES]):
        found.append(figure)
        print(f"{figure.name}: {figure.value:g} {figure.unit}", file=sys.stderr, flush=True)
    if as_json:
        print(json.dumps([asdict(figure) for figure in found], indent=2))
        return
    table = Table(title="Navrel benchmarks")
    for column in ("figure", "value", "goal", "unit", "met", "how"):
        table.add_column(column)
    for figure in found:
        row = (figure.name, f"{figure.value:g}", f"{figure.goal:g}", figure.unit, "yes" if figure.met else "no")
        table.add_row(*row, figure.detail)
    Console(width=150).print(table)


main()
