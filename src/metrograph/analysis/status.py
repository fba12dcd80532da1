"""How an open run stands at this moment, and what its plan has next."""

from __future__ import annotations

from datetime import datetime

import msgspec

from metrograph.analysis.flow import flow
from metrograph.model.ranges import ZERO, Range
from metrograph.model.runs import Clock, Run, Who


class Status(msgspec.Struct, frozen=True):
    """A run as it stands.

    now: whose time it is at this moment.
    screen, phase: what is in front; screen is None before the first of an attempt.
    this_screen: time on the clock that it has been in front.
    open_issues: summaries of those that are not fixed.
    next: the title of the screen that the plan has next; None without a plan or at its end.
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
    like: str | None
    next: str | None


def status(run: Run, plan: Run | None = None) -> Status:
    """The status of a run that was folded up to now.

    plan: the run whose path it repeats.
    """
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
        next=next_title(plan, screen.title if screen else None) if plan else None,
    )


def next_title(plan: Run, current: str | None) -> str | None:
    """The title of the screen behind the current one in a plan; None at its end, or where the run left the plan."""
    titles = [screen.title for screen in flow(plan)]
    if current is None:
        return titles[0] if titles else None
    after = titles.index(current) + 1 if current in titles else len(titles)
    return titles[after] if after < len(titles) else None
