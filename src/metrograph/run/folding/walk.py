"""Walks through the cues of a log in the order of time and says, for every moment, whose it is and where it belongs."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import msgspec

from metrograph.log.cues import Cue
from metrograph.log.lexicon import Lexicon, is_after_restart
from metrograph.log.quantities.quantity import parse_length
from metrograph.log.quantities.ranges import ZERO
from metrograph.run.folding.intervals import Interval, seconds
from metrograph.run.folding.timeline import UPDATE, CuePlace, Span, Spans, Timeline, Visit, moves_on
from metrograph.run.folding.trouble import lost_to_issues
from metrograph.run.records import POWER_ON, Who

_MOST_TASKS = 100  # that go on at once; each cue notes all of them


def lay_out(
    cues: Sequence[Cue], lexicon: Lexicon, until: int | None = None, edited: bool = False, begin: str | None = None
) -> Timeline:
    """The timeline of cues that are already in the order of time.

    until: milliseconds up to which an open run is followed beyond its last cue; None to stop there.
    edited: whether the record was cut throughout, so that nobody knows how much longer anything was.
    begin: the phase that it begins in; one that does not begin at power-on holds until another is given.
    """
    walker = _Walker(lexicon, edited)
    if begin is not None:
        walker.begin_in(begin)
    for index, cue in enumerate(cues):
        walker.take(index, cue)
    if until is not None:
        walker.advance(len(cues), until)
    return walker.timeline(cues)


def _whole(length: float) -> int:
    """Seconds that were said, in whole milliseconds."""
    return round(length * 1000)


def _marked(interval: Interval, lost: bool, failed: bool) -> Interval:
    """A interval with what is known of it in the end; most are neither, and stay as they are."""
    return msgspec.structs.replace(interval, lost=lost, failed=failed) if lost or failed else interval


class _Walker:
    """Holds the state between two cues."""

    def __init__(self, lexicon: Lexicon, edited: bool = False) -> None:
        self.lexicon, self.edited = lexicon, edited
        self.at = 0  # milliseconds in the file
        self.low: int = 0  # milliseconds that the clock has come at least; high: at most, None where nobody knows
        self.high: int | None = 0
        self.clock = ZERO  # the same
        self.phase, self.attempt, self.restarted, self.updated = "boot", 1, False, False
        self.given = self.there = False  # whether the phase was named by a cue; whether the desktop was reached
        self.screen: int | None = None
        self.waiting = self.paused = self.over = self.worked = False
        self.tasks: tuple[str, ...] = ()
        self.intervals: list[Interval] = []
        self.steps: list[float] = []
        self.places: list[CuePlace] = []
        self.visits: list[Visit] = []
        self.returns: list[int] = []
        self.seen: dict[tuple[str, bool], int] = {}
        self.index = -1  # of the cue that is being taken
        self.front = -1  # of the cue that brought up what is in front: a screen, or a phase
        self.begun = -1  # of the cue that the attempt began with
        self.failed: int | None = None  # of the cue that brought up what was in front when the attempt failed
        self.discarded: list[Span] = []
        self.dropped: list[Span] = []

    def begin_in(self, phase: str) -> None:
        """Begins in another phase than at power-on."""
        self._go_to(phase)
        self.given = True

    def take(self, index: int, cue: Cue) -> None:
        """Goes on to the moment of this cue and does what it says."""
        self.advance(index, cue.at)
        self.index = index
        # Cues after the end are kept and shown, but no time is theirs.
        if not self.over:
            if cue.verb == "cut":
                length = parse_length(cue.text, self.lexicon.about)
                self._add(index + 0.5, _whole(length.low), None if length.high is None else _whole(length.high), True)
            elif cue.verb in MOVES:
                MOVES[cue.verb](self, cue)
        place = CuePlace(self.clock, self._who, self.phase, self.attempt, self.screen, self.updated, self.tasks)
        self.places.append(place)

    def advance(self, index: int, at: int) -> None:
        """Lets the time before cue ``index`` pass, up to ``at`` milliseconds in the file."""
        if at > self.at and not self.over:
            self._add(index, at - self.at, None if self.edited else at - self.at)
            self.at = at

    def timeline(self, cues: Sequence[Cue]) -> Timeline:
        """All that was gathered. What is lost is known only now, when it is known what was begun anew."""
        given_up = [] if self.failed is None else [(self.begun, len(cues))]
        discarded = [*self.discarded, *given_up]
        lost, failed = Spans((*lost_to_issues(cues), *discarded)), Spans(discarded)
        intervals = (
            tuple(
                _marked(interval, lost.holds_step(step), failed.holds_step(step))
                for interval, step in zip(self.intervals, self.steps, strict=True)
            )
            if lost or failed
            else tuple(self.intervals)
        )
        return Timeline(
            intervals, tuple(self.steps), tuple(self.places), tuple(self.visits), tuple(self.returns),
            tuple(self.dropped),
        )  # fmt: skip

    @property
    def _who(self) -> Who:
        return "paused" if self.paused else "machine" if self.waiting else "person"

    def _add(self, step: float, low: int, high: int | None, cut: bool = False) -> None:
        who = self._who
        self.worked = self.worked or who == "machine"
        self.intervals.append(Interval(self.low, self.high, low, high, who, self.phase, self.screen, self.attempt, cut))
        self.steps.append(step)
        # The clock stands still in a pause; the interval has its length all the same, for the elapsed time.
        if who != "paused":
            self.low += low
            self.high = None if self.high is None or high is None else self.high + high
            self.clock = seconds(self.low, self.high)

    def _go_to(self, phase: str) -> None:
        # That somebody turned to something else does not say that the machine was done: only its work does.
        if self.phase == UPDATE and phase != UPDATE and self.worked:
            self.updated = True
        if phase != self.phase:
            self.worked = False
        self.phase = phase
        self.restarted = self.restarted or is_after_restart(phase)
        self.there = self.there or phase == "desktop"

    def on_phase(self, cue: Cue) -> None:
        """Another phase; it ends the screen in front and any wait, and holds against the screens that follow."""
        # To name the phase that already is changes nothing, least of all the screen.
        if cue.text != self.phase:
            self.screen, self.front = None, self.index
        self._go_to(cue.text)
        self.waiting, self.given = False, True

    def on_screen(self, cue: Cue) -> None:
        """Another screen in front, or one that was there before on this side of the restart."""
        kind = cue.field("kind") or self.lexicon.kind_of(cue.text)
        phase = self.lexicon.phase_of(kind, self.phase, self.restarted)
        if moves_on(kind, phase, self.phase, self.given, self.there):
            self.given = self.given and phase == self.phase
            self._go_to(phase)
        seen = self.seen.get((cue.text, self.restarted))
        # One title may stand for two screens, which then differ in kind.
        if seen is not None and cue.field("kind") in {None, self.visits[seen].kind}:
            self.returns[seen] += 1
            self._bring_up(seen)
        else:
            self._bring_up(self._visit(cue.text, kind, self.phase))

    def _visit(self, title: str, kind: str, phase: str) -> int:
        """A screen that comes up for the first time in an attempt."""
        self.visits.append(Visit(title, kind, phase, self.attempt, self.clock, self.index))
        self.returns.append(0)
        self.seen[title, self.restarted] = len(self.visits) - 1
        return len(self.visits) - 1

    def _bring_up(self, visit: int) -> None:
        self.screen, self.front = visit, self.index
        self.waiting = self.lexicon.unattended(self.visits[visit].kind)

    def on_close(self, _cue: Cue) -> None:
        """The window in front is gone, and nothing has come in its place."""
        self.screen, self.front, self.waiting = None, self.index, False

    def on_wait(self, _cue: Cue) -> None:
        """From here on the machine works."""
        self.waiting = True

    def on_ready(self, _cue: Cue) -> None:
        """The machine is done."""
        if self.phase == UPDATE and self.waiting:
            self.updated = True
        self.waiting = False

    def on_pause(self, _cue: Cue) -> None:
        """Takes the run off the clock."""
        self.paused = True

    def on_resume(self, _cue: Cue) -> None:
        """Puts the run on the clock again."""
        self.paused = False

    def on_task(self, cue: Cue) -> None:
        """Work that goes on by itself; whose time it is does not change."""
        self.tasks = (*self.tasks, cue.name or "")[-_MOST_TASKS:]

    def on_done(self, cue: Cue) -> None:
        """Ends a task."""
        self.tasks = tuple(name for name in self.tasks if name != cue.name)
        if cue.name == UPDATE:
            self.updated = True

    def on_fail(self, _cue: Cue) -> None:
        """The attempt is lost; how much of it, the retry says."""
        self.failed = self.front

    def on_retry(self, cue: Cue) -> None:
        """The next attempt, from power-on, from a screen that was seen, or where it failed."""
        again = self._named(cue.text)
        if cue.text in {"", POWER_ON}:
            self._lose(-1, drop=True)
            self._begin_anew()
        elif again is not None:
            self._lose(self.visits[again].index, drop=True)
            self._begin_at(again)
        else:  # by hand, or at a step that is no screen: the whole way stands
            self._lose(self.front if self.failed is None else self.failed)
            self.attempt += 1
        self.waiting, self.failed, self.begun = False, None, self.index

    def _named(self, text: str) -> int | None:
        """The visit of the screen that a retry names; None when it names none that was seen."""
        origin = text.casefold().removeprefix("from ").removeprefix("the ").removesuffix(" screen").strip()
        return next((place for (title, _), place in reversed(self.seen.items()) if title.casefold() == origin), None)

    def _lose(self, begin: int, drop: bool = False) -> None:
        """What was done from a cue on was in vain, where it failed; without a failure somebody only tried it once more.

        drop: whether it is gone through again, so that its screens are not on the way to the end.
        """
        if self.failed is not None:
            self.discarded.append((begin, self.index))
        if drop:
            self.dropped.append((begin, self.index))

    def _begin_anew(self) -> None:
        """From power-on every screen comes up for the first time again."""
        self.attempt += 1
        self.seen, self.screen, self.front = {}, None, self.index
        self.phase, self.restarted, self.updated, self.given, self.there = "boot", False, False, False, False

    def _begin_at(self, again: int) -> None:
        """A screen is in front again; the way up to it stands, and what came after it has not been seen yet."""
        visit = self.visits[again]
        self.attempt += 1
        self.seen = {key: place for key, place in self.seen.items() if self.visits[place].index < visit.index}
        self.phase, self.restarted = visit.phase, is_after_restart(visit.phase)
        self.there = self.there and self.restarted
        self._bring_up(self._visit(visit.title, visit.kind, visit.phase))

    def on_end(self, _cue: Cue) -> None:
        """Ends the run: nothing after it counts."""
        self.over = True


MOVES: dict[str, Callable[[_Walker, Cue], None]] = {
    "phase": _Walker.on_phase,
    "screen": _Walker.on_screen,
    "close": _Walker.on_close,
    "wait": _Walker.on_wait,
    "ready": _Walker.on_ready,
    "pause": _Walker.on_pause,
    "resume": _Walker.on_resume,
    "task": _Walker.on_task,
    "done": _Walker.on_done,
    "fail": _Walker.on_fail,
    "retry": _Walker.on_retry,
    "end": _Walker.on_end,
}
"""The verbs that change whose time it is, or where in the run it belongs, and what each does."""
