"""What changed from one release to another in screens and questions, and beside them; what matters most comes first.

What one release has and the other says nothing of is a change only where the other came by without it; elsewhere it is
unknown.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

import msgspec

from metrograph.compare.align.merge import Merged
from metrograph.compare.align.sequences import moved
from metrograph.compare.align.splits import Shifts, shifts
from metrograph.compare.answers_alike import same_value
from metrograph.compare.changes_beside import changes_beside
from metrograph.compare.coverage import Coverage, Silence
from metrograph.compare.flow_records import Change, FlowCell, LogPlace, Side, Unknown, What
from metrograph.log.escapes import join_list
from metrograph.log.lexicon import WITHOUT_TITLE, is_after_restart, is_untitled
from metrograph.run.records import Choice, Part

_IMPORTANCE = {what: rank for rank, what in enumerate(What)}


class ToldChanges(NamedTuple):
    """All that is told of two sides: what changed, and of what nothing is known."""

    changes: list[Change]
    unknown: list[Unknown]


def told_between(
    sides: Sequence[Side], merged: Merged, coverage: Coverage | None, earlier: int, later: int
) -> ToldChanges:
    """What changed from one side to another, by their indices; along the flow where it matters equally.

    coverage: what the runs came by; None where all that is missing counts, as against a plan.
    """
    silence = _UnnotedChanges(sides, coverage, earlier, later)
    pair = _Pair(sides, merged, silence)
    every = [*pair.changes(), *changes_beside(sides, merged, earlier, later), *_phases(sides, silence)]
    return ToldChanges(in_order(every), silence.unknown)


def in_order(changes: Iterable[Change]) -> list[Change]:
    """Changes from what matters most to what matters least."""
    return sorted(changes, key=lambda change: _IMPORTANCE[change.what])


class _UnnotedChanges:
    """Decides between two sides whether what one of them lacks is gone, and keeps what nobody knows.

    Sides are 0 for the earlier and 1 for the later.
    """

    def __init__(self, sides: Sequence[Side], coverage: Coverage | None, earlier: int, later: int) -> None:
        self.places = earlier, later
        self.names = sides[earlier].name, sides[later].name
        self.across = sides[earlier].line != sides[later].line
        installing = [any(Part.INSTALLATION in run.covers for run in sides[place].runs) for place in self.places]
        # Who only looks at a live session, or at a system that is there, comes by no installer; see ``run.scope``.
        self.unlike = installing[0] != installing[1]
        self.coverage = coverage
        self.unknown: list[Unknown] = []

    def of_screen(self, side: int, row: int, title: str) -> bool:
        """Whether a side lacks a row for all that is known; of a screen whose title nobody knows, nothing is."""
        if is_untitled(title):
            return False
        return self.coverage is None or self._noted(side, self.coverage.of_row(self.places[side], row), "screen", title)

    def of_question(self, side: int, row: int, key: str, title: str) -> bool:
        """Whether a side lacks a question on a row for all that is known."""
        return self.coverage is None or self._noted(
            side, self.coverage.of_questions(self.places[side], row), "question", key, title
        )

    def of_phase(self, side: int, name: str) -> bool:
        """Whether a side lacks a phase for all that is known."""
        return self.coverage is None or self._noted(
            side, self.coverage.of_phase(self.places[side], name), "phase", name
        )

    def _noted(self, side: int, why: Silence | None, what: str, name: str, on: str | None = None) -> bool:
        if self.unlike and why is None:
            why = Silence.NOT_REACHED
        # Of two lines nothing follows from the other: what only one of them has is no news of either.
        if not self.across and why is not None:
            self.unknown.append(Unknown(self.names[side], self.names[1 - side], what, name, str(why), on))
        return not self.across and why is None


class _Pair:
    """Two sides of a comparison, held against each other."""

    def __init__(self, sides: Sequence[Side], merged: Merged, silence: _UnnotedChanges) -> None:
        earlier, later = silence.places
        self.silence, self.names = silence, silence.names
        self.all_names = [side.name for side in sides]
        self.sides = earlier, later
        self.rows = merged.rows
        self.orders = merged.orders[earlier], merged.orders[later]
        self.shifts: Shifts = shifts(merged.rows, earlier, later)
        # A part of a split is neither new nor gone, and is not renamed; so all of them are known beforehand.
        splits = (*self.shifts.splits, *self.shifts.mergers)
        self.parted = {part for split in splits for part in (*split.parts, split.whole)}
        self.moved = self._moved()

    def changes(self) -> Iterator[Change]:
        """What changed at each row, and what went from row to row."""
        yield from self._splits()
        for index, row in enumerate(self.rows):
            before, after = (row.cells[side] for side in self.sides)
            if before is not None and after is not None:
                yield from self._screen_changes(index, before, after)
                yield from self._answer_changes(index, before, after)
            elif index in self.parted:
                continue
            elif after is not None and self.silence.of_screen(0, index, after.title):
                yield Change(*self.names, What.SCREEN_NEW, row.kind, after.title, after_at=after.seen)
            elif before is not None and self.silence.of_screen(1, index, before.title):
                yield Change(*self.names, What.SCREEN_GONE, row.kind, before.title, before_at=before.seen)
        yield from self._moved_questions()

    def _moved(self) -> set[int]:
        """The rows in common whose order differs; what stands behind the doors of an overview has none."""
        place = {row: rank for rank, row in enumerate(self.orders[0])}
        common = [row for row in self.orders[1] if row in place and not self._is_door(row)]
        out_of_place = moved([place[row] for row in common])
        return {row for row in common if place[row] in out_of_place}

    def _is_door(self, row: int) -> bool:
        return any(cell is not None and cell.door for cell in (self.rows[row].cells[side] for side in self.sides))

    def _splits(self) -> Iterator[Change]:
        for what, splits, (whole, part) in (
            (What.SCREEN_SPLIT, self.shifts.splits, self.sides),
            (What.SCREEN_MERGED, self.shifts.mergers, self.sides[::-1]),
        ):
            for split in splits:
                one = self.rows[split.whole].cells[whole]
                many = [cell for index in split.parts if (cell := self.rows[index].cells[part]) is not None]
                if one is not None:
                    yield self._split(what, self.rows[split.whole].kind, one, many)

    def _split(self, what: What, kind: str, one: FlowCell, many: list[FlowCell]) -> Change:
        titles = join_list(tuple(cell.title for cell in many))
        texts, seen = (one.title, titles), (one.seen, many[-1].seen)
        if what is What.SCREEN_MERGED:
            texts, seen = texts[::-1], seen[::-1]
        return Change(*self.names, what, kind, one.title, None, *texts, *seen)

    def _title(self, before: FlowCell, after: FlowCell) -> str:
        """What a screen of both is called: as it is now, or as it was where nobody has named it yet."""
        return before.title if is_untitled(after.title) else after.title

    def _screen_changes(self, index: int, before: FlowCell, after: FlowCell) -> Iterator[Change]:
        kind = self.rows[index].kind
        seen = (before.seen, after.seen)
        unknown = kind in WITHOUT_TITLE or is_untitled(before.title) or is_untitled(after.title)
        if before.title != after.title and index not in self.parted and not unknown:
            yield Change(*self.names, What.SCREEN_RENAMED, kind, after.title, None, before.title, after.title, *seen)
        # Across the restart it is another part of the installation even where the order is as it was.
        crossed = is_after_restart(before.phase) != is_after_restart(after.phase)
        if crossed or index in self.moved:
            places = self._place(0, index, before), self._place(1, index, after)
            what = What.SCREEN_CROSSED if crossed else What.SCREEN_MOVED
            yield Change(*self.names, what, kind, self._title(before, after), None, *places, *seen)

    def _place(self, side: int, index: int, cell: FlowCell) -> str:
        """Where a screen stands: which one it follows, and its phase."""
        order = self.orders[side]
        rank = order.index(index)
        previous = self.rows[order[rank - 1]].cells[self.sides[side]] if rank else None
        return f"{cell.phase}, after “{previous.title}”" if previous else f"{cell.phase}, first"

    def _answer_changes(self, index: int, before: FlowCell, after: FlowCell) -> Iterator[Change]:
        kind = self.rows[index].kind
        old = _answers(before)
        new = _by_known_keys(old, _answers(after))
        shown = self._title(before, after)
        for key in {**old, **new}:
            if key in old and key in new:
                yield from self._choice_changes(kind, shown, old[key], new[key])
            # What went to another screen is told there; and what few noted says nothing of the installer.
            elif key in self.shifts.questions or not self._asked(key, before, after):
                continue
            elif self.silence.of_question(int(key in old), index, key, shown):
                title = shown
                yield self._went(kind, title, old[key]) if key in old else self._came(kind, title, new[key])

    def _came(self, kind: str, title: str, noted: tuple[Choice, LogPlace]) -> Change:
        choice, at = noted
        # What the installer offers says more of a question than what somebody answered.
        value = choice.preset or choice.value
        return Change(*self.names, What.QUESTION_NEW, kind, title, choice.key, after=value, after_at=at)

    def _went(self, kind: str, title: str, noted: tuple[Choice, LogPlace]) -> Change:
        choice, at = noted
        value = choice.preset or choice.value
        return Change(*self.names, What.QUESTION_GONE, kind, title, choice.key, before=value, before_at=at)

    def _asked(self, key: str, *cells: FlowCell) -> bool:
        """Whether most of the runs that passed a screen noted a question: what few note, they did of their own."""
        for cell in cells:
            counts = dict(zip((choice.key for choice in cell.choices), cell.answered, strict=True))
            if key in counts:
                return 2 * counts[key] > cell.runs
        return False

    def _as_in(self, key: str, value: str) -> str | None:
        """The last side before the two on which this question had this value pre-set."""
        # Backwards, so that the nearest release is named: a value that is back came from there most likely.
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
            # Between the parts of a split questions move as a matter of course.
            if not {origin, target} <= self.parted:
                titles = before.title, after.title
                yield Change(*self.names, What.QUESTION_MOVED, kind, after.title, key, *titles, old_at, new_at)
            yield from self._choice_changes(kind, after.title, (old, old_at), (new, new_at))

    def _choice_changes(
        self, kind: str, title: str, earlier: tuple[Choice, LogPlace], later: tuple[Choice, LogPlace]
    ) -> Iterator[Change]:
        (old, old_at), (new, new_at) = earlier, later

        def change(what: What, before: str, after: str) -> Change:
            return Change(*self.names, what, kind, title, new.key, before, after, old_at, new_at)

        if old.preset is not None and new.preset is not None and not same_value(old.preset, new.preset):
            as_in = self._as_in(new.key, new.preset)
            yield msgspec.structs.replace(change(What.PRESET_CHANGED, old.preset, new.preset), as_in=as_in)
        followed = old.how == new.how == "kept"  # the answer is the pre-set value, and that it changed was said
        if old.value is not None and new.value is not None and not followed and not same_value(old.value, new.value):
            yield change(What.CHOICE_CHANGED, old.value, new.value)
        if old.offered and new.offered and set(old.offered) != set(new.offered):
            yield change(What.OFFER_CHANGED, join_list(old.offered), join_list(new.offered))
        if (old.how == "typed") != (new.how == "typed"):
            words = {True: "typed", False: "picked"}
            yield change(What.TYPING_CHANGED, words[old.how == "typed"], words[new.how == "typed"])


def _by_known_keys(
    old: dict[str, tuple[Choice, LogPlace]], new: dict[str, tuple[Choice, LogPlace]]
) -> dict[str, tuple[Choice, LogPlace]]:
    """Answers under the keys that their screen had before, where only the key is another: what was picked, or pre-set.

    A key that is read from a picture is whatever stood there; the same answer to one question of the screen is its own.
    """
    left, came = ([key for key in one if key not in other] for one, other in ((old, new), (new, old)))
    renamed: dict[str, str] = {}
    for key in came:
        near = [known for known in left if _is_one_answer(old[known][0], new[key][0])]
        if len(near) == 1 and near[0] not in renamed.values():
            renamed[key] = near[0]
    return {renamed.get(key, key): answer for key, answer in new.items()}


def _is_one_answer(one: Choice, other: Choice) -> bool:
    values = ((one.value, other.value), (one.preset, other.preset))
    known = [(was, now) for was, now in values if was is not None and now is not None]
    return bool(known) and all(same_value(was, now) for was, now in known)


def _answers(cell: FlowCell) -> dict[str, tuple[Choice, LogPlace]]:
    pairs: Iterable[tuple[Choice, LogPlace]] = zip(cell.choices, cell.noted, strict=True)
    return {choice.key: (choice, when) for choice, when in pairs}


def _phases(sides: Sequence[Side], silence: _UnnotedChanges) -> Iterator[Change]:
    """Phases that came or went."""
    before, after = (sides[place] for place in silence.places)
    old, new = (_phase_starts(side) for side in (before, after))
    for name, noted in new.items():
        if name not in old and silence.of_phase(0, name):
            yield Change(*silence.names, What.PHASE_NEW, key=name, after_at=noted)
    for name, noted in old.items():
        if name not in new and silence.of_phase(1, name):
            yield Change(*silence.names, What.PHASE_GONE, key=name, before_at=noted)


def _phase_starts(side: Side) -> dict[str, LogPlace]:
    """When each phase began, in the latest run that has it."""
    return {phase.name: LogPlace(run.run, phase.start) for run in side.runs for phase in run.phases}
