"""Sets of pages as packed bits: one bit a page, in tree order."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Bits = NDArray[np.uint8]


@dataclass(frozen=True, eq=False)
class PageSet:
    """A set of page numbers below ``size``.

    ``bits`` has shape (ceil(size / 8),), dtype uint8, big-endian within a byte; the padding bits of the last
    byte are always 0, so that counts and comparisons need no care. Memory: an eighth of a byte a page.
    """

    bits: Bits
    size: int

    @classmethod
    def from_mask(cls, mask: NDArray[np.bool_]) -> PageSet:
        """The set of the places where ``mask``, shape (size,), is true."""
        return cls(np.packbits(mask), len(mask))

    @classmethod
    def of(cls, numbers: Iterable[int] | NDArray[np.intp], size: int) -> PageSet:
        """The set of these page numbers."""
        mask = np.zeros(size, dtype=np.bool_)
        mask[np.fromiter(numbers, dtype=np.intp) if not isinstance(numbers, np.ndarray) else numbers] = True
        return cls.from_mask(mask)

    @classmethod
    def none(cls, size: int) -> PageSet:
        return cls(np.zeros((size + 7) // 8, dtype=np.uint8), size)

    @classmethod
    def everything(cls, size: int) -> PageSet:
        return ~cls.none(size)

    def __and__(self, other: PageSet) -> PageSet:
        return PageSet(self.bits & other.bits, self.size)

    def __or__(self, other: PageSet) -> PageSet:
        return PageSet(self.bits | other.bits, self.size)

    def __sub__(self, other: PageSet) -> PageSet:
        return PageSet(self.bits & ~other.bits, self.size)

    def __invert__(self) -> PageSet:
        inverted = ~self.bits
        if self.size % 8:
            inverted[-1] &= (0xFF << (8 - self.size % 8)) & 0xFF
        return PageSet(inverted, self.size)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, PageSet) and self.size == other.size and np.array_equal(self.bits, other.bits)

    def __hash__(self) -> int:
        return hash((self.bits.tobytes(), self.size))

    def __bool__(self) -> bool:
        return bool(self.bits.any())

    def __len__(self) -> int:
        return int(np.bitwise_count(self.bits).sum())

    def __contains__(self, number: int) -> bool:
        return bool(self.bits[number >> 3] >> (7 - (number & 7)) & 1)

    def mask(self) -> NDArray[np.bool_]:
        """The same as booleans, shape (size,)."""
        return np.unpackbits(self.bits, count=self.size).view(np.bool_)

    def numbers(self) -> NDArray[np.intp]:
        """The page numbers in it, ascending."""
        return np.flatnonzero(self.mask())
