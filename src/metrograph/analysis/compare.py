"""Compares releases: the merged flow, what changed from one to the next, times, issues, readings."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from statistics import median as middle
from typing import TypeVar

from metrograph.analysis.alignment import Slots, merge
from metrograph.analysis.changes import changes
from metrograph.analysis.circumstances import care
from metrograph.analysis.flow import flow
from metrograph.model.cards import Rig
from metrograph.model.comparison import (
    Cell,
    Comparison,
    IssueRow,
    PhaseTime,
    ReadingRow,
    Row,
    Side,
    Standing,
    Times,
)
from metrograph.model.lexicon import OTHER
from metrograph.model.ranges import ZERO, Range, median
from metrograph.model.runs import Choice, Issue, Milestones, Phase, Run, Screen

T = TypeVar("T")


def compare(sides: Sequence[Side], rigs: Mapping[str, Rig] | None = None) -> Comparison:
    """Lays two or more sides beside each other; the first is the baseline.

    rigs: the cards of the rigs, as far as there are any, to tell what differs between them.
    """
    runs = [run for side in sides for run in side.runs]
    slots = merge([flow(run) for run in runs])
    owners = [index for index, side in enumerate(sides) for _ in side.runs]
    rows = tuple(_row(each, owners, len(sides)) for each in slots)
    names = [side.name for side in sides]
    return Comparison(
        baseline=names[0],
        releases=tuple(names),
        runs=tuple(tuple(run.run for run in side.runs) for side in sides),
        rows=rows,
        changes=changes(sides, rows, _orders(sides, slots, owners)),
        times=tuple(_times(side) for side in sides),
        issues=_issues(sides, rows),
        readings=_readings(sides),
        care=care(sides, rigs or {}),
    )


# -- the merged flow ---------------------------------------------------------------------------------------------------


def _row(slots: Slots, owners: list[int], count: int) -> Row:
    of_side: list[list[Screen]] = [[] for _ in range(count)]
    for owner, screen in zip(owners, slots, strict=True):
        if screen is not None:
            of_side[owner].append(screen)
    screens = [screen for own in of_side for screen in own]
    kinds = Counter(screen.kind for screen in screens if screen.kind != OTHER)
    return Row(
        kind=kinds.most_common(1)[0][0] if kinds else OTHER,
        titles=tuple(dict.fromkeys(screen.title for screen in screens)),
        cells=tuple(_cell(own) if own else None for own in of_side),
    )


def _cell(screens: list[Screen]) -> Cell:
    """Several runs of one release as one: times are medians, words are those of most runs, or else of the latest."""
    return Cell(
        title=_usual([screen.title for screen in screens]),
        phase=_usual([screen.phase for screen in screens]),
        on_clock=median([screen.on_clock for screen in screens]),
        person=median([screen.person for screen in screens]),
        machine=median([screen.machine for screen in screens]),
        returns=max(screen.returns for screen in screens),
        runs=len(screens),
        choices=_usual_choices(screens),
    )


def _usual_choices(screens: list[Screen]) -> tuple[Choice, ...]:
    by_key: dict[str, list[Choice]] = {}
    for screen in screens:
        for key, choice in {choice.key: choice for choice in screen.choices}.items():
            by_key.setdefault(key, []).append(choice)
    return tuple(_usual(choices) for choices in by_key.values())


def _usual(values: list[T]) -> T:
    """The most frequent value; among equals the latest."""
    counts = Counter(values)
    return max(reversed(values), key=lambda value: counts[value])


def _orders(sides: Sequence[Side], slots: list[Slots], owners: list[int]) -> list[list[int]]:
    """For each side, the indices of its rows in the order its runs pass them, by their mean place in a run."""
    ranks = [{id(screen): rank for rank, screen in enumerate(flow(run))} for side in sides for run in side.runs]
    orders = []
    for side in range(len(sides)):
        places: list[tuple[float, int]] = []
        for index, row in enumerate(slots):
            own = [
                ranks[run][id(screen)] for run, screen in enumerate(row) if screen is not None and owners[run] == side
            ]
            if own:
                places.append((sum(own) / len(own), index))
        orders.append([index for _, index in sorted(places)])
    return orders


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
    found: dict[tuple[str, str, str], list[list[float]]] = {}
    for index, side in enumerate(sides):
        for run in side.runs:
            for reading in run.readings:
                key = reading.name, reading.state, reading.unit
                found.setdefault(key, [[] for _ in sides])[index].append(reading.value)
    return tuple(
        ReadingRow(name, state, unit, tuple(middle(own) if own else None for own in values))
        for (name, state, unit), values in found.items()
    )
