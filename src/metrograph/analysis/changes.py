"""What changed from one release to another in screens and questions, and beside them; what matters most comes first."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from itertools import pairwise
from typing import get_args

import msgspec

from metrograph.analysis.alignment import moved
from metrograph.analysis.changes_beside import changes_beside
from metrograph.analysis.merged import Merged
from metrograph.analysis.splits import Shifts, shifts
from metrograph.language.escapes import join_list, split_list
from metrograph.model.comparison import Cell, Change, Moment, Side, What
from metrograph.model.lexicon import is_after_restart
from metrograph.model.runs import Choice

_IMPORTANCE: dict[str, int] = {what: rank for rank, what in enumerate(get_args(What))}


def changes(sides: Sequence[Side], merged: Merged) -> tuple[Change, ...]:
    """The changes between neighbours, pair by pair, each from what matters most to what matters least."""
    pairs = pairwise(range(len(sides)))
    return tuple(change for earlier, later in pairs for change in changes_between(sides, merged, earlier, later))


def changes_since(sides: Sequence[Side], merged: Merged, baseline: int) -> tuple[Change, ...]:
    """The changes between a baseline and all sides that are not its neighbours."""
    others = [side for side in range(len(sides)) if abs(side - baseline) > 1]
    pairs = [(min(side, baseline), max(side, baseline)) for side in others]
    return tuple(change for earlier, later in pairs for change in changes_between(sides, merged, earlier, later))


def changes_between(sides: Sequence[Side], merged: Merged, earlier: int, later: int) -> list[Change]:
    """The changes from one side to another, by their indices; along the flow where they matter equally."""
    found = [*_Pair(sides, merged, earlier, later).changes(), *changes_beside(sides, merged, earlier, later)]
    return sorted(found, key=lambda change: _IMPORTANCE[change.what])


class _Pair:
    """Two sides."""

    def __init__(self, sides: Sequence[Side], merged: Merged, earlier: int, later: int) -> None:
        self.names = sides[earlier].name, sides[later].name
        self.all_names = [side.name for side in sides]
        self.sides = earlier, later
        self.rows = merged.rows
        self.orders = merged.orders[earlier], merged.orders[later]
        self.shifts: Shifts = shifts(merged.rows, earlier, later)
        self.parted = {part for each in self.shifts.splits for part in (*each.parts, each.whole)}
        self.parted |= {part for each in self.shifts.mergers for part in (*each.parts, each.whole)}
        self.moved = self._moved()

    def changes(self) -> Iterator[Change]:
        """What changed at each row, and what went from row to row."""
        yield from self._partings()
        for index, row in enumerate(self.rows):
            before, after = (row.cells[side] for side in self.sides)
            if before is not None and after is not None:
                yield from self._screen_changes(index, before, after)
                yield from self._answer_changes(index, before, after)
            elif index in self.parted:
                continue
            elif after is not None:
                yield Change(*self.names, "screen-new", row.kind, after.title, after_at=after.seen)
            elif before is not None:
                yield Change(*self.names, "screen-gone", row.kind, before.title, before_at=before.seen)
        yield from self._moved_questions()

    def _moved(self) -> set[int]:
        """The rows in common whose order differs; what stands behind the doors of an overview has none."""
        place = {row: rank for rank, row in enumerate(self.orders[0])}
        common = [row for row in self.orders[1] if row in place and not self._is_door(row)]
        out_of_place = moved([place[row] for row in common])
        return {row for row in common if place[row] in out_of_place}

    def _is_door(self, row: int) -> bool:
        return any(cell is not None and cell.door for cell in (self.rows[row].cells[side] for side in self.sides))

    def _partings(self) -> Iterator[Change]:
        for what, partings, (whole, part) in (
            ("screen-split", self.shifts.splits, self.sides),
            ("screen-merged", self.shifts.mergers, self.sides[::-1]),
        ):
            for each in partings:
                one = self.rows[each.whole].cells[whole]
                many = [cell for index in each.parts if (cell := self.rows[index].cells[part]) is not None]
                if one is not None:
                    yield self._parting(what, self.rows[each.whole].kind, one, many)

    def _parting(self, what: str, kind: str, one: Cell, many: list[Cell]) -> Change:
        titles = join_list(tuple(cell.title for cell in many))
        if what == "screen-split":
            return Change(
                *self.names, "screen-split", kind, one.title, None, one.title, titles, one.seen, many[-1].seen
            )
        return Change(*self.names, "screen-merged", kind, one.title, None, titles, one.title, many[-1].seen, one.seen)

    def _screen_changes(self, index: int, before: Cell, after: Cell) -> Iterator[Change]:
        kind = self.rows[index].kind
        found = (before.seen, after.seen)
        if before.title != after.title and index not in self.parted:
            yield Change(*self.names, "screen-renamed", kind, after.title, None, before.title, after.title, *found)
        crossed = is_after_restart(before.phase) != is_after_restart(after.phase)
        if crossed or index in self.moved:
            places = self._place(0, index, before), self._place(1, index, after)
            what: What = "screen-crossed" if crossed else "screen-moved"
            yield Change(*self.names, what, kind, after.title, None, *places, *found)

    def _place(self, side: int, index: int, cell: Cell) -> str:
        """Where a screen stands: which one it follows, and its phase."""
        order = self.orders[side]
        rank = order.index(index)
        previous = self.rows[order[rank - 1]].cells[self.sides[side]] if rank else None
        return f"{cell.phase}, after “{previous.title}”" if previous else f"{cell.phase}, first"

    def _answer_changes(self, index: int, before: Cell, after: Cell) -> Iterator[Change]:
        kind = self.rows[index].kind
        old, new = _answers(before), _answers(after)
        for key in {**old, **new}:
            if key in old and key in new:
                yield from self._choice_changes(kind, after.title, old[key], new[key])
            elif key in self.shifts.questions or not self._asked(key, before, after):
                continue
            elif key in new:
                choice, at = new[key]
                value = choice.preset or choice.value
                yield Change(*self.names, "question-new", kind, after.title, key, after=value, after_at=at)
            else:
                choice, at = old[key]
                value = choice.preset or choice.value
                yield Change(*self.names, "question-gone", kind, after.title, key, before=value, before_at=at)

    def _asked(self, key: str, *cells: Cell) -> bool:
        """Whether most of the runs that passed a screen noted a question: what few note, they did of their own."""
        for cell in cells:
            counts = dict(zip((choice.key for choice in cell.choices), cell.answered, strict=True))
            if key in counts:
                return 2 * counts[key] > cell.runs
        return False

    def _as_in(self, key: str, value: str) -> str | None:
        """The last side before the two on which this question had this value pre-set."""
        for side in range(self.sides[0] - 1, -1, -1):
            cells = [row.cells[side] for row in self.rows]
            presets = [choice.preset for cell in cells if cell for choice in cell.choices if choice.key == key]
            if value in presets:
                return self.all_names[side]
        return None

    def _moved_questions(self) -> Iterator[Change]:
        """Questions that went to another screen, and what else changed about them."""
        for key, (origin, target) in self.shifts.questions.items():
            before, after = self.rows[origin].cells[self.sides[0]], self.rows[target].cells[self.sides[1]]
            if before is None or after is None:
                continue
            (old, old_at), (new, new_at) = _answers(before)[key], _answers(after)[key]
            kind = self.rows[target].kind
            if not {origin, target} <= self.parted:
                titles = before.title, after.title
                yield Change(*self.names, "question-moved", kind, after.title, key, *titles, old_at, new_at)
            yield from self._choice_changes(kind, after.title, (old, old_at), (new, new_at))

    def _choice_changes(
        self, kind: str, title: str, earlier: tuple[Choice, Moment], later: tuple[Choice, Moment]
    ) -> Iterator[Change]:
        (old, old_at), (new, new_at) = earlier, later

        def change(what: What, before: str, after: str) -> Change:
            return Change(*self.names, what, kind, title, new.key, before, after, old_at, new_at)

        if old.preset is not None and new.preset is not None and not same_value(old.preset, new.preset):
            as_in = self._as_in(new.key, new.preset)
            yield msgspec.structs.replace(change("preset-changed", old.preset, new.preset), as_in=as_in)
        followed = old.how == new.how == "kept"  # the answer is the pre-set value, and that it changed was said
        if old.value is not None and new.value is not None and not followed and not same_value(old.value, new.value):
            yield change("choice-changed", old.value, new.value)
        if old.offered and new.offered and set(old.offered) != set(new.offered):
            yield change("offer-changed", join_list(old.offered), join_list(new.offered))
        if (old.how == "typed") != (new.how == "typed"):
            words = {True: "typed", False: "picked"}
            yield change("typing-changed", words[old.how == "typed"], words[new.how == "typed"])


def same_value(one: str, other: str) -> bool:
    """Ticked lists are the same in any order."""
    if one[:1] in {"+", "-"} and other[:1] in {"+", "-"}:
        return set(split_list(one)) == set(split_list(other))
    return one == other


def _answers(cell: Cell) -> dict[str, tuple[Choice, Moment]]:
    pairs: Iterable[tuple[Choice, Moment]] = zip(cell.choices, cell.noted, strict=True)
    return {choice.key: (choice, moment) for choice, moment in pairs}
