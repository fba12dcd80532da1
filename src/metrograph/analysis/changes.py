"""What changed from one release to the next: screens, questions, pre-set values, choices, offers, trials."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from metrograph.analysis.alignment import moved
from metrograph.language.escapes import join_list, split_list
from metrograph.model.comparison import Cell, Change, Row, Side, What
from metrograph.model.lexicon import is_after_restart
from metrograph.model.runs import Choice


def changes(sides: Sequence[Side], rows: Sequence[Row], orders: Sequence[Sequence[int]]) -> tuple[Change, ...]:
    """The changes between neighbours: along the flow, then in the trials.

    orders: for each side, the indices of its rows in the order it passes them.
    """
    found: list[Change] = []
    for left, (earlier, later) in enumerate(pairwise(sides)):
        pair = _Pair(earlier.name, later.name, left, rows, orders)
        for index in range(len(rows)):
            found += pair.row_changes(index)
        found += _trial_changes(earlier, later)
    return tuple(found)


def _trial_changes(earlier: Side, later: Side) -> list[Change]:
    """Trials that came out otherwise; a trial not made on one of the two sides says nothing."""
    before, after = _results(earlier), _results(later)
    return [
        Change(earlier.name, later.name, "check-changed", key=name, before=before[name], after=after[name])
        for name in before
        if name in after and before[name] != after[name]
    ]


def _results(side: Side) -> dict[str, str]:
    """Every trial of a side that was made; ``pass/fail`` where its runs differ."""
    found: dict[str, dict[str, None]] = {}
    for run in side.runs:
        for check in run.checks:
            if check.result != "skipped":
                found.setdefault(check.name, {})[check.result] = None
    return {name: "/".join(results) for name, results in found.items()}


class _Pair:
    """Two neighbouring sides."""

    def __init__(
        self, earlier: str, later: str, left: int, rows: Sequence[Row], orders: Sequence[Sequence[int]]
    ) -> None:
        self.names, self.left, self.rows = (earlier, later), left, rows
        self.orders = orders[left], orders[left + 1]
        place = {row: rank for rank, row in enumerate(self.orders[0])}
        common = [row for row in self.orders[1] if row in place]
        out_of_place = moved([place[row] for row in common])
        self.moved = {row for row in common if place[row] in out_of_place}

    def row_changes(self, index: int) -> list[Change]:
        """What changed at one row."""
        row = self.rows[index]
        before, after = row.cells[self.left], row.cells[self.left + 1]
        if before is None and after is None:
            return []
        if before is None or after is None:
            present = before or after
            what: What = "screen-new" if before is None else "screen-gone"
            return [Change(*self.names, what, row.kind, present.title)] if present else []
        return self._screen_changes(index, row.kind, before, after) + self._answer_changes(row.kind, before, after)

    def _screen_changes(self, index: int, kind: str, before: Cell, after: Cell) -> list[Change]:
        changes = []
        if before.title != after.title:
            changes.append(
                Change(*self.names, "screen-renamed", kind, after.title, before=before.title, after=after.title)
            )
        if index in self.moved or is_after_restart(before.phase) != is_after_restart(after.phase):
            places = self._place(0, index, before), self._place(1, index, after)
            changes.append(Change(*self.names, "screen-moved", kind, after.title, before=places[0], after=places[1]))
        return changes

    def _place(self, side: int, index: int, cell: Cell) -> str:
        """Where a screen stands: which one it follows, and its phase."""
        order = self.orders[side]
        rank = list(order).index(index)
        previous = self.rows[order[rank - 1]].cells[self.left + side] if rank else None
        return f"{cell.phase}, after {previous.title}" if previous else f"{cell.phase}, first"

    def _answer_changes(self, kind: str, before: Cell, after: Cell) -> list[Change]:
        changes: list[Change] = []
        old, new = ({choice.key: choice for choice in cell.choices} for cell in (before, after))
        for key in {**old, **new}:
            if key in old and key in new:
                changes += self._choice_changes(kind, after.title, old[key], new[key])
            elif key in new:
                value = new[key].preset or new[key].value
                changes.append(Change(*self.names, "question-new", kind, after.title, key, after=value))
            else:
                value = old[key].preset or old[key].value
                changes.append(Change(*self.names, "question-gone", kind, after.title, key, before=value))
        return changes

    def _choice_changes(self, kind: str, title: str, old: Choice, new: Choice) -> list[Change]:
        def change(what: What, before: str, after: str) -> Change:
            return Change(*self.names, what, kind, title, new.key, before, after)

        changes = []
        if old.preset is not None and new.preset is not None and old.preset != new.preset:
            changes.append(change("preset-changed", old.preset, new.preset))
        if old.value is not None and new.value is not None and not _same_value(old.value, new.value):
            changes.append(change("choice-changed", old.value, new.value))
        if old.offered and new.offered and set(old.offered) != set(new.offered):
            changes.append(change("offer-changed", join_list(old.offered), join_list(new.offered)))
        return changes


def _same_value(one: str, other: str) -> bool:
    """Ticked lists are the same in any order."""
    if one[:1] in {"+", "-"} and other[:1] in {"+", "-"}:
        return set(split_list(one)) == set(split_list(other))
    return one == other
