"""Merges the flows of all runs of several releases into one order of rows, with a cell for each release in each."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import TypeVar

from metrograph.analysis.alignment import Slots, merge
from metrograph.analysis.flow import flow
from metrograph.model.comparison import Cell, Row, Side
from metrograph.model.lexicon import OTHER
from metrograph.model.ranges import median
from metrograph.model.runs import Choice, Screen

T = TypeVar("T")


def merged_flow(sides: Sequence[Side]) -> tuple[tuple[Row, ...], list[list[int]]]:
    """The rows, and for each side the indices of its rows in the order its runs pass them, by mean place in a run."""
    slots = merge([flow(run) for side in sides for run in side.runs])
    owners = [index for index, side in enumerate(sides) for _ in side.runs]
    return tuple(_row(each, owners, len(sides)) for each in slots), _orders(sides, slots, owners)


def usual(values: Sequence[T]) -> T:
    """The most frequent value; among equals the latest."""
    counts = Counter(values)
    return max(reversed(values), key=lambda value: counts[value])


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
        title=usual([screen.title for screen in screens]),
        phase=usual([screen.phase for screen in screens]),
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
    return tuple(usual(choices) for choices in by_key.values())


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
