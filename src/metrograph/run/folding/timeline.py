"""A run laid out in time: for every moment whose it is, and where it belongs."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterable
from functools import cached_property
from itertools import accumulate

import msgspec

from metrograph.log.cues import Cue
from metrograph.log.lexicon import Lexicon
from metrograph.log.quantities.ranges import Range
from metrograph.log.verbs import PHASES
from metrograph.run.folding.intervals import Interval, joined, seconds
from metrograph.run.records import Who

Span = tuple[int, int]
"""From one cue to another, by their indices; -1 is power-on."""


class Spans:
    """Some spans together, ready to be asked: however many there are, an answer takes hardly longer."""

    def __init__(self, spans: Iterable[Span]) -> None:
        ordered = sorted(spans)
        self._begins = [begin for begin, _ in ordered]
        # Of all spans that begin up to one of them, how far the longest reaches.
        self._reach = list(accumulate((end for _, end in ordered), max))

    def __bool__(self) -> bool:
        return bool(self._begins)

    def holds_step(self, step: float) -> bool:
        """Whether a step lies in one of them: after the cue that it begins with, up to the one that it ends with."""
        count = bisect_left(self._begins, step)
        return count > 0 and self._reach[count - 1] >= step

    def holds_cue(self, index: int) -> bool:
        """Whether a cue does: the first one included, the last one not."""
        count = bisect_right(self._begins, index)
        return count > 0 and self._reach[count - 1] > index


_BEFORE_THE_DESKTOP = frozenset(PHASES[: PHASES.index("tour")])
_STARTS_ANEW = "boot-menu"
UPDATE = "update"
"""The phase, and the task, in which the system is brought up to date."""


def moves_on(kind: str, phase: str, current: str, given: bool, there: bool) -> bool:
    """Whether a screen of this kind, at home in ``phase``, moves a run there from the current one.

    given: whether a person named the current phase. It holds then against screens of the same part and of earlier ones,
        and one with a name of the person's own against all: whoever named it knows better than a title does.
    there: whether the desktop was reached. No title moves a run back before it then: what looks like a question of the
        installer is a window of the desktop's.
    """
    if phase == current:
        return False
    if kind == _STARTS_ANEW and not there:
        return True
    if there and phase in _BEFORE_THE_DESKTOP:
        return False
    return not given or _comes_later(phase, current)


def _comes_later(phase: str, current: str) -> bool:
    known = current in PHASES and phase in PHASES
    return known and PHASES.index(phase) > PHASES.index(current)


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


class CuePlace(msgspec.Struct, frozen=True, gc=False):
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

    intervals: from cue to cue, so that every cue stands between two of them.
    steps: for each interval where it stands among the cues: n between cue n-1 and cue n, n + 0.5 the cut that cue n is.
    places: one for each cue, in the same order.
    returns: how often each visit's screen was come back to.
    dropped: what is not on the way to the end, as it was gone through again or given up, by cues.
    """

    intervals: tuple[Interval, ...]
    steps: tuple[float, ...]
    places: tuple[CuePlace, ...]
    visits: tuple[Visit, ...]
    returns: tuple[int, ...]
    dropped: tuple[Span, ...]

    def between(self, begin: int, end: int) -> tuple[Interval, ...]:
        """The intervals from one cue to another, by their indices."""
        return self.intervals[bisect_right(self.steps, begin) : bisect_right(self.steps, end)]

    def spent(self, begin: int, end: int) -> Range:
        """How long it was from one cue to another, by their indices, pauses left out."""
        first, last = (self._sums[bisect_right(self.steps, index)] for index in (begin, end))
        is_open = last[2] > first[2]
        return seconds(last[0] - first[0], None if is_open else last[1] - first[1])

    @cached_property
    def _sums(self) -> list[tuple[int, int, int]]:
        """For each number of intervals what so many of the first come to: their bounds, and how many are open."""
        low = high = is_open = 0
        sums = [(low, high, is_open)]
        for interval in self.intervals:
            if interval.who != "paused":
                low, high, is_open = low + interval.low, high + (interval.high or 0), is_open + (interval.high is None)
            sums.append((low, high, is_open))
        return sums

    @property
    def kept_intervals(self) -> list[Interval]:
        """The intervals that are on the way that led to the end."""
        if not self.dropped:
            return list(self.intervals)
        pairs = zip(self.intervals, self.steps, strict=True)
        return [interval for interval, step in pairs if not self.discarded.holds_step(step)]

    @cached_property
    def joined(self) -> tuple[Interval, ...]:
        """The intervals, neighbours made one where nothing changes between them."""
        return joined(self.intervals)

    def is_kept(self, visit: Visit) -> bool:
        """Whether a screen is on the way that led to the end."""
        return not self.discarded.holds_cue(visit.index)

    @cached_property
    def discarded(self) -> Spans:
        """The intervals that are not on the way that led to the end."""
        return Spans(self.dropped)


class RunContext(msgspec.Struct, frozen=True, dict=True):
    """The cues of a log in the order of time, where each stands, and what screens are for."""

    cues: tuple[Cue, ...]
    timeline: Timeline
    lexicon: Lexicon

    def of(self, *verbs: str) -> list[tuple[Cue, CuePlace]]:
        """The cues of some verbs, each with its place."""
        return [(self.cues[index], self.timeline.places[index]) for index in self.where(*verbs)]

    def where(self, *verbs: str) -> list[int]:
        """The indices of the cues of some verbs."""
        if len(verbs) == 1:
            return self._by_verb.get(verbs[0], [])
        return sorted([index for verb in verbs for index in self._by_verb.get(verb, ())])

    @cached_property
    def _by_verb(self) -> dict[str, list[int]]:
        """Where the cues of each verb stand."""
        places: dict[str, list[int]] = {}
        for index, cue in enumerate(self.cues):
            places.setdefault(cue.verb, []).append(index)
        return places

    def last(self, verb: str) -> Cue | None:
        """The last cue of a verb; None when there is none."""
        return next((cue for cue in reversed(self.cues) if cue.verb == verb), None)
