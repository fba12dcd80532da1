"""Methods that alignment rests on, over numbers alone: heaviest matches, rising runs, assignment, woven orders."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping, Sequence


def heaviest(pairs: Sequence[tuple[int, int, float]], columns: int) -> list[tuple[int, int]]:
    """The matches, rising in row and column, whose gains sum to the most.

    pairs: row, column and gain of each that may be matched, by row and, within a row, by falling column.
    columns: how many there are.

    A Fenwick tree holds the best sum that ends before each column, so a pair costs the logarithm of the columns.
    """
    best: list[tuple[float, int]] = [(0.0, -1)] * (columns + 1)
    before: list[int] = []
    for index, (_, column, gain) in enumerate(pairs):
        top, last, place = 0.0, -1, column
        # The best sum over all columns before this one: the tree is walked down, a set bit at a time.
        while place > 0:
            if best[place][0] > top:
                top, last = best[place]
            place &= place - 1
        before.append(last)
        total, place = top + gain, column + 1
        # Whoever covers this column learns of the sum: the tree is walked up.
        while place <= columns:
            if total > best[place][0]:
                best[place] = (total, index)
            place += place & -place
    top, last, place = 0.0, -1, columns
    while place > 0:
        if best[place][0] > top:
            top, last = best[place]
        place &= place - 1
    chain = []
    while last >= 0:
        chain.append(pairs[last][:2])
        last = before[last]
    return chain[::-1]


def moved(order: Sequence[int]) -> set[int]:
    """The fewest of these distinct numbers that would have to be taken out for the rest to be rising.

    The rest is a longest increasing subsequence, found by patience sorting.
    """
    tails: list[int] = []  # the smallest last number of a rising run of each length
    before: dict[int, int | None] = {}
    for number in order:
        place = bisect_left(tails, number)
        before[number] = tails[place - 1] if place else None
        tails[place : place + 1] = [number]
    kept: set[int] = set()
    last = tails[-1] if tails else None
    while last is not None:
        kept.add(last)
        last = before[last]
    return set(order) - kept


def assigned(gains: Mapping[tuple[int, int], float]) -> list[tuple[int, int]]:
    """The pairs of row and column, each in one pair at most, whose gains sum to the most."""
    rows = sorted({row for row, _ in gains})
    columns = sorted({column for _, column in gains})
    if len(gains) == len(rows) == len(columns):
        return sorted(gains)  # nothing competes, as mostly, and what would weigh it need not be loaded
    import numpy as np
    from scipy.optimize import linear_sum_assignment

    table = np.zeros((len(rows), len(columns)))
    for (row, column), gain in gains.items():
        table[rows.index(row), columns.index(column)] = gain
    pairs = zip(*linear_sum_assignment(table, maximize=True), strict=True)
    return [(rows[row], columns[column]) for row, column in pairs if table[row, column] > 0]


def woven(order: list[int], places: list[int]) -> list[int]:
    """One order with what another has more, each before the next in common that has not moved."""
    place = {row: rank for rank, row in enumerate(order)}
    out_of_place = moved([place[row] for row in places if row in place])
    before: dict[int, list[int]] = {}
    waiting: list[int] = []
    for row in places:
        if row not in place:
            waiting.append(row)
        elif place[row] not in out_of_place:
            before[row], waiting = waiting, []
    woven: list[int] = []
    for row in order:
        woven += [*before.get(row, ()), row]
    return woven + waiting
