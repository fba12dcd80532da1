"""How an open run stands at this moment, and what its plan has next."""

from __future__ import annotations

from datetime import datetime

import msgspec

from metrograph.analysis.plan import deviations, next_screen
from metrograph.model.comparison import Change
from metrograph.model.ranges import ZERO, Range
from metrograph.model.runs import Clock, Run, Who


class Status(msgspec.Struct, frozen=True):
    """A run as it stands.

    now: whose time it is at this moment.
    screen, phase: what is in front; screen is None before the first of an attempt.
    this_screen: time on the clock that it has been in front.
    open_issues: summaries of those that are not fixed.
    quiet: seconds since the last cue.
    next: the title of the screen that the plan has next, and how long it was in front last time; None without a plan or
        at its end.
    deviations: where it has left the plan so far.
    """

    run: str
    release: str
    rig: str
    begun: datetime | None
    ended: str | None
    now: Who
    phase: str
    screen: str | None
    attempt: int
    clock: Clock
    this_screen: Range
    open_issues: tuple[str, ...]
    quiet: float
    like: str | None
    next: str | None
    next_took: Range | None
    deviations: tuple[Change, ...]


def status(run: Run, quiet: float = 0.0, plan: Run | None = None) -> Status:
    """The status of a run that was folded up to now.

    quiet: seconds since its last cue.
    plan: the run whose path it repeats.
    """
    upcoming = next_screen(plan, run) if plan else None
    last = run.stretches[-1] if run.stretches else None
    screen = run.screens[last.screen] if last is not None and last.screen is not None else None
    return Status(
        run=run.run,
        release=run.release,
        rig=run.rig,
        begun=run.begun,
        ended=run.ended,
        now=last.who if last else "person",
        phase=last.phase if last else "boot",
        screen=screen.title if screen else None,
        attempt=len(run.attempts),
        clock=run.clock,
        this_screen=screen.on_clock if screen else ZERO,
        open_issues=tuple(issue.summary for issue in run.issues if issue.fixed_at is None),
        like=run.like,
        quiet=quiet,
        next=upcoming.title if upcoming else None,
        next_took=upcoming.on_clock if upcoming else None,
        deviations=deviations(plan, run) if plan else (),
    )
