"""Sets of pages as packed bits: one bit a page, in tree order."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

Words = NDArray[np.uint64]
Codes = NDArray[np.int32]


@dataclass(frozen=True, eq=False)
class PageSet:
    """A set of page numbers below ``size``.

    ``words`` has shape (ceil(size / 64),), dtype uint64; its bytes hold the bits, big-endian within a byte. The
    padding bits after ``size`` are always 0, so that counts and comparisons need no care. Memory: an eighth of a
    byte a page.
    """

    words: Words
    size: int

    @classmethod
    def from_mask(cls, mask: NDArray[np.bool_]) -> PageSet:
        """The set of the places where ``mask``, shape (size,), is true."""
        found = cls.none(len(mask))
        packed = np.packbits(mask)
        found.bits[: len(packed)] = packed
        return found

    @classmethod
    def of(cls, numbers: Iterable[int] | NDArray[np.intp], size: int) -> PageSet:
        """The set of these page numbers."""
        mask = np.zeros(size, dtype=np.bool_)
        mask[np.fromiter(numbers, dtype=np.intp) if not isinstance(numbers, np.ndarray) else numbers] = True
        return cls.from_mask(mask)

    @classmethod
    def none(cls, size: int) -> PageSet:
        return cls(np.zeros((size + 63) // 64, dtype=np.uint64), size)

    @classmethod
    def everything(cls, size: int) -> PageSet:
        return ~cls.none(size)

    @classmethod
    def union(cls, sets: Iterable[PageSet], size: int) -> PageSet:
        """The pages that are in any of the sets."""
        found = cls.none(size)
        for one in sets:
            np.bitwise_or(found.words, one.words, out=found.words)
        return found

    def __and__(self, other: PageSet) -> PageSet:
        return PageSet(self.words & other.words, self.size)

    def __or__(self, other: PageSet) -> PageSet:
        return PageSet(self.words | other.words, self.size)

    def __sub__(self, other: PageSet) -> PageSet:
        return PageSet(self.words & ~other.words, self.size)

    def __invert__(self) -> PageSet:
        inverted = PageSet(~self.words, self.size)
        inverted.bits[(self.size + 7) // 8 :] = 0
        if self.size % 8:
            inverted.bits[self.size // 8] &= (0xFF << (8 - self.size % 8)) & 0xFF
        return inverted

    def __eq__(self, other: object) -> bool:
        return isinstance(other, PageSet) and self.size == other.size and np.array_equal(self.words, other.words)

    def __hash__(self) -> int:
        return hash((self.words.tobytes(), self.size))

    def __bool__(self) -> bool:
        return bool(np.count_nonzero(self.words))

    def __len__(self) -> int:
        return int(np.bitwise_count(self.words).sum())

    def __contains__(self, number: int) -> bool:
        return bool(self.bits[number >> 3] >> (7 - (number & 7)) & 1)

    @cached_property
    def span(self) -> slice:
        """The words from the first to the last that hold anything; a section of a site is few of them."""
        held = np.flatnonzero(self.words)
        return slice(int(held[0]), int(held[-1]) + 1) if len(held) else slice(0, 0)

    @cached_property
    def held(self) -> Words:
        """The words of that span, a view."""
        return self.words[self.span]

    @property
    def bits(self) -> NDArray[np.uint8]:
        """The same bytes one at a time, shape (8 * ceil(size / 64),)."""
        return self.words.view(np.uint8)

    def mask(self) -> NDArray[np.bool_]:
        """The same as booleans, shape (size,)."""
        return np.unpackbits(self.bits, count=self.size).view(np.bool_)

    def numbers(self) -> NDArray[np.intp]:
        """The page numbers in it, ascending."""
        held = np.flatnonzero(self.words)
        if len(held) * 4 > len(self.words):
            return np.flatnonzero(self.mask())
        # Few words hold anything: only they are opened.
        places = np.flatnonzero(np.unpackbits(self.words[held].view(np.uint8)))
        found: NDArray[np.intp] = (held[places >> 6] << 6) | (places & 63)
        return found


def combine(columns: Iterable[Codes], size: int) -> tuple[Codes, NDArray[np.intp]]:
    """Number the places at which all columns agree, from 0, and give one place of each number.

    Each column has shape (size,) and codes from 0 on; so has the first result. The second has one entry a number.
    """
    codes = np.zeros(size, dtype=np.int64)
    firsts = np.zeros(min(size, 1), dtype=np.intp)
    for column in columns:
        if not size or not column.any():
            continue
        _, firsts, codes = np.unique(codes * (int(column.max()) + 1) + column, return_index=True, return_inverse=True)
    return codes.astype(np.int32), firsts
