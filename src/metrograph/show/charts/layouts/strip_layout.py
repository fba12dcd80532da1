"""Lays releases out as columns of stops: each in its own order of screens, the same screen joined to the next."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from enum import Enum
from itertools import pairwise

import msgspec

from metrograph.compare.align.merge import Merged, merged_flow
from metrograph.compare.flow_records import MOVES, Change, FlowCell, Side, What
from metrograph.ledgers.comparison import Comparison
from metrograph.log.quantities.ranges import ZERO, Range, median
from metrograph.run.records import Run
from metrograph.run.route import Rulings

_BEHIND = frozenset({"restart", "setup", "desktop", "tour", "update"})
"""Phases that lie behind the restart."""


class StopMark(Enum):
    """How a stop is marked: all pre-set values were kept, one was not, or nothing was asked."""

    KEPT = "kept"
    CHANGED = "changed"
    PLAIN = "plain"


class Stop(msgspec.Struct, frozen=True):
    """A screen of a release, or time that belongs to none.

    row: of the merged flow, None of time without a screen; time, person: spent there, None where no run of it counts.
    word: what became of it since the release to the left; None where nothing did, or nothing can be said.
    """

    row: int | None
    title: str
    phase: str
    mark: StopMark
    time: Range | None
    person: Range | None
    word: What | None = None


class StripColumn(msgspec.Struct, frozen=True):
    """A release. stops: in its own order; before: how many of them come before the restart, all where it has none."""

    name: str
    runs: int
    stops: tuple[Stop, ...]
    before: int


class Joined(msgspec.Struct, frozen=True):
    """The same screen in two neighbouring columns. left, right: its stop in each; moved: whether it has."""

    left: int
    right: int
    moved: bool


class StripGap(msgspec.Struct, frozen=True):
    """The space between two neighbouring columns. gone: stops of the left one that the right one has not any more."""

    joined: tuple[Joined, ...]
    gone: tuple[int, ...]


class Strip(msgspec.Struct, frozen=True):
    """Releases as columns, the oldest at the left.

    phases: those that occur, in their order; left_out: how many releases are not shown.
    """

    columns: tuple[StripColumn, ...]
    gaps: tuple[StripGap, ...]
    phases: tuple[str, ...]
    left_out: int = 0

    @property
    def restarts(self) -> bool:
        """Whether any release is seen to restart."""
        return any(column.before < len(column.stops) for column in self.columns)


def lay_strip(sides: Sequence[Side], comparison: Comparison, rulings: Rulings) -> Strip:
    """The strip of some sides."""
    merged = merged_flow(sides, rulings, comparison.selection)
    # What may be said of a screen was decided with all that is known of what a run covers; it is not decided anew.
    told = [
        [change for change in comparison.changes if (change.earlier, change.later) == (one.name, other.name)]
        for one, other in pairwise(sides)
    ]
    columns = tuple(
        _column(sides, merged, place, told[place - 1] if place else (), comparison) for place in range(len(sides))
    )
    gaps = tuple(_gap(*pair, changes) for pair, changes in zip(pairwise(columns), told, strict=True))
    # A phase is met where it first stands in any release.
    phases = dict.fromkeys(stop.phase for column in columns for stop in column.stops)
    return Strip(columns, gaps, tuple(phases))


def _column(
    sides: Sequence[Side], merged: Merged, place: int, changes: Sequence[Change], comparison: Comparison
) -> StripColumn:
    side = sides[place]
    words = {change.title: change.what for change in changes if change.what in _WORDS}
    cells = [(row.number - 1, cell) for row in merged.rows if (cell := row.cells[place]) is not None]
    counted = comparison.selection.of(side.runs) or list(side.runs)
    between = dict(_between(counted))
    stops: list[Stop] = []
    for number, cell in sorted(cells, key=lambda pair: pair[1].place):
        stops.append(
            Stop(number, cell.title, cell.phase, _mark(cell), cell.on_clock, cell.person, words.get(cell.title))
        )
        stops += between.pop(cell.title, [])
    before = next((index for index, stop in enumerate(stops) if stop.phase in _BEHIND), len(stops))
    return StripColumn(side.name, len(side.runs), tuple(stops), before)


_WORDS = MOVES | {What.SCREEN_NEW, What.SCREEN_RENAMED, What.SCREEN_SPLIT, What.SCREEN_MERGED}
"""What may be said of a stop."""


def _between(runs: Sequence[Run]) -> Iterator[tuple[str, list[Stop]]]:
    """Time in which no screen is in front, by the title that it follows, of most of the runs."""
    found: dict[tuple[str, str], list[tuple[Range, Range]]] = {}
    for run in runs:
        for key, spent in _without_screen(run).items():
            found.setdefault(key, []).append(spent)
    for (title, name), times in found.items():
        if 2 * len(times) > len(runs):
            whole, person = (median([spent[place] for spent in times]) for place in (0, 1))
            yield title, [Stop(None, name.capitalize(), name.split()[0], StopMark.PLAIN, whole, person)]


def _without_screen(run: Run) -> dict[tuple[str, str], tuple[Range, Range]]:
    """Time in all and by hand that no screen of a run has, by the title before it and phase."""
    found: dict[tuple[str, str], tuple[Range, Range]] = {}
    last, met = None, set[str]()
    for stretch in run.stretches:
        if stretch.screen is not None:
            last = run.screens[stretch.screen].title
            met.add(stretch.phase)
        elif last is not None and stretch.who != "paused" and not stretch.failed:
            key = last, f"{stretch.phase} again" if stretch.phase in met else stretch.phase
            whole, person = found.get(key, (ZERO, ZERO))
            found[key] = whole + stretch.length, person + stretch.length if stretch.who == "person" else person
    return found


def _mark(cell: FlowCell) -> StopMark:
    if not cell.choices:
        return StopMark.PLAIN
    return StopMark.CHANGED if any(choice.how != "kept" for choice in cell.choices) else StopMark.KEPT


def _gap(left: StripColumn, right: StripColumn, changes: Sequence[Change]) -> StripGap:
    places = {stop.row: place for place, stop in enumerate(right.stops) if stop.row is not None}
    joined, gone = [], []
    lost = {change.title for change in changes if change.what is What.SCREEN_GONE}
    for place, stop in enumerate(left.stops):
        if stop.row in places and stop.row is not None:
            other = places[stop.row]
            joined.append(Joined(place, other, right.stops[other].word in MOVES))
        elif stop.title in lost:
            gone.append(place)
    return StripGap(tuple(joined), tuple(gone))
