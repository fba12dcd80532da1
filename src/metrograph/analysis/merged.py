"""Merges the flows of all runs of several releases into one order of rows, with a cell for each release in each."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import TypeVar

import msgspec

from metrograph.analysis.alignment import merge
from metrograph.analysis.flow import flow, way_of
from metrograph.model.comparison import Cell, Moment, Row, Side
from metrograph.model.flows import NO_RULINGS, Rulings, Way
from metrograph.model.lexicon import OTHER
from metrograph.model.ranges import ZERO, median
from metrograph.model.runs import Choice, Screen

T = TypeVar("T")


class Passed(msgspec.Struct, frozen=True):
    """A screen as one run passed it. side, run: index of the side, and the run's name; place: in the run's way."""

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

    rows: tuple[Row, ...]
    passed: tuple[tuple[Passed, ...], ...]
    orders: tuple[tuple[int, ...], ...]
    overviews: tuple[str | None, ...]


def merged_flow(sides: Sequence[Side], rulings: Rulings = NO_RULINGS) -> Merged:
    """The rows of all runs of these sides."""
    ways = [way_of(run) for side in sides for run in side.runs]
    runs = [(index, run.run, flow(run)) for index, side in enumerate(sides) for run in side.runs]
    slots = merge([way.stops for way in ways], rulings)
    passed = tuple(
        tuple(
            _passed(side, run, screens[place], way, place)
            for (side, run, screens), way, place in zip(runs, ways, row, strict=True)
            if place is not None
        )
        for row in slots
    )  # fmt: skip
    orders = tuple(_order(passed, side) for side in range(len(sides)))
    owned = [[way for (side, *_), way in zip(runs, ways, strict=True) if side == index] for index in range(len(sides))]
    return Merged(
        rows=tuple(_row(number, each, orders) for number, each in enumerate(passed, 1)),
        passed=passed,
        orders=orders,
        overviews=tuple(_overview(own) for own in owned),
    )


def _passed(side: int, run: str, screen: Screen, way: Way, place: int) -> Passed:
    """A screen of a way; coming back to an overview is no return."""
    return Passed(side, run, place, screen, place in way.doors, 0 if place == way.hub else screen.returns)


def usual(values: Sequence[T]) -> T:
    """The most frequent value; among equals the latest."""
    counts = Counter(values)
    return max(reversed(values), key=lambda value: counts[value])


def _row(number: int, passed: Sequence[Passed], orders: Sequence[Sequence[int]]) -> Row:
    kinds = Counter(each.screen.kind for each in passed if each.screen.kind != OTHER)
    by_side = [[each for each in passed if each.side == side] for side in range(len(orders))]
    return Row(
        number=number,
        kind=min(kinds, key=lambda kind: (-kinds[kind], kind)) if kinds else OTHER,
        titles=tuple(dict.fromkeys(each.screen.title for own in by_side for each in own)),
        cells=tuple(
            _cell(own, order.index(number - 1) + 1) if own else None for own, order in zip(by_side, orders, strict=True)
        ),
    )


def _cell(passed: list[Passed], place: int) -> Cell:
    """Several runs of one release as one: times are medians, words are those of most runs, or else of the latest."""
    screens = [each.screen for each in passed]
    title = usual([screen.title for screen in screens])
    choices = _usual_choices(passed)
    return Cell(
        title=title,
        phase=usual([screen.phase for screen in screens]),
        on_clock=median([screen.on_clock for screen in screens]),
        person=median([screen.person for screen in screens]),
        machine=median([screen.machine for screen in screens]),
        returns=max(each.returns for each in passed),
        runs=len(screens),
        choices=tuple(choice for choice, _, _ in choices),
        noted=tuple(moment for _, moment, _ in choices),
        answered=tuple(count for _, _, count in choices),
        seen=next(Moment(each.run, each.screen.start) for each in reversed(passed) if each.screen.title == title),
        door=usual([each.door for each in passed]),
        place=place,
    )


def _usual_choices(passed: list[Passed]) -> list[tuple[Choice, Moment, int]]:
    """For each key what most runs answered, when the latest of them did, and how many answered at all.

    Of several answers in a run, the last counts.
    """
    by_key: dict[str, list[tuple[Choice, str]]] = {}
    for each in passed:
        for key, choice in {choice.key: choice for choice in each.screen.choices}.items():
            by_key.setdefault(key, []).append((choice, each.run))
    found = []
    for noted in by_key.values():
        timeless = [msgspec.structs.replace(choice, at=ZERO) for choice, _ in noted]
        most = usual(timeless)
        choice, run = next(one for one, bare in zip(reversed(noted), reversed(timeless), strict=True) if bare == most)
        found.append((choice, Moment(run, choice.at), len(noted)))
    return found


def _order(passed: Sequence[Sequence[Passed]], side: int) -> tuple[int, ...]:
    places: list[tuple[float, int]] = []
    for index, row in enumerate(passed):
        own = [each.place for each in row if each.side == side]
        if own:
            places.append((sum(own) / len(own), index))
    return tuple(index for _, index in sorted(places))


def _overview(ways: Sequence[Way]) -> str | None:
    """The overview of most of a side's runs."""
    titles = [None if way.hub is None else way.stops[way.hub].title for way in ways]
    return usual(titles) if titles else None
