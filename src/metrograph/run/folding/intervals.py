"""The pieces of a run from cue to cue, in whole milliseconds: their sums are exact, and nothing needs rounding."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from itertools import groupby
from typing import TypeVar

import msgspec

from metrograph.log.quantities.ranges import ZERO, Range
from metrograph.run.records import Stretch, Who

Key = TypeVar("Key", str, int, int | None)


class Interval(msgspec.Struct, frozen=True, gc=False):
    """A piece of a run in which nothing changes; see ``Stretch``. All times are in milliseconds.

    start, late: how far the clock was, at least and at most; low, high: how long it took, at least and at most.
    None where nobody knows how much more it was.
    """

    start: int
    late: int | None
    low: int
    high: int | None
    who: Who
    phase: str
    screen: int | None
    attempt: int
    cut: bool = False
    lost: bool = False
    failed: bool = False

    @property
    def begin(self) -> Range:
        """The moment at which it begins, in seconds."""
        return seconds(self.start, self.late)

    @property
    def stretch(self) -> Stretch:
        """The stretch of a run that it is, in seconds."""
        return Stretch(
            self.begin, seconds(self.low, self.high), self.who, self.phase, self.screen, self.attempt, self.lost,
            self.cut, self.failed,
        )  # fmt: skip


def seconds(low: int, high: int | None) -> Range:
    """A range in seconds from bounds in milliseconds."""
    least = low / 1000
    return Range(least, least if high == low else None if high is None else high / 1000)


def joined(intervals: Iterable[Interval]) -> tuple[Interval, ...]:
    """These intervals with neighbours made one where nothing changes between them: enough for all sums."""
    return tuple(_one(list(alike)) for _, alike in groupby(intervals, _nature))


def _nature(interval: Interval) -> object:
    # A cut stays by itself, or its bounds would be smeared over what is known exactly.
    if interval.cut:
        return object()
    return interval.screen, interval.who, interval.phase, interval.attempt, interval.lost, interval.failed


def _one(alike: Sequence[Interval]) -> Interval:
    """Intervals that follow each other as one."""
    first = alike[0]
    if len(alike) == 1:
        return first
    return Interval(
        first.start, first.late, *_length(alike), first.who, first.phase, first.screen, first.attempt, first.cut,
        first.lost, first.failed,
    )  # fmt: skip


def by(intervals: Iterable[Interval], key: Callable[[Interval], Key]) -> dict[Key, list[Interval]]:
    """The intervals of each screen, phase or attempt, in the order in which it first came."""
    groups: dict[Key, list[Interval]] = {}
    for interval in intervals:
        groups.setdefault(key(interval), []).append(interval)
    return groups


def together(intervals: Sequence[Interval]) -> Range:
    """How long these intervals are together, in seconds."""
    return seconds(*_length(intervals))


def _length(intervals: Sequence[Interval]) -> tuple[int, int | None]:
    low, high = 0, 0
    is_open = False
    for interval in intervals:  # a loop, as most of these are one or two
        low += interval.low
        if interval.high is None:
            is_open = True
        else:
            high += interval.high
    return low, None if is_open else high


def on_clock(intervals: Iterable[Interval], who: Who | None = None) -> Range:
    """How long these intervals are together, pauses left out; of one of the two only, when ``who`` is given."""
    if who is None:
        return together([interval for interval in intervals if interval.who != "paused"])
    return together([interval for interval in intervals if interval.who == who])


def shared_out(intervals: Sequence[Interval]) -> tuple[Range, Range, Range]:
    """How long these intervals are together, pauses left out; the person's part of it, and the machine's."""
    owners = {interval.who for interval in intervals}
    if len(owners) == 1 and "paused" not in owners:  # as most screens are, which are asked for first of all
        whole = together(intervals)
        return (whole, whole, ZERO) if "person" in owners else (whole, ZERO, whole)
    return on_clock(intervals), on_clock(intervals, "person"), on_clock(intervals, "machine")
