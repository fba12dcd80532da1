"""Lays comparisons out as pictures: the strip of stops, and the timetable of runs through them."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.analysis.changes import changes
from metrograph.analysis.merged import Merged
from metrograph.model.comparison import Cell, Row, Side
from metrograph.model.pictures import Course, Halt, Leg, Line, Mark, Strip, Timetable
from metrograph.model.runs import Run

_MOVES = frozenset({"screen-moved", "screen-crossed"})


def strip_of(sides: Sequence[Side], merged: Merged) -> Strip:
    """The strip of some sides: a stop for each row, a line for each side."""
    rows = merged.rows
    moved = {(each.later, each.title) for each in changes(sides, merged) if each.what in _MOVES}
    lines = []
    for place, side in enumerate(sides):
        halts = (_halt(rows, row, place, (side.name, _title(row, place)) in moved) for row in rows)
        lines.append(Line(side.name, len(side.runs), tuple(halts)))
    phases = dict.fromkeys(halt.phase for line in lines for halt in line.halts if halt is not None)
    return Strip(tuple(" → ".join(row.titles) for row in rows), tuple(lines), tuple(phases))


def _title(row: Row, side: int) -> str | None:
    cell = row.cells[side]
    return cell.title if cell is not None else None


def _halt(rows: Sequence[Row], row: Row, side: int, moved: bool) -> Halt | None:
    cell = row.cells[side]
    if cell is None:
        return None
    before = next((index for index, each in enumerate(rows) if _place(each, side) == cell.place - 1), None)
    return Halt(_mark(cell), cell.phase, cell.on_clock, before if moved else None)


def _place(row: Row, side: int) -> int:
    cell = row.cells[side]
    return cell.place if cell is not None else -1


def _mark(cell: Cell) -> Mark:
    if not cell.choices:
        return "plain"
    return "changed" if any(choice.how != "kept" for choice in cell.choices) else "kept"


def timetable_of(sides: Sequence[Side], merged: Merged) -> Timetable:
    """The timetable of all runs of some sides. Screens of lost attempts stand at the stop of their title."""
    stops = {title: index for index, row in enumerate(merged.rows) for title in row.titles}
    own: dict[tuple[int, str], dict[str, int]] = {}
    for index, row in enumerate(merged.passed):
        for each in row:
            own.setdefault((each.side, each.run), {})[each.screen.title] = index
    courses = tuple(
        _course(run, side, stops | own.get((side, run.run), {})) for side, each in enumerate(sides) for run in each.runs
    )
    length = max((leg.end for course in courses for leg in course.legs), default=0.0)
    titles = tuple(" → ".join(row.titles) for row in merged.rows)
    return Timetable(titles, tuple(side.name for side in sides), courses, length)


def _course(run: Run, side: int, stops: dict[str, int]) -> Course:
    failed = {attempt.number for attempt in run.attempts if attempt.failed is not None}
    legs: list[Leg] = []
    for each in run.stretches:
        stop = None if each.screen is None else stops.get(run.screens[each.screen].title)
        stop = legs[-1].stop if stop is None and legs and each.attempt not in failed else stop
        if stop is not None and each.who != "paused":
            start, torn = each.start.middle, each.length.high is None
            waiting = each.who == "machine"
            legs.append(Leg(start, start + each.length.middle, stop, waiting, each.attempt in failed, torn))
    return Course(run.run, side, tuple(legs), run.clock.on_clock)
