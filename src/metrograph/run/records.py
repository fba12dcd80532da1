"""A run as it is understood: what the cues of one log add up to. These records are also the JSON that is printed.

Every moment is a ``Range`` in seconds on the clock, counted from power-on; every duration is a ``Range`` in seconds.
"""

from __future__ import annotations

from datetime import datetime
from enum import StrEnum
from typing import Literal

import msgspec

from metrograph.core.visitor import AnswerFields, Answering
from metrograph.log.cues import ON_SCREEN
from metrograph.log.quantities.ranges import ZERO, Range, total
from metrograph.run.disks import Layout
from metrograph.run.noted import Circumstances, Noted

Who = Literal["person", "machine", "paused"]
How = Literal["kept", "chosen", "typed"]


class Part(StrEnum):
    """A part of what is reviewed that a run may cover, in the order in which they come."""

    INSTALLATION = "installation"
    LIVE = "live session"
    SETUP = "setup"
    TOUR = "tour"
    USE = "use"
    UPDATE = "update"


class Stretch(msgspec.Struct, frozen=True, gc=False):
    """A piece of a run in which nothing changes; stretches lie end to end and cover the run.

    start: on the clock; a paused stretch begins and ends at the same moment of it.
    length: real time, also when paused.
    who: whose time it is; ``paused`` is off the clock.
    screen: index into the run's screens; None before the first of an attempt.
    attempt: from 1.
    lost: whether it lies between an issue and its fix, or in an attempt that failed.
    cut: whether the log skips here, so that the length was said and not measured.
    failed: whether a failure made it worthless.
    """

    start: Range
    length: Range
    who: Who
    phase: str
    screen: int | None
    attempt: int
    lost: bool
    cut: bool = False
    failed: bool = False


class Position(msgspec.Struct, frozen=True):
    """Where a run stands after its last cue.

    who: whose time it is from then on.
    screen: index into the run's screens; None when none is in front.
    """

    who: Who = "person"
    phase: str = "boot"
    screen: int | None = None
    attempt: int = 1


class Clock(msgspec.Struct, frozen=True):
    """Where the time of a run went.

    elapsed: all of it; on_clock: the same without pauses, which is person and machine together; lost: the part of
    on_clock that trouble took.
    """

    elapsed: Range
    on_clock: Range
    person: Range
    machine: Range
    paused: Range
    lost: Range


class Milestones(msgspec.Struct, frozen=True):
    """Moments every reader asks for, on the clock; None when the run did not get there.

    first_question: the first screen that asks something, in the attempt that got furthest.
    installed: all is copied and the machine is about to restart.
    desktop: the installed desktop is there; None too where the system has none.
    updated: the first update is over.
    """

    first_question: Range | None = None
    installed: Range | None = None
    desktop: Range | None = None
    updated: Range | None = None


POWER_ON = "from power-on"


class Attempt(msgspec.Struct, frozen=True, gc=False):
    """One try to get through.

    failed: what was given up for; None when it did not fail. issue: the trouble that was named with it.
    origin: where it began, as its ``retry`` said; ``POWER_ON`` for the first, and where nothing was said.
    changed: what was done otherwise than before.
    """

    number: int
    failed: str | None
    start: Range
    on_clock: Range
    origin: str = POWER_ON
    changed: str | None = None
    issue: str | None = None


class Phase(msgspec.Struct, frozen=True, gc=False):
    """All the time a run spent in one phase, in one piece or several; start is that of the first."""

    name: str
    start: Range
    on_clock: Range
    person: Range
    machine: Range


class Choice(Answering, frozen=True, gc=False):
    """The answer to one question.

    preset: what stood there before; None when unknown.
    offered: as far as it was noted.
    personal: whether its values tell who or where.
    at: when it was noted, on the clock.
    told: whether it may be published.
    """

    key: str
    value: str | None
    preset: str | None
    how: How
    offered: tuple[str, ...] = ()
    why: str | None = None
    personal: bool = False
    at: Range = ZERO
    told: bool = True

    def answer(self) -> AnswerFields:
        """What was answered, what had been pre-set, and what else was offered."""
        return AnswerFields(self.key, ("value", "preset"), ("offered",))


class Screen(msgspec.Struct, frozen=True, gc=False):
    """A screen with all the time it was in front.

    returns: how often it was come back to.
    text: what else stood on it, as far as it was noted.
    kept: whether it is on the way that led to the end, and was not in vain.
    """

    title: str
    kind: str
    phase: str
    attempt: int
    start: Range
    on_clock: Range
    person: Range
    machine: Range
    returns: int
    choices: tuple[Choice, ...] = ()
    text: str | None = None
    kept: bool = True


class Issue(Circumstances, frozen=True):
    """Trouble.

    summary: how it was worded first; also: later wordings, while it stood.
    fixed_at, lost: the time until then; None while it is not fixed. screen: a title.
    tried: remedies that did not help; commands: what was typed for the one that did.
    area: what it has to do with; ``RECORDING`` is the reviewer's own trouble.
    """

    name: str | None
    summary: str
    severity: str | None
    phase: str
    screen: str | None
    at: Range
    fixed_at: Range | None = None
    lost: Range | None = None
    fix: str | None = None
    area: str | None = None
    detail: str | None = None
    link: str | None = None
    also: tuple[str, ...] = ()
    tried: tuple[str, ...] = ()
    commands: tuple[str, ...] = ()


RECORDING = "recording"


class Run(Noted, frozen=True, rename={"position": "stand"}):
    """One release installed once on one rig.

    begun: None when the log does not say.
    ended: None while the run is open.
    choices: those that belong to no screen.
    source: the recording or the display that it was taken from; None where it was typed.
    covers: the parts of what is reviewed that it went through, in their order; see ``run.scope``.
    ticked: the names of what it did of that which earlier runs had left to do.
    layout: what the installer said; found: what a probe found to be there (a ``layout found`` cue).
    """

    run: str
    release: str
    rig: str
    begun: datetime | None
    way: str
    like: str | None
    reviewer: str | None
    ended: str | None
    clock: Clock
    milestones: Milestones
    attempts: tuple[Attempt, ...]
    phases: tuple[Phase, ...]
    screens: tuple[Screen, ...]
    choices: tuple[Choice, ...] = ()
    layout: Layout | None = None
    found: Layout | None = None
    issues: tuple[Issue, ...] = ()
    stretches: tuple[Stretch, ...] = ()
    position: Position = Position()
    source: str | None = None
    covers: tuple[Part, ...] = ()
    ticked: tuple[str, ...] = ()

    @property
    def is_told(self) -> bool:
        """Whether a person said anything of how it went; what a picture was seen to say is not a person's word."""
        noted = any(not note.text.startswith(ON_SCREEN) for note in self.notes)
        named = any(issue.name for issue in self.issues)
        judged = self.checks or self.tweaks or self.verdicts or self.ratings or self.todos or self.remarks
        return self.source is None or noted or named or bool(judged)

    @property
    def personal(self) -> tuple[tuple[str, str], ...]:
        """Keys with the values that tell who or where; of an answer also what had been pre-set."""
        choices = [*self.choices, *(choice for screen in self.screens for choice in screen.choices)]
        answers = [(choice.key, value or "") for choice in choices if choice.personal
                   for value in (choice.value, choice.preset)]  # fmt: skip
        return (*answers, *((fact.name, fact.value) for fact in self.facts if fact.personal))

    def check_sums(self) -> list[str]:
        """What does not add up, a sentence each; empty when all parts sum to their wholes, as they must."""
        clock = self.clock
        sums = {
            "person and machine are the time on the clock": (clock.person + clock.machine, clock.on_clock),
            "the clock and the pauses are the elapsed time": (clock.on_clock + clock.paused, clock.elapsed),
            "the stretches are the elapsed time": (total(stretch.length for stretch in self.stretches), clock.elapsed),
            "the phases are the time on the clock": (total(phase.on_clock for phase in self.phases), clock.on_clock),
            "the phases' person time is the run's": (total(phase.person for phase in self.phases), clock.person),
            "the phases' machine time is the run's": (total(phase.machine for phase in self.phases), clock.machine),
            "the attempts are the time on the clock": (
                total(attempt.on_clock for attempt in self.attempts),
                clock.on_clock,
            ),
            "the screens' parts are their wholes": (
                total(screen.person + screen.machine for screen in self.screens),
                total(screen.on_clock for screen in self.screens),
            ),
        }
        return [f"{name}: {parts} is not {whole}" for name, (parts, whole) in sums.items() if parts != whole]
