"""Compares releases: the merged flow, what changed from one to the next, times, issues, readings."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from statistics import median as middle

from metrograph.analysis.changes import changes
from metrograph.analysis.circumstances import care
from metrograph.analysis.merged import merged_flow
from metrograph.model.cards import Rig
from metrograph.model.comparison import (
    Comparison,
    IssueRow,
    PhaseTime,
    ReadingRow,
    Row,
    Side,
    Standing,
    Times,
)
from metrograph.model.ranges import ZERO, Range, median
from metrograph.model.runs import Issue, Milestones, Phase, Run


def compare(sides: Sequence[Side], rigs: Mapping[str, Rig] | None = None) -> Comparison:
    """Lays two or more sides beside each other; the first is the baseline.

    rigs: the cards of the rigs, as far as there are any, to tell what differs between them.
    """
    rows, orders = merged_flow(sides)
    names = [side.name for side in sides]
    return Comparison(
        baseline=names[0],
        releases=tuple(names),
        runs=tuple(tuple(run.run for run in side.runs) for side in sides),
        rows=rows,
        changes=changes(sides, rows, orders),
        times=tuple(_times(side) for side in sides),
        issues=_issues(sides, rows),
        readings=_readings(sides),
        care=care(sides, rigs or {}),
    )


# -- times -------------------------------------------------------------------------------------------------------------


def _times(side: Side) -> Times:
    def of(part: Callable[[Run], Range]) -> Range:
        return median([part(run) for run in side.runs])

    return Times(
        release=side.name,
        runs=len(side.runs),
        attempts=sum(len(run.attempts) for run in side.runs),
        elapsed=of(lambda run: run.clock.elapsed),
        on_clock=of(lambda run: run.clock.on_clock),
        person=of(lambda run: run.clock.person),
        machine=of(lambda run: run.clock.machine),
        paused=of(lambda run: run.clock.paused),
        lost=of(lambda run: run.clock.lost),
        milestones=Milestones(*(_milestone(side.runs, name) for name in Milestones.__struct_fields__)),
        phases=_phase_times(side.runs),
    )


def _milestone(runs: tuple[Run, ...], name: str) -> Range | None:
    reached = [moment for run in runs if (moment := getattr(run.milestones, name)) is not None]
    return median(reached) if reached else None


def _phase_times(runs: tuple[Run, ...]) -> dict[str, PhaseTime]:
    """A run that has no such phase spent no time in it."""
    nothing = Phase("", ZERO, ZERO, ZERO, ZERO)
    names = dict.fromkeys(phase.name for run in runs for phase in run.phases)
    result = {}
    for name in names:
        own = [next((phase for phase in run.phases if phase.name == name), nothing) for run in runs]
        parts = ([each.on_clock for each in own], [each.person for each in own], [each.machine for each in own])
        result[name] = PhaseTime(*(median(part) for part in parts))
    return result


# -- issues and readings -----------------------------------------------------------------------------------------------


def _issues(sides: Sequence[Side], rows: tuple[Row, ...]) -> tuple[IssueRow, ...]:
    found: dict[str, list[list[Issue]]] = {}
    for index, side in enumerate(sides):
        for run in side.runs:
            for issue in {_identity(issue): issue for issue in run.issues}.values():
                found.setdefault(_identity(issue), [[] for _ in sides])[index].append(issue)
    result = []
    for per_side in found.values():
        first = next(issue for own in per_side for issue in own)
        seen = tuple(len(own) for own in per_side)
        passed = [_passed(first, side, index, rows) for index, side in enumerate(sides)]
        result.append(IssueRow(first.name, first.summary, first.severity, seen, _standing(seen, passed)))
    return tuple(result)


def _identity(issue: Issue) -> str:
    """What ties an issue to itself in another run: its name, or without one its wording."""
    return issue.name or " ".join(issue.summary.casefold().split())


def _passed(issue: Issue, side: Side, index: int, rows: tuple[Row, ...]) -> bool:
    """Whether a side's runs came by the place where the issue stood: the same screen, or without one the same phase."""
    for row in rows:
        if issue.screen in row.titles:
            return row.cells[index] is not None
    return any(phase.name == issue.phase for run in side.runs for phase in run.phases)


def _standing(seen: tuple[int, ...], passed: list[bool]) -> tuple[Standing, ...]:
    standing: list[Standing] = []
    known = False
    for count, came_by in zip(seen, passed, strict=True):
        if count:
            standing.append("still there" if known and standing[-1] != "gone" else "new")
        elif known:
            standing.append("gone" if came_by else "not passed again")
        else:
            standing.append("absent")
        known = known or count > 0
    return tuple(standing)


def _readings(sides: Sequence[Side]) -> tuple[ReadingRow, ...]:
    found: dict[tuple[str, str, str, str | None], list[list[float]]] = {}
    for index, side in enumerate(sides):
        for run in side.runs:
            for reading in run.readings:
                key = reading.name, reading.state, reading.unit, reading.load
                found.setdefault(key, [[] for _ in sides])[index].append(reading.value)
    return tuple(
        ReadingRow(name, state, unit, load, tuple(middle(own) if own else None for own in values))
        for (name, state, unit, load), values in found.items()
    )
