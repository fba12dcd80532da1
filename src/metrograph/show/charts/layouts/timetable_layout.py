"""Lays runs out as lines that fall in time, each through its own order of screens."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import msgspec

from metrograph.compare.align.merge import Merged, merged_flow
from metrograph.compare.flow_records import Side
from metrograph.ledgers.comparison import Comparison
from metrograph.log.quantities.ranges import Range
from metrograph.run.records import Run
from metrograph.run.route import Rulings
from metrograph.show.charts.layouts.axis import Placing


class Leg(msgspec.Struct, frozen=True):
    """A stretch of time of one run at one screen.

    start, end: seconds along the axis, as far as is known for sure; fade: where it ends at the latest.
    depth: how far down, in stops; screens of its own stand between two stops. waiting: whether the machine worked.
    failed: whether a failure made it worthless; torn: whether nobody knows how much longer it was.
    """

    start: float
    end: float
    depth: float
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
    """Runs through their screens in time. stops: those that all have in one order; length: seconds of the longest.

    left_out: how many sides are not shown, as more lines than a few cannot be told apart.
    """

    stops: tuple[str, ...]
    sides: tuple[str, ...]
    runs: tuple[RunLine, ...]
    length: float
    left_out: int = 0


MOST_SIDES = 4  # lines that cross each other any more often cannot be followed


def lay_timetable(sides: Sequence[Side], comparison: Comparison, rulings: Rulings) -> Timetable:
    """The timetable of the runs of a few sides; screens of lost attempts stand where their title does."""
    left_out = max(len(sides) - MOST_SIDES, 0)
    sides = [sides[0], *sides[1 + left_out :]] if left_out else sides
    merged = merged_flow(sides, rulings, comparison.selection)
    common = _in_one_order(merged, len(sides))
    lines = []
    for place, side in enumerate(sides):
        depths = _depths(merged, common, place)
        titles = {
            title: depths[index] for index, row in enumerate(merged.rows) if index in depths for title in row.titles
        }
        own: dict[str, dict[str, float]] = {}
        for index, row in enumerate(merged.passed):
            for visit in row:
                if visit.side == place and index in depths:
                    own.setdefault(visit.run, {})[visit.screen.title] = depths[index]
        lines += [_line(run, place, titles | own.get(run.run, {})) for run in side.runs]
    length = max((leg.fade for line in lines for leg in line.legs), default=0.0)
    stops = tuple(" → ".join(merged.rows[index].titles) for index in common)
    return Timetable(stops, tuple(side.name for side in sides), tuple(lines), length, left_out)


def _in_one_order(merged: Merged, sides: int) -> list[int]:
    """The rows that all sides have in the same order: the longest such row of them."""
    every = [index for index, row in enumerate(merged.rows) if all(cell is not None for cell in row.cells)]
    places = {index: [cell.place for cell in merged.rows[index].cells if cell is not None] for index in every}
    best: dict[int, list[int]] = {}
    for index in sorted(every, key=lambda each: places[each][0] if sides else 0):
        before = [
            chain
            for last, chain in best.items()
            if all(one < other for one, other in zip(places[last], places[index], strict=True))
        ]
        best[index] = [*max(before, key=len, default=[]), index]
    return max(best.values(), key=len, default=[])


def _depths(merged: Merged, common: Sequence[int], side: int) -> dict[int, float]:
    """How far down every row of a side stands: the common ones at whole stops, its own between them, evenly."""
    own = [(index, cell.place) for index, row in enumerate(merged.rows) if (cell := row.cells[side]) is not None]
    ordered = [index for index, _ in sorted(own, key=lambda pair: pair[1])]
    anchors = [(ordered.index(index), float(stop)) for stop, index in enumerate(common)]
    anchors = [(-1, -1.0), *anchors, (len(ordered), float(len(common)))]
    return {
        index: top + (bottom - top) * (place - first) / (last - first)
        for (first, top), (last, bottom) in pairwise(anchors)
        for place, index in enumerate(ordered)
        if first <= place < last
    }


def _line(run: Run, side: int, depths: dict[str, float]) -> RunLine:
    legs: list[Leg] = []
    for stretch, (start, sure, most) in zip(run.stretches, Placing(run.stretches).spans, strict=True):
        depth = None if stretch.screen is None else depths.get(run.screens[stretch.screen].title)
        depth = legs[-1].depth if depth is None and legs and not stretch.failed else depth
        if depth is not None and stretch.who != "paused":
            waiting, fade = stretch.who == "machine", sure if most is None else most
            legs.append(Leg(start, sure, depth, waiting, stretch.failed, most is None, fade))
    return RunLine(run.run, side, tuple(legs), run.clock.on_clock)
