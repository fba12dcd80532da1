"""A run laid out in time: for every moment whose it is, and where it belongs."""

from __future__ import annotations

from bisect import bisect_right
from functools import cached_property
from typing import NamedTuple

import msgspec

from metrograph.log.quantities.ranges import ZERO, Range
from metrograph.run.folding.spans import Span, Spans
from metrograph.run.records import Stretch, Who


class Visit(msgspec.Struct, frozen=True):
    """A screen as it was first seen in an attempt.

    start: on the clock; index: of the cue that brought it up.
    """

    title: str
    kind: str
    phase: str
    attempt: int
    start: Range
    index: int


class Place(msgspec.Struct, frozen=True):
    """Where a run stands right after a cue.

    screen: index into the timeline's visits.
    tasks: what goes on by itself beside it, the latest last.
    """

    clock: Range
    who: Who
    phase: str
    attempt: int
    screen: int | None
    updated: bool
    tasks: tuple[str, ...] = ()


class _Sum(NamedTuple):
    """What the stretches up to one of them come to: their bounds, how many are open, and in how many a guess is."""

    low: float = 0.0
    high: float = 0.0
    open: int = 0
    guessed: int = 0


class Timeline(msgspec.Struct, frozen=True, dict=True):
    """A run laid out in time.

    stretches: from cue to cue, so that every cue stands between two of them.
    steps: for each stretch where it stands among the cues: n between cue n-1 and cue n, n + 0.5 the cut that cue n is.
    places: one for each cue, in the same order.
    returns: how often each visit's screen was come back to.
    dropped: what is not on the way to the end, as it was gone through again or given up, by cues.
    """

    stretches: tuple[Stretch, ...]
    steps: tuple[float, ...]
    places: tuple[Place, ...]
    visits: tuple[Visit, ...]
    returns: tuple[int, ...]
    dropped: tuple[Span, ...]

    def between(self, begin: int, end: int) -> tuple[Stretch, ...]:
        """The stretches from one cue to another, by their indices."""
        return self.stretches[bisect_right(self.steps, begin) : bisect_right(self.steps, end)]

    def spent(self, begin: int, end: int) -> Range:
        """How long it was from one cue to another, by their indices, pauses left out."""
        first, last = (self._sums[bisect_right(self.steps, index)] for index in (begin, end))
        high = None if last.open > first.open else round(last.high - first.high, 3)
        spent = Range(round(last.low - first.low, 3), high)
        return spent.as_guess() if last.guessed > first.guessed else spent

    @cached_property
    def _sums(self) -> list[_Sum]:
        """For each number of stretches what so many of the first come to."""
        last = _Sum()
        sums = [last]
        for stretch in self.stretches:
            length = ZERO if stretch.who == "paused" else stretch.length
            last = _Sum(
                last.low + length.low, last.high + (length.high or 0.0), last.open + (length.high is None),
                last.guessed + length.about,
            )  # fmt: skip
            sums.append(last)
        return sums

    def is_kept(self, visit: Visit) -> bool:
        """Whether a screen is on the way that led to the end."""
        return not self.in_vain.holds_cue(visit.index)

    @cached_property
    def in_vain(self) -> Spans:
        """What is not on that way."""
        return Spans(self.dropped)
