"""Amounts that may be known only between two bounds, so that a gap in the record never turns into a made-up number."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from math import fsum, inf
from typing import ClassVar

from metrograph.core.visitor import Textless


class Range(Textless, frozen=True, gc=False, array_like=True):
    """How much of something there is, or a moment counted from a run's start, between two bounds.

    Times are in seconds. Bounds are rounded to the thousandth after every sum. A log holds whole milliseconds, so sums
    of its times are exact and can be compared with ``==``.

    low: at least so much.
    high: at most so much; None when nobody knows how much more it was.
    """

    about: ClassVar[bool] = False
    """Whether a guess went into it."""

    low: float = 0.0
    high: float | None = 0.0

    def __add__(self, other: Range) -> Range:
        low = round(self.low + other.low, 3)
        if self.low == self.high and other.low == other.high:
            high: float | None = low  # most moments are exact, and rounding is what takes the time
        else:
            high = None if self.high is None or other.high is None else round(self.high + other.high, 3)
        return About(low, high) if self.about or other.about else Range(low, high)

    @property
    def exact(self) -> bool:
        """Whether both bounds are the same."""
        return self.low == self.high

    @property
    def middle(self) -> float:
        """Where to begin to look for it: half-way between the bounds, or the lower one when the upper is open."""
        return self.low if self.high is None else (self.low + self.high) / 2

    def guessed(self, width: float) -> Range:
        """What it may be when it was only guessed. width: how far to either side, as a part of it."""
        high = None if self.high is None else round(self.high + abs(self.high) * width, 3)
        return About(round(self.low - abs(self.low) * width, 3), high)

    def as_guess(self) -> Range:
        """This range, with the mark of a guess."""
        return About(self.low, self.high)


class About(Range, frozen=True, gc=False, array_like=True):
    """A range that a guess went into."""

    about: ClassVar[bool] = True


ZERO = Range()


def made_of(parts: Iterable[Range], low: float, high: float | None) -> Range:
    """A range that was worked out from others; a guess in one of them makes it one."""
    for part in parts:
        if part.about:
            return About(low, high)
    return Range(low, high)


def exactly(milliseconds: int) -> Range:
    """A range of no width, from whole milliseconds."""
    seconds = milliseconds / 1000
    return Range(seconds, seconds)


def total(ranges: Iterable[Range]) -> Range:
    """The sum of ranges; ``ZERO`` when there are none."""
    all_of = tuple(ranges)
    if len(all_of) < 2:
        return all_of[0] if all_of else ZERO
    if all(item.low == item.high for item in all_of):
        low = round(fsum([item.low for item in all_of]), 3)
        return made_of(all_of, low, low)
    highs = [item.high for item in all_of if item.high is not None]
    high = round(fsum(highs), 3) if len(highs) == len(all_of) else None
    return made_of(all_of, round(fsum([item.low for item in all_of]), 3), high)


def difference(before: Range, after: Range) -> tuple[float | None, float | None]:
    """How much more ``after`` is, between two bounds; None for a bound that is open."""
    low = None if before.high is None else round(after.low - before.high, 3)
    high = None if after.high is None else round(after.high - before.low, 3)
    return low, high


def share(part: Range, whole: Range) -> Range | None:
    """Which part of a whole something is, both known between bounds; None where the whole may be nothing."""
    if not whole.low:
        return None
    low = 0.0 if whole.high is None else part.low / whole.high if whole.high else 0.0
    return made_of((part, whole), low, None if part.high is None else part.high / whole.low)


def median(ranges: Sequence[Range]) -> Range:
    """The median of the lower bounds with that of the upper ones; open when the upper falls on an open one.

    Raises ValueError when there are none.
    """
    from statistics import median as middle  # every cue needs ranges, and none of them a median

    if not ranges:
        raise ValueError("no ranges")
    low = middle(item.low for item in ranges)
    high = middle(inf if item.high is None else item.high for item in ranges)
    return made_of(ranges, round(low, 3), None if high == inf else round(high, 3))
