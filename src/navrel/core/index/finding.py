"""Finding texts that contain some letters, as quickly among a hundred thousand as among a thousand.

Every three letters in a row are filed with the entries that have them; an entry that a text is looked for in has to
have each three of it, and only those that have the rarest three are looked at.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import islice

import numpy as np
from numpy.typing import NDArray

#: Stand before an entry's first text, between its two, and after them; no text holds them.
_BEGIN, _BETWEEN, _END = "\x02", "\x03", "\x04"
#: Entries that are looked at one by one rather than met by their letters: where so many have the rarest three, most of
#: the first will do.
_FEW = 2_000


class TextFinder:
    """Entries of two texts each, in an order. Memory: about twelve bytes for each letter."""

    def __init__(self, entries: Sequence[tuple[str, str]]) -> None:
        self._entries = [f"{_BEGIN}{one.lower()}{_BETWEEN}{other.lower()}{_END}{_END}" for one, other in entries]
        letters = [np.frombuffer(entry.encode(), dtype=np.uint8).astype(np.int64) for entry in self._entries]
        grams = [found[:-2] << 16 | found[1:-1] << 8 | found[2:] for found in letters]
        lengths = [len(found) for found in grams]
        owners = np.repeat(np.arange(len(entries), dtype=np.int64), lengths)
        every = np.concatenate(grams) if grams else np.zeros(0, dtype=np.int64)
        #: Three letters in the high bits, an entry that has them in the low ones; ascending, each once.
        self._filed: NDArray[np.int64] = np.unique(every << 32 | owners)

    def find(self, text: str, limit: int) -> list[int]:
        """Up to ``limit`` entries that contain a text in any case: those that begin with it first, else in order."""
        word = text.lower()
        if not word:
            return list(range(min(limit, len(self._entries))))
        found: dict[int, None] = {}
        starts = sorted({*self._containing(_BEGIN + word, limit), *self._containing(_BETWEEN + word, limit)})
        found.update(dict.fromkeys(starts))
        if len(found) < limit:
            # Those that begin with it come up again, so that many more are looked for.
            found.update(dict.fromkeys(self._containing(word, limit + len(starts))))
        return list(found)[:limit]

    def _containing(self, part: str, limit: int) -> list[int]:
        """Up to ``limit`` entries that contain a part, in order."""
        return list(islice((number for number in self._candidates(part) if part in self._entries[number]), limit))

    def _candidates(self, part: str) -> Iterator[int]:
        """Entries that may hold a part, in order: the rarest of its three letters in a row decides."""
        letters = part.encode()
        windows = {letters[at : at + 3] for at in range(max(1, len(letters) - 2))}
        low, high = min((self._range(window) for window in windows), key=lambda one: one[1] - one[0])
        if high - low <= _FEW:
            yield from np.unique(self._filed[low:high] & 0xFFFFFFFF).tolist()
        elif len(letters) < 3:
            yield from range(len(self._entries))
        else:
            for at in range(low, high, _FEW):
                yield from (self._filed[at : min(at + _FEW, high)] & 0xFFFFFFFF).tolist()

    def _range(self, window: bytes) -> tuple[int, int]:
        """Where the entries stand that have up to three letters in a row."""
        first = int.from_bytes(window.ljust(3, b"\0"), "big")
        after = first + (1 << 8 * (3 - len(window)))
        low, high = np.searchsorted(self._filed, [first << 32, after << 32]).tolist()
        return low, high
