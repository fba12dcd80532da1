"""Walks through the cues of a log in the order of time and says, for every moment, whose it is and where it belongs."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec

from metrograph.language.times import parse_cut
from metrograph.model.cues import Cue
from metrograph.model.lexicon import Lexicon, is_after_restart
from metrograph.model.ranges import ZERO, Range, exactly
from metrograph.model.runs import POWER_ON, Stretch, Who


class Visit(msgspec.Struct, frozen=True):
    """A screen of an attempt as it was first seen; ``start`` is on the clock."""

    title: str
    kind: str
    phase: str
    attempt: int
    start: Range


class Place(msgspec.Struct, frozen=True):
    """Where a run stands right after a cue. screen: index into the timeline's visits."""

    clock: Range
    who: Who
    phase: str
    attempt: int
    screen: int | None
    updated: bool


class Timeline(msgspec.Struct, frozen=True):
    """A run laid out in time.

    stretches: from cue to cue, so that every cue stands between two of them.
    steps: for each stretch where it stands among the cues: n between cue n-1 and cue n, n + 0.5 the cut that cue n is.
    places: one for each cue, in the same order.
    returns: how often each visit's screen was come back to.
    """

    stretches: tuple[Stretch, ...]
    steps: tuple[float, ...]
    places: tuple[Place, ...]
    visits: tuple[Visit, ...]
    returns: tuple[int, ...]

    def between(self, begin: int, end: int) -> tuple[Stretch, ...]:
        """The stretches from one cue to another, by their indices."""
        pairs = zip(self.stretches, self.steps, strict=True)
        return tuple(stretch for stretch, step in pairs if begin < step <= end)


def lay_out(cues: list[Cue], lexicon: Lexicon, until: int | None = None) -> Timeline:
    """The timeline of cues that are already in the order of time.

    until: milliseconds up to which an open run is followed beyond its last cue; None to stop there.
    """
    lost = [(begin, end) for begin, end in trouble(cues) if end is not None] + failures(cues)
    walker = _Walker(lexicon, lost)
    for index, cue in enumerate(cues):
        walker.take(index, cue)
    if until is not None:
        walker.advance(len(cues), until)
    return walker.timeline()


def trouble(cues: list[Cue]) -> list[tuple[int, int | None]]:
    """For every ``issue`` cue, its index and that of the ``fix`` that ends it; None when none does.

    A fix ends every issue of its name that stands open before it.
    """
    fixed: dict[int, int] = {}
    standing: dict[str, list[int]] = {}
    for index, cue in enumerate(cues):
        if cue.verb == "issue" and cue.name is not None:
            standing.setdefault(cue.name, []).append(index)
        elif cue.verb == "fix" and cue.name is not None:
            fixed.update(dict.fromkeys(standing.pop(cue.name, ()), index))
    return [(index, fixed.get(index)) for index, cue in enumerate(cues) if cue.verb == "issue"]


def failures(cues: list[Cue]) -> list[tuple[int, int]]:
    """For every failed attempt, the index of the cue it begins with (-1 at power-on, or its ``retry``) and of the next.

    An attempt that nothing was tried after goes on to the end: its second index lies behind the last cue.
    """
    spans, start, failed = [], -1, False
    for index, cue in enumerate(cues):
        if cue.verb == "retry":
            if failed:
                spans.append((start, index))
            start, failed = index, False
        elif cue.verb == "fail":
            failed = True
    return [*spans, (start, len(cues))] if failed else spans


def joined(stretches: Iterable[Stretch]) -> tuple[Stretch, ...]:
    """The same with neighbours made one where nothing changes between them."""
    result: list[Stretch] = []
    for each in stretches:
        last = result[-1] if result else None
        if last is not None and _nature(last) == _nature(each) and not (last.cut or each.cut):
            result[-1] = msgspec.structs.replace(last, length=last.length + each.length)
        else:
            result.append(each)
    return tuple(result)


def _nature(stretch: Stretch) -> tuple[object, ...]:
    return stretch.who, stretch.phase, stretch.screen, stretch.attempt, stretch.lost


class _Walker:
    """Holds the state between two cues."""

    def __init__(self, lexicon: Lexicon, lost: list[tuple[int, int]]) -> None:
        self.lexicon, self.lost = lexicon, lost  # from cue to cue, by index; what lies in two counts once
        self.at = 0  # milliseconds in the file
        self.clock = ZERO
        self.phase, self.attempt, self.restarted, self.updated = "boot", 1, False, False
        self.screen: int | None = None
        self.waiting = self.paused = self.over = False
        self.stretches: list[Stretch] = []
        self.steps: list[float] = []
        self.places: list[Place] = []
        self.visits: list[Visit] = []
        self.returns: list[int] = []
        self.seen: dict[str, int] = {}

    def take(self, index: int, cue: Cue) -> None:
        """Goes on to the moment of this cue and does what it says."""
        self.advance(index, cue.at)
        if not self.over:
            change = getattr(self, f"_on_{cue.verb}", None)
            if cue.verb == "cut":
                self._add(index + 0.5, parse_cut(cue.text) or ZERO, cut=True)
            elif change is not None:
                change(cue)
        self.places.append(Place(self.clock, self._who, self.phase, self.attempt, self.screen, self.updated))

    def advance(self, index: int, at: int) -> None:
        """Lets the time before cue ``index`` pass, up to ``at`` milliseconds in the file."""
        if at > self.at and not self.over:
            self._add(index, exactly(at - self.at))
            self.at = at

    def timeline(self) -> Timeline:
        """All that was gathered."""
        return Timeline(
            tuple(self.stretches), tuple(self.steps), tuple(self.places), tuple(self.visits), tuple(self.returns)
        )

    @property
    def _who(self) -> Who:
        return "paused" if self.paused else "machine" if self.waiting else "person"

    def _add(self, step: float, length: Range, cut: bool = False) -> None:
        who = self._who
        lost = any(begin < step <= end for begin, end in self.lost)
        self.stretches.append(Stretch(self.clock, length, who, self.phase, self.screen, self.attempt, lost, cut))
        self.steps.append(step)
        if who != "paused":
            self.clock = self.clock + length

    def _go_to(self, phase: str) -> None:
        if self.phase == "update" and phase != "update":
            self.updated = True
        self.phase = phase
        self.restarted = self.restarted or is_after_restart(phase)

    def _on_phase(self, cue: Cue) -> None:
        if cue.text != self.phase:
            self.screen = None
        self._go_to(cue.text)
        self.waiting = False

    def _on_screen(self, cue: Cue) -> None:
        seen = self.seen.get(cue.text)
        if seen is not None and cue.field("kind") in {None, self.visits[seen].kind}:
            kind = self.visits[seen].kind
        else:
            seen, kind = None, cue.field("kind") or self.lexicon.kind_of(cue.text)
        self._go_to(self.lexicon.phase_of(kind, self.phase, self.restarted))
        self.waiting = self.lexicon.unattended(kind)
        if seen is not None:
            self.screen = seen
            self.returns[seen] += 1
            return
        self.screen = self.seen[cue.text] = len(self.visits)
        self.visits.append(Visit(cue.text, kind, self.phase, self.attempt, self.clock))
        self.returns.append(0)

    def _on_wait(self, _cue: Cue) -> None:
        self.waiting = True

    def _on_ready(self, _cue: Cue) -> None:
        if self.phase == "update" and self.waiting:
            self.updated = True
        self.waiting = False

    def _on_pause(self, _cue: Cue) -> None:
        self.paused = True

    def _on_resume(self, _cue: Cue) -> None:
        self.paused = False

    def _on_retry(self, cue: Cue) -> None:
        self.attempt += 1
        self.seen, self.screen, self.waiting = {}, None, False
        if cue.text in {"", POWER_ON}:
            self.phase, self.restarted, self.updated = "boot", False, False

    def _on_end(self, _cue: Cue) -> None:
        self.over = True
