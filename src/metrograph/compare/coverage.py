"""Says whether the runs of a side came by a place of the flow, so that silence about it means something.

A screen that nobody noted is gone only where a run of the same line went on past its place, and nothing hid it there; a
question only where something else was noted on its screen.
"""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum
from math import inf

from metrograph.compare.align.merge import Merged, Passed
from metrograph.compare.flow_records import Side
from metrograph.log.lexicon import is_untitled
from metrograph.log.quantities.ranges import Range
from metrograph.run.records import Run


class Silence(StrEnum):
    """Why nothing can be said of what was not noted."""

    CUT = "hidden by a cut"
    NOT_REACHED = "not reached"
    NOT_NOTED = "not noted"
    OTHER_LINE = "of another line"


_AT_WILL = frozenset({"live", "update"})
"""Phases that a reviewer may leave out of a run: their absence says nothing of the release."""


class Coverage:
    """The places that the runs of some sides came by. merged: the flow of these sides."""

    def __init__(self, sides: Sequence[Side], merged: Merged) -> None:
        self.sides, self.merged = sides, merged
        self.passed: list[list[tuple[Run, list[tuple[int, Passed]]]]] = [
            [(run, _passed(merged, index, run.run)) for run in side.runs] for index, side in enumerate(sides)
        ]

    def of_row(self, side: int, row: int) -> Silence | None:
        """Why a row that a side does not have may be there all the same; None where a run came by without it."""
        phases = {visit.screen.phase for visit in self.merged.passed[row]}
        if phases <= _AT_WILL and not any(
            phase.name in phases for run in self.sides[side].runs for phase in run.phases
        ):
            return Silence.NOT_NOTED
        reasons = [_of_run(run, passed, row) for run, passed in self.passed[side]]
        if None in reasons or not reasons:
            return None if reasons else Silence.NOT_REACHED
        # A record that skips something there says more than one that has not come so far.
        return next(reason for reason in (Silence.CUT, Silence.NOT_NOTED, Silence.NOT_REACHED) if reason in reasons)

    def of_questions(self, side: int, row: int) -> Silence | None:
        """Why a question that a side does not have on a row may be asked there; None where one would have noted it."""
        visits = [(run, visit) for run, passed in self.passed[side] for index, visit in passed if index == row]
        noting = [(run, visit) for run, visit in visits if visit.screen.choices]
        if not noting:
            return Silence.NOT_NOTED
        left = [(run, visit) for run, visit in noting if _is_left(run, visit)]
        if not left:
            return Silence.NOT_REACHED
        return Silence.CUT if all(_is_cut_on(run, visit) for run, visit in left) else None

    def of_phase(self, side: int, name: str) -> Silence | None:
        """Why a phase that a side does not have may have been there; None where a whole run went without it."""
        runs = [run for run in self.sides[side].runs if run.ended == "done" and len(run.phases) > 1]
        if not runs:
            return Silence.NOT_REACHED
        whole = [run for run in runs if not any(is_untitled(screen.title) for screen in run.screens)]
        if name in _AT_WILL or not whole:
            return Silence.NOT_NOTED
        return Silence.CUT if all(any(stretch.cut for stretch in run.stretches) for run in whole) else None


def _passed(merged: Merged, side: int, run: str) -> list[tuple[int, Passed]]:
    """The rows that a run passed, in the order of the flow."""
    return [
        (index, visit)
        for index, row in enumerate(merged.passed)
        for visit in row
        if (visit.side, visit.run) == (side, run)
    ]


def _of_run(run: Run, passed: Sequence[tuple[int, Passed]], row: int) -> Silence | None:
    """Why a run that did not pass a row may have had it all the same; None where it went on without it."""
    before = next((visit for index, visit in reversed(passed) if index < row), None)
    after = next((visit for index, visit in passed if index > row), None)
    if after is None and (before is None or run.ended != "done"):
        return Silence.NOT_REACHED
    begin = before.screen.start.low if before is not None else 0.0
    end = after.screen.start.low if after is not None else inf

    def is_between(start: Range) -> bool:
        return begin <= start.low <= end

    if any(is_between(stretch.start) for stretch in run.stretches if stretch.cut):
        return Silence.CUT
    # A screen without a title may be the very one that is looked for.
    untitled = (screen for screen in run.screens if is_untitled(screen.title))
    return Silence.NOT_NOTED if any(is_between(screen.start) for screen in untitled) else None


def _is_left(run: Run, visit: Passed) -> bool:
    """Whether a run went on from a screen, so that all was noted there that was to be."""
    front = run.position.screen
    return run.ended == "done" or front is None or run.screens[front] != visit.screen


def _is_cut_on(run: Run, visit: Passed) -> bool:
    """Whether the record skips anything while a screen is in front."""
    cuts = (stretch.screen for stretch in run.stretches if stretch.cut and stretch.screen is not None)
    return any(run.screens[screen] == visit.screen for screen in cuts)
