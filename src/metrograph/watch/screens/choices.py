"""Finds what seems to be picked on a page: boxes and circles, written marks, the marked row of a list."""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import pairwise

import msgspec

from metrograph.log.escapes import join_list
from metrograph.watch.pages.page import Page, Text, in_column, row_apart
from metrograph.watch.pages.page_gate import HIDDEN
from metrograph.watch.reading.marks import TickMark
from metrograph.watch.screens.static_regions import StaticRegions

_COLUMN = 6  # pixels to either side: where lines with boxes before them begin
_PITCH = 1.8  # heights from a line with a box to the next
_ROWS = 3  # lines of a column that make it a list
_ANOTHER = 12  # of 255: by how much the ground of a marked row differs from that of the others
_MARK = re.compile(r"[(\[<]\s*[*xX•]\s*[)\]>]\s*(\S.*)")
_TICK = re.compile(r"^\W*[A-Za-z\d]\W*\s(?=[^\W\d_]{3})")
_SAYS = (".", "?", ":", "。", "？", "：")
_EMPTY = re.compile(r"[(\[<]\s*[)\]>]")  # a box that is not ticked: what is picked there is written, too
_UNREAD = re.compile(r"\S{0,3}[^\w\s'’.,:-]")  # what a mark before a line is read as where it cannot be
_READ_WELL = 0.9  # a marked row is read worse than others, and a misread answer is none
_NOTHING = "none"
# How sure they are, as measured on pages of real toolkits: a row may only have the focus, and what was picked in the
# last moment may not have been seen. What stands in fields was a window's buttons and hints as often, and is not said.
_ROW_SURE, _MARK_SURE = 0.7, 0.8


class Picked(msgspec.Struct, frozen=True):
    """An answer as it stands on a screen.

    was: what was picked when it came up, None where the same; sure: 0 to 1; offered: what there was to pick from.
    """

    value: str
    was: str | None
    sure: float
    offered: tuple[str, ...] = ()


def picked_on(first: Page, last: Page, regions: StaticRegions, named: Sequence[str] = ()) -> tuple[Picked, ...]:
    """What is picked on a screen in the end, and what was pre-set: it came up so. named: its title and its question."""
    before, after = ([line for line in regions.own(page) if _may_be_picked(line, named)] for page in (first, last))
    found = _found_on(before, after)
    return () if any(HIDDEN in pick.value for pick in found) else found


def _found_on(before: Sequence[Text], after: Sequence[Text]) -> tuple[Picked, ...]:
    drawn = _drawn(before, after)
    if drawn is not None:
        return (drawn,)
    for find, sure in ((_written, _MARK_SURE), (_rows, _ROW_SURE)):
        if found := find(after):
            return _since(find(before), found, sure)
    return ()


def _may_be_picked(line: Text, named: Sequence[str]) -> bool:
    """Whether a line can be an answer: not what the screen is called or asks, and no sentence."""
    said = line.text
    return said not in named and not said.endswith(_SAYS) and "%" not in said


def _since(before: Sequence[str], after: Sequence[str], sure: float) -> tuple[Picked, ...]:
    if len(before) != len(after):
        return tuple(Picked(value, None, sure) for value in after)
    return tuple(Picked(value, was if was != value else None, sure) for value, was in zip(after, before, strict=True))


class _Marks(msgspec.Struct, frozen=True):
    """The boxes or circles of a page.

    offered: what they stand beside; now, then: which are on, in the end and when the page came up.
    known: whether all of them stood there from the beginning.
    """

    round: bool
    offered: tuple[str, ...]
    now: tuple[str, ...]
    then: tuple[str, ...]
    known: bool


def _drawn(before: Sequence[Text], after: Sequence[Text]) -> Picked | None:
    """What the boxes or circles of a page say; None where it has none, or both."""
    marks = _marks(before, after)
    if marks is None:
        return None
    now, then = marks.now, marks.then
    if not marks.known or then == now:
        # Where nothing is ticked, what is may only not have been seen.
        return Picked(join_list(now), None, _MARK_SURE, marks.offered) if now else None
    if marks.round:
        return Picked(now[0] if now else _NOTHING, then[0] if then else None, _MARK_SURE, marks.offered)
    ticked = [f"+{text}" for text in now if text not in then] + [f"-{text}" for text in then if text not in now]
    return Picked(join_list(tuple(ticked)), join_list(then) or _NOTHING, _MARK_SURE, marks.offered)


def _marks(before: Sequence[Text], after: Sequence[Text]) -> _Marks | None:
    lines = [line for line in after if line.mark is not None and len(line.text) > 1 and not _among_buttons(line, after)]
    marked = [(_unmarked(line.text), line.mark) for line in lines if line.mark is not None]
    offered = tuple(text for text, _ in marked)
    were = [(said, line.mark) for line in before if line.mark is not None and (said := _unmarked(line.text)) in offered]
    shapes = {mark.round for _, mark in (*marked, *were)}
    if len(shapes) != 1 or _one_is_missing(lines, after):
        return None
    return _Marks(shapes.pop(), offered, _on(marked), _on(were), {text for text, _ in were} == set(offered))


def _among_buttons(line: Text, lines: Sequence[Text]) -> bool:
    """Whether a line is a button in a row of them, whatever is drawn beside its word."""
    return line.button is not None and any(
        other is not line and other.button and abs(other.top - line.top) <= line.height for other in lines
    )


def _one_is_missing(marked: Sequence[Text], lines: Sequence[Text]) -> bool:
    """Whether a line stands among marked ones, or next to them, whose own mark was not seen."""
    if not marked:
        return False
    first, last = marked[0], marked[-1]
    gaps = [after.top - before.top for before, after in pairwise(marked)]
    pitch = min(gaps, default=0) or _PITCH * first.height
    near = (first.top - 1.2 * pitch, last.top + 1.2 * pitch)
    others = [
        line
        for line in lines
        if line not in marked and abs(line.left - first.left) <= _COLUMN and near[0] <= line.top <= near[1]
    ]
    # Over the first box stands what they all are about.
    return any(not line.button and (line.top > first.top or _UNREAD.match(line.text)) for line in others)


def _unmarked(text: str) -> str:
    """A line without what the tick in its box was read as."""
    return _TICK.sub("", text)


def _on(marked: Sequence[tuple[str, TickMark]]) -> tuple[str, ...]:
    return tuple(text for text, mark in marked if mark.on)


def _written(lines: Sequence[Text]) -> list[str]:
    """What has a mark that is written; nothing where several may have one, and one of them cannot be read."""
    marks = [line for line in lines if _MARK.match(line.text) or _EMPTY.match(line.text)]
    unread = [line for line in lines if line in marks or _UNREAD.match(line.text)]
    if any(line.text.startswith("[") for line in marks) and _one_is_missing(marks, unread):
        return []
    return [match[1] for line in marks if (match := _MARK.match(line.text))]


def _rows(lines: Sequence[Text]) -> list[str]:
    """The marked row of every list."""
    marked: list[str] = []
    seen: set[Text] = set()
    for line in lines:
        column = [other for other in in_column(line, lines) if not other.button and not _EMPTY.match(other.text)]
        if line in seen or len(column) < _ROWS:
            continue
        seen |= set(column)
        row = row_apart(column, _ANOTHER)
        if row is not None and len(row.text) > 1 and row.sure >= _READ_WELL:
            marked.append(row.text)
    return list(dict.fromkeys(marked))
