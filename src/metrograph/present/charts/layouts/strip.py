"""Lays releases out as lines through stops: a stop for each screen of the merged flow, no scale of time."""

from __future__ import annotations

from collections.abc import Sequence
from enum import Enum
from itertools import pairwise

import msgspec

from metrograph.compare.align.merge import merged_flow
from metrograph.compare.changes import told_between
from metrograph.compare.records import MOVES, FlowCell, FlowRow, Side
from metrograph.log.quantities.ranges import Range
from metrograph.measures.selection import Selection
from metrograph.run.rulings import Rulings


class StopMark(Enum):
    """How a stop is marked: all pre-set values were kept, one was not, or nothing was asked."""

    KEPT = "kept"
    CHANGED = "changed"
    PLAIN = "plain"


class StripStop(msgspec.Struct, frozen=True):
    """A release's stop at a screen.

    time: spent there; None where no run of it counts.
    comes_after: of a screen that has moved, the index of the stop that it follows here; None of others.
    """

    mark: StopMark
    phase: str
    time: Range | None
    comes_after: int | None = None


class ReleaseLine(msgspec.Struct, frozen=True):
    """A release. stops: an entry per screen, None where the line passes without stopping."""

    name: str
    runs: int
    stops: tuple[StripStop | None, ...]


class Strip(msgspec.Struct, frozen=True):
    """The merged flow as stops, and releases as lines through them.

    screens: titles, all that each goes by. phases: those that occur, in their order.
    """

    screens: tuple[str, ...]
    lines: tuple[ReleaseLine, ...]
    phases: tuple[str, ...]


def lay_strip(sides: Sequence[Side], rulings: Rulings, selection: Selection | None = None) -> Strip:
    """The strip of some sides: a stop for each row, a line for each side.

    selection: the runs whose times count; None for those that the sides have in common.
    """
    merged = merged_flow(sides, rulings, selection)
    pairs = pairwise(range(len(sides)))
    every = (change for pair in pairs for change in told_between(sides, merged, None, *pair).changes)
    moved = {(change.later, change.title) for change in every if change.what in MOVES}
    lines = []
    for place, side in enumerate(sides):
        stops = tuple(_stop(merged.rows, row, place, (side.name, _title(row, place)) in moved) for row in merged.rows)
        lines.append(ReleaseLine(side.name, len(side.runs), stops))
    phases = dict.fromkeys(stop.phase for line in lines for stop in line.stops if stop is not None)
    return Strip(tuple(" → ".join(row.titles) for row in merged.rows), tuple(lines), tuple(phases))


def _title(row: FlowRow, side: int) -> str | None:
    cell = row.cells[side]
    return cell.title if cell is not None else None


def _stop(rows: Sequence[FlowRow], row: FlowRow, side: int, moved: bool) -> StripStop | None:
    cell = row.cells[side]
    if cell is None:
        return None
    before = next((index for index, other in enumerate(rows) if _place(other, side) == cell.place - 1), None)
    return StripStop(_mark(cell), cell.phase, cell.on_clock, before if moved else None)


def _place(row: FlowRow, side: int) -> int:
    cell = row.cells[side]
    return cell.place if cell is not None else -1


def _mark(cell: FlowCell) -> StopMark:
    if not cell.choices:
        return StopMark.PLAIN
    return StopMark.CHANGED if any(choice.how != "kept" for choice in cell.choices) else StopMark.KEPT
