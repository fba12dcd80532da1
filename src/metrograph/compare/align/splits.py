"""Finds what one screen gave to another from one release to the next: screens split, screens merged, questions moved.

It goes by the keys of the questions, and where none were noted by the words of the titles: "Place and keyboard" is
split into "Place" and "Keyboard".
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

import msgspec

from metrograph.compare.flow_records import FlowCell, FlowRow

_SHORTEST = 3  # letters of a word of a title that says something


class Split(msgspec.Struct, frozen=True):
    """One screen that several have come from, or that several have become. whole, parts: indices of rows."""

    whole: int
    parts: tuple[int, ...]


class Shifts(msgspec.Struct, frozen=True):
    """The questions that went from screen to screen between two sides.

    splits: wholes of the earlier side in parts of the later; mergers: parts of the earlier in wholes of the later.
    questions: by key, the rows a question went from and to.
    """

    splits: tuple[Split, ...]
    mergers: tuple[Split, ...]
    questions: dict[str, tuple[int, int]]


def shifts(rows: Sequence[FlowRow], earlier: int, later: int) -> Shifts:
    """What went from screen to screen. earlier, later: indices of the two sides among the rows' cells."""
    before, after = ([row.cells[side] for row in rows] for side in (earlier, later))
    questions = _moved_questions(before, after)
    # A merger is a split seen from the other side, so one rule finds both.
    backward = {key: (to, from_) for key, (from_, to) in questions.items()}
    return Shifts(_splits(before, after, questions), _splits(after, before, backward), questions)


def _moved_questions(before: Sequence[FlowCell | None], after: Sequence[FlowCell | None]) -> dict[str, tuple[int, int]]:
    """Questions asked on one row only on either side, and not on the same."""
    gone, new = _only(before, after), _only(after, before)
    return {key: (gone[key], new[key]) for key in gone if key in new}


def _only(cells: Sequence[FlowCell | None], others: Sequence[FlowCell | None]) -> dict[str, int]:
    """Keys that a side asks for on one row, where the other side does not ask for them."""
    asked: dict[str, list[int]] = {}
    for index, (cell, other) in enumerate(zip(cells, others, strict=True)):
        # A question asked on the same row on both sides has not gone anywhere.
        for key in _keys(cell) - _keys(other):
            asked.setdefault(key, []).append(index)
    return {key: places[0] for key, places in asked.items() if len(places) == 1}


def _splits(
    before: Sequence[FlowCell | None], after: Sequence[FlowCell | None], questions: dict[str, tuple[int, int]]
) -> tuple[Split, ...]:
    """Wholes on one side that are in parts on the other, each part a screen that the first side has not."""
    parts: dict[int, list[int]] = {}
    for index, cell in enumerate(after):
        if cell is not None and before[index] is None:
            # Questions are proof; words are taken only where nothing was asked.
            whole = _whole_by_keys(cell, questions)
            whole = _whole_by_words(cell, before, after) if whole is None and not cell.choices else whole
            if whole is not None:
                parts.setdefault(whole, []).append(index)
    # What still stands in the old place under its part of the name is a part as well.
    every = {whole: [whole, *rows] if after[whole] is not None else rows for whole, rows in parts.items()}
    return tuple(Split(whole, tuple(sorted(rows))) for whole, rows in sorted(every.items()) if len(rows) > 1)


def _whole_by_keys(part: FlowCell, questions: dict[str, tuple[int, int]]) -> int | None:
    """The row that all of a part's questions came from; None when there is no such row."""
    origins = {questions[key][0] if key in questions else None for key in _keys(part)}
    return origins.pop() if len(origins) == 1 else None


def _whole_by_words(part: FlowCell, before: Sequence[FlowCell | None], after: Sequence[FlowCell | None]) -> int | None:
    """The row whose title had the words of the part's title, and of what has become of itself, one beside the other."""
    words = _words(part.title)
    for index, rest in _kept(before, after):
        old, new = before[index], _words(rest.title)
        if old is not None and words and new and words | new <= _words(old.title) and not words & new:
            return index
    return None


def _kept(before: Sequence[FlowCell | None], after: Sequence[FlowCell | None]) -> Iterator[tuple[int, FlowCell]]:
    """The rows that both sides have, with the cell of the later."""
    for index, (old, new) in enumerate(zip(before, after, strict=True)):
        if old is not None and new is not None:
            yield index, new


def _keys(cell: FlowCell | None) -> set[str]:
    return {choice.key for choice in cell.choices} if cell is not None else set()


def _words(title: str) -> frozenset[str]:
    return frozenset(word for word in re.findall(r"\w+", title.casefold()) if len(word) >= _SHORTEST)
