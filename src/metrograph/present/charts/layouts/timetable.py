"""Lays runs out as lines that fall through the merged flow in time."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from metrograph.compare.align.merge import merged_flow
from metrograph.compare.records import Side
from metrograph.log.quantities.ranges import Range
from metrograph.measures.selection import Selection
from metrograph.present.charts.layouts.axis import Placing
from metrograph.run.records import Run
from metrograph.run.rulings import Rulings


class Leg(msgspec.Struct, frozen=True):
    """A stretch of time of one run at one stop.

    start, end: seconds along the axis, as far as is known for sure; fade: where it ends at the latest.
    stop: index; waiting: whether the machine worked.
    failed: whether a failure made it worthless; torn: whether nobody knows how much longer it was.
    """

    start: float
    end: float
    stop: int
    waiting: bool
    failed: bool
    torn: bool = False
    fade: float = 0.0


class RunLine(msgspec.Struct, frozen=True):
    """A run through the stops. side: the index of what it belongs to; total: its time on the clock."""

    name: str
    side: int
    legs: tuple[Leg, ...]
    total: Range


class Timetable(msgspec.Struct, frozen=True):
    """Runs through the merged flow in time. length: seconds of the longest."""

    stops: tuple[str, ...]
    sides: tuple[str, ...]
    runs: tuple[RunLine, ...]
    length: float


def lay_timetable(sides: Sequence[Side], rulings: Rulings, selection: Selection | None = None) -> Timetable:
    """The timetable of all runs of some sides. Screens of lost attempts stand at the stop of their title."""
    merged = merged_flow(sides, rulings, selection)
    stops = {title: index for index, row in enumerate(merged.rows) for title in row.titles}
    passed: dict[tuple[int, str], dict[str, int]] = {}
    for index, row in enumerate(merged.passed):
        for visit in row:
            passed.setdefault((visit.side, visit.run), {})[visit.screen.title] = index
    lines = tuple(
        _line(run, place, stops | passed.get((place, run.run), {}))
        for place, side in enumerate(sides)
        for run in side.runs
    )
    length = max((leg.fade for line in lines for leg in line.legs), default=0.0)
    titles = tuple(" → ".join(row.titles) for row in merged.rows)
    return Timetable(titles, tuple(side.name for side in sides), lines, length)


def _line(run: Run, side: int, stops: dict[str, int]) -> RunLine:
    legs: list[Leg] = []
    for stretch, (start, sure, most) in zip(run.stretches, Placing(run.stretches).spans, strict=True):
        stop = None if stretch.screen is None else stops.get(run.screens[stretch.screen].title)
        stop = legs[-1].stop if stop is None and legs and not stretch.failed else stop
        if stop is not None and stretch.who != "paused":
            waiting, fade = stretch.who == "machine", sure if most is None else most
            legs.append(Leg(start, sure, stop, waiting, stretch.failed, most is None, fade))
    return RunLine(run.run, side, tuple(legs), run.clock.on_clock)
