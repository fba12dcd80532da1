"""How an open run stands at this moment, and what its plan has next."""

from __future__ import annotations

from datetime import datetime

import msgspec

from metrograph.compare.flow_records import Change
from metrograph.log.lexicon import Checklist
from metrograph.log.quantities.ranges import ZERO, Range
from metrograph.plan.plan import Plan, deviations, next_step, still_to_do
from metrograph.run.records import Clock, Run, Who

AWAY = 3600.0
"""Seconds without a cue after which somebody has probably been away without saying so."""


class Status(msgspec.Struct, frozen=True):
    """A run as it stands.

    now: whose time it is at this moment.
    screen, phase: what is in front; screen is None before the first of an attempt.
    this_screen: time on the clock that it has been in front.
    open_issues: summaries of those that are not fixed.
    last_cue: when the last cue was, in seconds as the log counts them; quiet: seconds since then.
    like: what the plan is made of, a run or a release; None without one.
    next: the title of the screen that the plan has next, and how long it was in front last time; None without a plan or
        at its end.
    deviations: where it has left the plan so far.
    to_try, to_read: trials and readings of the checklist and of the plan that are still missing; to_tweak, to_add:
        usual steps that were not taken.
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
    last_cue: float
    quiet: float
    like: str | None
    next: str | None
    next_took: Range | None
    deviations: tuple[Change, ...]
    to_try: tuple[str, ...] = ()
    to_read: tuple[str, ...] = ()
    to_tweak: tuple[str, ...] = ()
    to_add: tuple[str, ...] = ()


def status(
    run: Run, last: int = 0, now: int = 0, plan: Plan | None = None, checklist: Checklist | None = None
) -> Status:
    """The status of a run that was folded up to now.

    last, now: milliseconds since ``begun`` to its last cue and to now, as the log counts them.
    plan: the way it is expected to take.
    checklist: what is wanted of every run.
    """
    step = next_step(plan, run) if plan else None
    left = still_to_do(run, checklist or Checklist(), plan)
    upcoming = step.screen if step else None
    screen = run.screens[run.position.screen] if run.position.screen is not None else None
    return Status(
        run=run.run,
        release=run.release,
        rig=run.rig,
        begun=run.begun,
        ended=run.ended,
        now=run.position.who,
        phase=run.position.phase,
        screen=screen.title if screen else None,
        attempt=len(run.attempts),
        clock=run.clock,
        this_screen=screen.on_clock if screen else ZERO,
        open_issues=tuple(issue.summary for issue in run.issues if issue.fixed_at is None),
        like=run.like,
        last_cue=last / 1000,
        quiet=max(now - last, 0) / 1000,
        next=upcoming.title if upcoming else None,
        next_took=upcoming.on_clock if upcoming else None,
        deviations=deviations(plan, run) if plan else (),
        to_try=left.to_try,
        to_read=left.to_read,
        to_tweak=left.to_tweak,
        to_add=left.to_add,
    )


def missing_pause(status: Status) -> int | None:
    """The moment a pause is probably missing from, in milliseconds since ``begun``; None when none is."""
    # Only silence while the run goes on is suspicious.
    if status.ended or status.now == "paused" or status.quiet < AWAY:
        return None
    return round(status.last_cue * 1000)
