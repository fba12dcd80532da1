"""The axis of time: where the moments of a run stand on it, and which round moments are named below it."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from math import inf

from metrograph.log.quantities.ranges import Range
from metrograph.run.records import Stretch

_STEPS = (1, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 14400, 36000, 86400, 864000)  # seconds

_FADES = 12  # pieces that a fading end is drawn in


def round_moments(seconds: float, most: int, before: float = 0.0) -> list[float]:
    """Round moments up to so many seconds, about ``most`` of them at the most.

    before: how many seconds the axis reaches back beyond its zero.
    """
    step = next((step for step in _STEPS if (seconds + before) / step <= most), _STEPS[-1])
    return [float(step * count) for count in range(-int(before // step), int(seconds // step) + 1)]


def fading(start: float, end: float) -> Iterator[tuple[float, float, float]]:
    """Pieces from one moment to another that get paler: where each begins, how wide it is, and how pale, 0 to 1."""
    width = (end - start) / _FADES
    for step in range(_FADES if width > 0 else 0):
        yield start + step * width, width, (step + 0.5) / _FADES


class Placing:
    """Where the moments of a run stand: each at its latest, so that a cut of unknown length leaves room for all of it.

    Where nobody knows how long a cut was at most, what follows stands at its earliest.
    """

    def __init__(self, stretches: Sequence[Stretch]) -> None:
        self.spans: list[tuple[float, float, float | None]] = []  # start, sure end, possible end; None of an open one
        at = 0.0
        for stretch in stretches:
            sure = at + (0.0 if stretch.who == "paused" else stretch.length.low)
            most = sure if stretch.who == "paused" else _most(at, stretch.length)
            self.spans.append((at, sure, most))
            at = sure if most is None else most
        self.end = at
        self.starts = [_key(stretch.start) for stretch in stretches]

    def at(self, moment: Range) -> float:
        """Where a moment of the clock stands, in seconds along the axis."""
        place = bisect_right(self.starts, _key(moment)) - 1
        if place < 0:
            return moment.low
        return min(self.spans[place][0] + moment.low - self.starts[place][0], self.end)


def _most(at: float, length: Range) -> float | None:
    return None if length.high is None else at + length.high


def _key(moment: Range) -> tuple[float, float]:
    return moment.low, inf if moment.high is None else moment.high
