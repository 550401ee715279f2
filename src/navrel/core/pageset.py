"""Sets of pages as packed bits: one bit a page, in tree order."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Bits = NDArray[np.uint8]
Codes = NDArray[np.int32]


@dataclass(frozen=True, eq=False)
class PageSet:
    """A set of page numbers below ``size``.

    ``bits`` has shape (8 * ceil(size / 64),), dtype uint8, big-endian within a byte: whole 64-bit words, so that
    questions about all bits are asked a word at a time. The padding bits after ``size`` are always 0, so that
    counts and comparisons need no care. Memory: an eighth of a byte a page.
    """

    bits: Bits
    size: int

    @classmethod
    def from_mask(cls, mask: NDArray[np.bool_]) -> PageSet:
        """The set of the places where ``mask``, shape (size,), is true."""
        packed = np.packbits(mask)
        bits = cls._no_bits(len(mask))
        bits[: len(packed)] = packed
        return cls(bits, len(mask))

    @classmethod
    def of(cls, numbers: Iterable[int] | NDArray[np.intp], size: int) -> PageSet:
        """The set of these page numbers."""
        mask = np.zeros(size, dtype=np.bool_)
        mask[np.fromiter(numbers, dtype=np.intp) if not isinstance(numbers, np.ndarray) else numbers] = True
        return cls.from_mask(mask)

    @classmethod
    def none(cls, size: int) -> PageSet:
        return cls(cls._no_bits(size), size)

    @classmethod
    def everything(cls, size: int) -> PageSet:
        return ~cls.none(size)

    @classmethod
    def union(cls, sets: Iterable[PageSet], size: int) -> PageSet:
        """The pages that are in any of the sets."""
        found = cls.none(size)
        for one in sets:
            np.bitwise_or(found.bits, one.bits, out=found.bits)
        return found

    @staticmethod
    def _no_bits(size: int) -> Bits:
        return np.zeros((size + 63) // 64 * 8, dtype=np.uint8)

    def __and__(self, other: PageSet) -> PageSet:
        return PageSet(self.bits & other.bits, self.size)

    def __or__(self, other: PageSet) -> PageSet:
        return PageSet(self.bits | other.bits, self.size)

    def __sub__(self, other: PageSet) -> PageSet:
        return PageSet(self.bits & ~other.bits, self.size)

    def __invert__(self) -> PageSet:
        inverted = ~self.bits
        inverted[(self.size + 7) // 8 :] = 0
        if self.size % 8:
            inverted[self.size // 8] &= (0xFF << (8 - self.size % 8)) & 0xFF
        return PageSet(inverted, self.size)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, PageSet) and self.size == other.size and np.array_equal(self.bits, other.bits)

    def __hash__(self) -> int:
        return hash((self.bits.tobytes(), self.size))

    def __bool__(self) -> bool:
        return bool(np.bitwise_or.reduce(self.words))

    def __len__(self) -> int:
        return int(np.bitwise_count(self.words).sum())

    def __contains__(self, number: int) -> bool:
        return bool(self.bits[number >> 3] >> (7 - (number & 7)) & 1)

    @property
    def words(self) -> NDArray[np.uint64]:
        """The bits eight bytes at a time, shape (ceil(size / 64),)."""
        return self.bits.view(np.uint64)

    def mask(self) -> NDArray[np.bool_]:
        """The same as booleans, shape (size,)."""
        return np.unpackbits(self.bits, count=self.size).view(np.bool_)

    def numbers(self) -> NDArray[np.intp]:
        """The page numbers in it, ascending."""
        bytes_held = np.flatnonzero(self.bits)
        if len(bytes_held) * 4 > len(self.bits):
            return np.flatnonzero(self.mask())
        # Few bytes hold anything: only they are opened.
        places = np.flatnonzero(np.unpackbits(self.bits[bytes_held]))
        found: NDArray[np.intp] = (bytes_held[places >> 3] << 3) | (places & 7)
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
