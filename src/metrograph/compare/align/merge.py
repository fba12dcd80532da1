"""Merges the flows of all runs of several releases into one order of rows, with a cell for each release in each."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable, Sequence
from typing import TypeVar

import msgspec

from metrograph.compare.align.alignment import merge
from metrograph.compare.flow_records import FlowCell, FlowRow, LogPlace, Side
from metrograph.log.lexicon import OTHER
from metrograph.log.quantities.ranges import ZERO, Range, median
from metrograph.measures.selection import Selection, candidate, select
from metrograph.run.records import Choice, Screen
from metrograph.run.route import NO_RULINGS, Route, Rulings, route_of, route_screens

T = TypeVar("T")


class Passed(msgspec.Struct, frozen=True):
    """A screen as one run passed it. side, run: index of the side, and the run's name; place: on the run's route."""

    side: int
    run: str
    place: int
    screen: Screen
    door: bool
    returns: int


class Merged(msgspec.Struct, frozen=True):
    """The merged flow of some sides.

    rows: in the order of the first side, with what only later ones have in between.
    passed: for each row, all that the runs passed of it.
    orders: for each side the indices of its rows in the order its runs pass them, by mean place in a run.
    overviews: for each side the title of the screen whose doors lead to the others; None where there is none.
    """

    rows: tuple[FlowRow, ...]
    passed: tuple[tuple[Passed, ...], ...]
    orders: tuple[tuple[int, ...], ...]
    overviews: tuple[str | None, ...]


def selection_of(sides: Sequence[Side]) -> Selection:
    """Which runs of some sides their figures are made from."""
    return select({side.name: [candidate(run) for run in side.runs] for side in sides})


def merged_flow(sides: Sequence[Side], rulings: Rulings = NO_RULINGS, selection: Selection | None = None) -> Merged:
    """The rows of all runs of these sides.

    selection: the runs whose times count; None for what ``selection_of`` says.
    """
    taken_from = selection_of(sides) if selection is None else selection
    counts = {run.run for side in sides for run in taken_from.of(side.runs)}
    routes = [route_of(run) for side in sides for run in side.runs]
    runs = [(index, run.run, route_screens(run)) for index, side in enumerate(sides) for run in side.runs]
    slots = merge([route.screens for route in routes], rulings)
    passed = tuple(
        tuple(
            _passed(side, run, screens[place], route, place)
            for (side, run, screens), route, place in zip(runs, routes, row, strict=True)
            if place is not None
        )
        for row in slots
    )  # fmt: skip
    orders = tuple(_order(passed, side) for side in range(len(sides)))
    taken = [
        [route for (side, *_), route in zip(runs, routes, strict=True) if side == index] for index in range(len(sides))
    ]
    return Merged(
        rows=tuple(_row(number, row, orders, counts) for number, row in enumerate(passed, 1)),
        passed=passed,
        orders=orders,
        overviews=tuple(_overview(side_routes) for side_routes in taken),
    )


def _passed(side: int, run: str, screen: Screen, route: Route, place: int) -> Passed:
    """A screen of a route; coming back to an overview is no return."""
    returns = 0 if place == route.overview else screen.returns
    return Passed(side, run, place, screen, place in route.doors, returns)


def usual(values: Sequence[T]) -> T:
    """The most frequent value; among equals the latest."""
    counts = Counter(values)
    return max(reversed(values), key=lambda value: counts[value])


def _row(number: int, passed: Sequence[Passed], orders: Sequence[Sequence[int]], counts: Collection[str]) -> FlowRow:
    # Those who could not tell its kind do not outvote those who could.
    kinds = Counter(visit.screen.kind for visit in passed if visit.screen.kind != OTHER)
    by_side = [[visit for visit in passed if visit.side == side] for side in range(len(orders))]
    return FlowRow(
        number=number,
        kind=min(kinds, key=lambda kind: (-kinds[kind], kind)) if kinds else OTHER,
        titles=tuple(dict.fromkeys(visit.screen.title for visits in by_side for visit in visits)),
        cells=tuple(
            _cell(visits, order.index(number - 1) + 1, counts) if visits else None
            for visits, order in zip(by_side, orders, strict=True)
        ),
    )


def _cell(passed: list[Passed], place: int, counts: Collection[str]) -> FlowCell:
    """Several runs of one release as one: times are medians, words are those of most runs, or else of the latest."""
    screens = [visit.screen for visit in passed]
    timed = [visit.screen for visit in passed if visit.run in counts]
    title = usual([screen.title for screen in screens])
    choices = _usual_choices(passed)
    return FlowCell(
        title=title,
        phase=usual([screen.phase for screen in screens]),
        on_clock=_usually(screen.on_clock for screen in timed),
        person=_usually(screen.person for screen in timed),
        machine=_usually(screen.machine for screen in timed),
        returns=max(visit.returns for visit in passed),
        runs=len(screens),
        choices=tuple(choice for choice, _, _ in choices),
        noted=tuple(when for _, when, _ in choices),
        answered=tuple(count for _, _, count in choices),
        seen=next(LogPlace(visit.run, visit.screen.start) for visit in reversed(passed) if visit.screen.title == title),
        door=usual([visit.door for visit in passed]),
        place=place,
    )


def _usually(times: Iterable[Range]) -> Range | None:
    known = list(times)
    return median(known) if known else None


def _usual_choices(passed: list[Passed]) -> list[tuple[Choice, LogPlace, int]]:
    """For each key what most runs answered, when the latest of them did, and how many answered at all.

    Of several answers in a run, the last counts.
    """
    by_key: dict[str, list[tuple[Choice, str]]] = {}
    for visit in passed:
        for key, choice in {choice.key: choice for choice in visit.screen.choices}.items():
            by_key.setdefault(key, []).append((choice, visit.run))
    answers = []
    for noted in by_key.values():
        # Two answers are the same whenever they were given.
        timeless = [msgspec.structs.replace(choice, at=ZERO) for choice, _ in noted]
        most = usual(timeless)
        choice, run = next(one for one, bare in zip(reversed(noted), reversed(timeless), strict=True) if bare == most)
        answers.append((choice, LogPlace(run, choice.at), len(noted)))
    return answers


def _order(passed: Sequence[Sequence[Passed]], side: int) -> tuple[int, ...]:
    places: list[tuple[float, int]] = []
    for index, row in enumerate(passed):
        in_runs = [visit.place for visit in row if visit.side == side]
        if in_runs:
            # Runs of one release may pass screens in different order, behind the doors of an overview for one.
            places.append((sum(in_runs) / len(in_runs), index))
    return tuple(index for _, index in sorted(places))


def _overview(routes: Sequence[Route]) -> str | None:
    """The overview of most of a side's runs."""
    titles = [None if route.overview is None else route.screens[route.overview].title for route in routes]
    return usual(titles) if titles else None
