"""Lays flows of screens beside each other, so that screens that are for the same thing share a row.

Two flows are aligned globally after Needleman and Wunsch (1970), with the likeness of two screens as the gain of a
match and gaps for free; more flows join one after the other. A screen that the order of the others leaves without a
partner, but that has one elsewhere, has moved: it shares that partner's row.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence

from rapidfuzz import fuzz

from metrograph.model.lexicon import OTHER
from metrograph.model.runs import Screen

SAME = 0.6
"""The least likeness at which two screens are taken for the same."""

_ENOUGH = 200  # characters of a title; comparing takes the square of their number

Slots = list[Screen | None]


def likeness(one: Screen, other: Screen) -> float:
    """How likely two screens are for the same thing, 0 to 1.

    One kind makes them the same whatever their titles are, and the titles decide between several of one kind. Without
    kinds, or against them, the titles have to be alike.
    """
    titles = fuzz.token_sort_ratio(one.title[:_ENOUGH].casefold(), other.title[:_ENOUGH].casefold()) / 100
    if one.kind != other.kind:
        return 0.7 * titles
    return titles if one.kind == OTHER else SAME + (1 - SAME) * titles


def merge(flows: Sequence[Sequence[Screen]]) -> list[Slots]:
    """One order of rows for all flows; each row has an entry per flow, None where the flow has no such screen."""
    rows: list[Slots] = []
    for index, screens in enumerate(flows):
        scores = [[_row_likeness(row, screen) for screen in screens] for row in rows]
        pairs = align(scores, len(screens))
        rows = _joined(rows, screens, pairs, index)
        _place_moved(rows, index)
    return rows


def align(scores: Sequence[Sequence[float]], columns: int) -> list[tuple[int | None, int | None]]:
    """The global alignment of rows with columns that gains most.

    scores: rows x columns, what a match gains; below ``SAME`` the two are never matched.

    Returns pairs of indices in order; one of the two is None where there is no partner.
    """
    best = _table(scores, columns)
    pairs: list[tuple[int | None, int | None]] = []
    row, column = len(scores), columns
    while row or column:
        score = scores[row - 1][column - 1] if row and column else 0.0
        if score >= SAME and best[row][column] == best[row - 1][column - 1] + score:
            row, column = row - 1, column - 1
            pairs.append((row, column))
        elif column and best[row][column] == best[row][column - 1]:
            column -= 1
            pairs.append((None, column))
        else:
            row -= 1
            pairs.append((row, None))
    return pairs[::-1]


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


def _table(scores: Sequence[Sequence[float]], columns: int) -> list[list[float]]:
    """What the best alignment of the first rows with the first columns gains, for every number of both."""
    best = [[0.0] * (columns + 1)]
    for line in scores:
        above, here = best[-1], [0.0]
        for column, score in enumerate(line):
            gain = above[column] + score if score >= SAME else 0.0
            here.append(max(gain, above[column + 1], here[column]))
        best.append(here)
    return best


def _row_likeness(row: Slots, screen: Screen) -> float:
    return max(likeness(each, screen) for each in row if each is not None)


def _joined(
    rows: list[Slots], screens: Sequence[Screen], pairs: list[tuple[int | None, int | None]], index: int
) -> list[Slots]:
    """The rows with one more flow in them, at entry ``index``."""
    joined: list[Slots] = []
    for row, column in pairs:
        slots: Slots = [*rows[row]] if row is not None else [None] * index
        joined.append([*slots, screens[column] if column is not None else None])
    return joined


def _place_moved(rows: list[Slots], index: int) -> None:
    """Gives screens that only flow ``index`` has to a row that lacks one like it, the likest first."""
    lone = [(row, row[index]) for row in rows if not any(row[:index])]
    without = [row for row in rows if row[index] is None]
    ranked = sorted(
        (-_row_likeness(row, screen), i, j)
        for i, (_, screen) in enumerate(lone)
        for j, row in enumerate(without)
        if screen is not None
    )
    placed: set[int] = set()
    for score, i, j in ranked:
        if -score >= SAME and i not in placed and without[j][index] is None:
            without[j][index] = lone[i][1]
            placed.add(i)
    emptied = {id(lone[i][0]) for i in placed}
    rows[:] = [row for row in rows if id(row) not in emptied]
