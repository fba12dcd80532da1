"""Follows a run along a plan, the run whose path it repeats: what comes next, and where it has left the path."""

from __future__ import annotations

from metrograph.analysis.alignment import merge
from metrograph.analysis.compare import compare
from metrograph.analysis.flow import flow
from metrograph.model.comparison import Change, Side
from metrograph.model.runs import Run, Screen

_ONLY_PASSED = frozenset({"screen-gone", "question-gone"})


def next_screen(plan: Run, run: Run) -> Screen | None:
    """The plan's screen behind the last one that the run has reached; None at the plan's end.

    The two flows are aligned, so that a screen with another title still counts as reached.
    """
    ahead = _ahead(plan, run)
    return ahead[0] if ahead else None


def deviations(plan: Run, run: Run) -> tuple[Change, ...]:
    """Where the run has left the plan so far, as changes from the plan to the run.

    What the plan has behind the run's last screen is still to come and counts as no deviation; nor does a question of
    the screen in front that was not answered yet.
    """
    to_come = {screen.title for screen in _ahead(plan, run)}
    way = flow(run)
    if way:
        to_come.add(way[-1].title)
    found = compare([Side(plan.run, (plan,)), Side(run.run, (run,))]).changes
    return tuple(each for each in found if each.what not in _ONLY_PASSED or each.title not in to_come)


def _ahead(plan: Run, run: Run) -> list[Screen]:
    """The plan's screens behind the furthest that the run has reached, in their order."""
    rows = merge([flow(plan), flow(run)])
    reached = {id(row[0]) for row in rows if row[0] is not None and row[1] is not None}
    way = list(flow(plan))
    last = max((index for index, screen in enumerate(way) if id(screen) in reached), default=-1)
    return way[last + 1 :]
