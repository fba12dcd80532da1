"""A run laid out in time: for every moment whose it is, and where it belongs."""

from __future__ import annotations

from bisect import bisect_right
from functools import cached_property

import msgspec

from metrograph.log.quantities.ranges import Range
from metrograph.run.folding.beats import Beat, joined, seconds
from metrograph.run.folding.spans import Span, Spans
from metrograph.run.records import Who


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


class Place(msgspec.Struct, frozen=True, gc=False):
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


class Timeline(msgspec.Struct, frozen=True, dict=True):
    """A run laid out in time.

    beats: from cue to cue, so that every cue stands between two of them.
    steps: for each beat where it stands among the cues: n between cue n-1 and cue n, n + 0.5 the cut that cue n is.
    places: one for each cue, in the same order.
    returns: how often each visit's screen was come back to.
    dropped: what is not on the way to the end, as it was gone through again or given up, by cues.
    """

    beats: tuple[Beat, ...]
    steps: tuple[float, ...]
    places: tuple[Place, ...]
    visits: tuple[Visit, ...]
    returns: tuple[int, ...]
    dropped: tuple[Span, ...]

    def between(self, begin: int, end: int) -> tuple[Beat, ...]:
        """The beats from one cue to another, by their indices."""
        return self.beats[bisect_right(self.steps, begin) : bisect_right(self.steps, end)]

    def spent(self, begin: int, end: int) -> Range:
        """How long it was from one cue to another, by their indices, pauses left out."""
        first, last = (self._sums[bisect_right(self.steps, index)] for index in (begin, end))
        is_open = last[2] > first[2]
        return seconds(last[0] - first[0], None if is_open else last[1] - first[1])

    @cached_property
    def _sums(self) -> list[tuple[int, int, int]]:
        """For each number of beats what so many of the first come to: their bounds, and how many are open."""
        low = high = is_open = 0
        sums = [(low, high, is_open)]
        for beat in self.beats:
            if beat.who != "paused":
                low, high, is_open = low + beat.low, high + (beat.high or 0), is_open + (beat.high is None)
            sums.append((low, high, is_open))
        return sums

    @property
    def kept_beats(self) -> list[Beat]:
        """The beats that are on the way that led to the end."""
        if not self.dropped:
            return list(self.beats)
        pairs = zip(self.beats, self.steps, strict=True)
        return [beat for beat, step in pairs if not self.in_vain.holds_step(step)]

    @cached_property
    def joined(self) -> tuple[Beat, ...]:
        """The beats, neighbours made one where nothing changes between them."""
        return joined(self.beats)

    def is_kept(self, visit: Visit) -> bool:
        """Whether a screen is on the way that led to the end."""
        return not self.in_vain.holds_cue(visit.index)

    @cached_property
    def in_vain(self) -> Spans:
        """What is not on that way."""
        return Spans(self.dropped)
