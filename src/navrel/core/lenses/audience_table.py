"""Who sees which look, as a table: visitors who see the same at every time as rows, times that are alike as columns."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .looks import Looks
from .space import Sighting


@dataclass(frozen=True)
class AudienceTable:
    """Which look is seen by whom and when.

    ``visitors``: a sighting a row, of any time; ``times``: a sighting a column, of everyone. ``looks``, shape
    (rows, columns): the number of the look that each row sees at each of the times.
    """

    visitors: tuple[Sighting, ...]
    times: tuple[Sighting, ...]
    looks: NDArray[np.intp]


def audience_table(found: Looks) -> AudienceTable:
    """The smallest such table over the looks of a page; both in the order in which they first come up."""
    kinds, epochs = found.space.shape
    seen = np.empty((kinds, epochs), dtype=np.intp)
    for number, look in enumerate(found.looks):
        of_kind, of_epoch = zip(*look.cells, strict=True)
        seen[of_kind, of_epoch] = number
    rows, columns = _alike(seen), _alike(seen.T)
    everyone, always = range(kinds), list(range(epochs))
    return AudienceTable(
        tuple(found.space.sighting(row, always) for row in rows),
        tuple(found.space.sighting(everyone, column) for column in columns),
        seen[np.ix_([row[0] for row in rows], [column[0] for column in columns])],
    )


def _alike(lines: NDArray[np.intp]) -> list[list[int]]:
    """The numbers of lines that are the same, together."""
    found: dict[bytes, list[int]] = {}
    for number, line in enumerate(lines):
        found.setdefault(line.tobytes(), []).append(number)
    return list(found.values())
