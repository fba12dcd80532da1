"""The pieces of a run from cue to cue, in whole milliseconds: their sums are exact, and nothing needs rounding."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from itertools import groupby
from typing import TypeVar

import msgspec

from metrograph.log.quantities.ranges import ZERO, Range
from metrograph.run.records import Stretch, Who

Key = TypeVar("Key", str, int, int | None)


class Beat(msgspec.Struct, frozen=True, gc=False):
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


def joined(beats: Iterable[Beat]) -> tuple[Beat, ...]:
    """These beats with neighbours made one where nothing changes between them: enough for all sums."""
    return tuple(_one(list(alike)) for _, alike in groupby(beats, _nature))


def _nature(beat: Beat) -> object:
    # A cut stays by itself, or its bounds would be smeared over what is known exactly.
    if beat.cut:
        return object()
    return beat.screen, beat.who, beat.phase, beat.attempt, beat.lost, beat.failed


def _one(alike: Sequence[Beat]) -> Beat:
    """Beats that follow each other as one."""
    first = alike[0]
    if len(alike) == 1:
        return first
    return Beat(
        first.start, first.late, *_length(alike), first.who, first.phase, first.screen, first.attempt, first.cut,
        first.lost, first.failed,
    )  # fmt: skip


def by(beats: Iterable[Beat], key: Callable[[Beat], Key]) -> dict[Key, list[Beat]]:
    """The beats of each screen, phase or attempt, in the order in which it first came."""
    groups: dict[Key, list[Beat]] = {}
    for beat in beats:
        groups.setdefault(key(beat), []).append(beat)
    return groups


def together(beats: Sequence[Beat]) -> Range:
    """How long these beats are together, in seconds."""
    return seconds(*_length(beats))


def _length(beats: Sequence[Beat]) -> tuple[int, int | None]:
    low, high = 0, 0
    is_open = False
    for beat in beats:  # a loop, as most of these are one or two
        low += beat.low
        if beat.high is None:
            is_open = True
        else:
            high += beat.high
    return low, None if is_open else high


def on_clock(beats: Iterable[Beat], who: Who | None = None) -> Range:
    """How long these beats are together, pauses left out; of one of the two only, when ``who`` is given."""
    if who is None:
        return together([beat for beat in beats if beat.who != "paused"])
    return together([beat for beat in beats if beat.who == who])


def shared_out(beats: Sequence[Beat]) -> tuple[Range, Range, Range]:
    """How long these beats are together, pauses left out; the person's part of it, and the machine's."""
    owners = {beat.who for beat in beats}
    if len(owners) == 1 and "paused" not in owners:  # as most screens are, which are asked for first of all
        whole = together(beats)
        return (whole, whole, ZERO) if "person" in owners else (whole, ZERO, whole)
    return on_clock(beats), on_clock(beats, "person"), on_clock(beats, "machine")
