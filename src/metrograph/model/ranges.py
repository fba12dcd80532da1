"""Times that may be known only between two bounds, so that a cut in the record never turns into a made-up number."""

from __future__ import annotations

from collections.abc import Iterable
from math import fsum

import msgspec


class Range(msgspec.Struct, frozen=True, array_like=True):
    """A duration, or a moment counted from a run's start, that lies between two bounds.

    Bounds are rounded to the millisecond after every sum. A log holds whole milliseconds, so sums of its times are
    exact and can be compared with ``==``.

    low: seconds.
    high: seconds; None when nobody knows how much more it was.
    """

    low: float = 0.0
    high: float | None = 0.0

    def __add__(self, other: Range) -> Range:
        high = None if self.high is None or other.high is None else round(self.high + other.high, 3)
        return Range(round(self.low + other.low, 3), high)

    @property
    def exact(self) -> bool:
        """Whether both bounds are the same."""
        return self.low == self.high

    @property
    def middle(self) -> float:
        """Seconds to draw it at: half-way between the bounds, or the lower one when the upper is open."""
        return self.low if self.high is None else (self.low + self.high) / 2


ZERO = Range()


def exactly(milliseconds: int) -> Range:
    """A range of no width, from whole milliseconds."""
    seconds = milliseconds / 1000
    return Range(seconds, seconds)


def total(ranges: Iterable[Range]) -> Range:
    """The sum of ranges; ``ZERO`` when there are none."""
    all_of = tuple(ranges)
    highs = [each.high for each in all_of if each.high is not None]
    high = round(fsum(highs), 3) if len(highs) == len(all_of) else None
    return Range(round(fsum(each.low for each in all_of), 3), high)


def difference(before: Range, after: Range) -> tuple[float | None, float | None]:
    """How much longer ``after`` is, in seconds, between two bounds; None for a bound that is open."""
    low = None if before.high is None else round(after.low - before.high, 3)
    high = None if after.high is None else round(after.high - before.low, 3)
    return low, high


def median(ranges: list[Range]) -> Range:
    """The median of the lower bounds with that of the upper ones; open when the upper falls on an open one.

    Raises ValueError when there are none.
    """
    if not ranges:
        raise ValueError("no ranges")
    highs = sorted(float("inf") if each.high is None else each.high for each in ranges)
    high = middle_of(highs)
    return Range(middle_of(sorted(each.low for each in ranges)), None if high == float("inf") else high)


def middle_of(numbers: list[float]) -> float:
    """The median of numbers that are sorted and at least one."""
    half, odd = divmod(len(numbers), 2)
    return numbers[half] if odd else round((numbers[half - 1] + numbers[half]) / 2, 3)
