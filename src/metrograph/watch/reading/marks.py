"""Finds the boxes and circles before lines, and tells which are marked: grey pixels in, marks out."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

import msgspec
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from metrograph.watch.inputs.frames import Grey
from metrograph.watch.reading.lines import Line

_SMALLEST, _LARGEST = 0.8, 2.6  # heights of small letters: a box is about as high as the line it belongs to
_BEFORE = 5  # heights of small letters in front of a line in which its box may stand
_SQUARE = 1.2  # times as wide as high, or as high as wide
_APART = 0.4  # heights of small letters between a box and its text: letters stand closer, also an O
_STANDS_OUT = 26  # of 255, as for lines: the outline of a box is as plain as the faintest text
_RINGING = 0.18  # of the strongest contrast around: coding leaves so much beside edges
_SIDES = 0.5  # part of each side of a box that is drawn: round ones touch it in the middle only
_SPECKS = 0.03  # of the gap: what coding leaves
_INSIDE = 0.36  # of the width, from the middle: within any outline, and a dot with the ring around it lies in it
_DRAWN = 40  # of 255: a tick or a dot differs so much from what is around it; an empty box is one shade
_FILLED = 60  # of 255: where marks are filled without a gap, the one that is marked differs so much from the others
_CORNER = 0.15  # of the width: the corners of a circle are empty
_ALIKE = 3  # pixels by which boxes of one column differ in place and size, as coding blurs edges


class TickMark(msgspec.Struct, frozen=True):
    """A box or a circle before a line. on: whether it is marked; round: whether only one of its column can be."""

    on: bool
    round: bool


class _Box(msgspec.Struct, frozen=True):
    left: int
    right: int
    round: bool
    drawn: bool
    shade: int


def marks_before(grey: Grey, lines: Sequence[Line]) -> tuple[list[Line], list[TickMark | None]]:
    """The lines without the boxes that were taken for their first letter, and the mark of each; None where it has none.

    A circle counts in a column of them only, so that no letter is taken for one.
    """
    boxes = [_box(grey, line) for line in lines]
    columns: dict[int, list[int]] = defaultdict(list)
    for number, box in enumerate(boxes):
        if box is not None:
            columns[_column(box, boxes)].append(number)
    marks: list[TickMark | None] = [None] * len(lines)
    for column in columns.values():
        for number, mark in zip(column, _told([box for n in column if (box := boxes[n]) is not None]), strict=True):
            marks[number] = mark
    found = [_after(line, box) if mark else line for line, box, mark in zip(lines, boxes, marks, strict=True)]
    return found, marks


def _column(box: _Box, boxes: Sequence[_Box | None]) -> int:
    """The number of the first box that stands above or at this one, in the same column."""
    return next(
        number
        for number, other in enumerate(boxes)
        if other is not None and abs(other.left - box.left) <= _ALIKE and abs(other.right - box.right) <= _ALIKE
    )


def _told(column: Sequence[_Box]) -> list[TickMark | None]:
    """The marks of one column; none where its circles don't have exactly one that is marked."""
    on = [box.drawn for box in column]
    if not any(on) and len(column) > 2:
        usual = float(np.median([box.shade for box in column]))
        on = [abs(box.shade - usual) > _FILLED for box in column]
    circles = 2 * sum(box.round for box in column) > len(column)
    if circles and (len(column) < 2 or sum(on) != 1):
        return [None] * len(column)
    return [TickMark(marked, circles) for marked in on]


def _after(line: Line, box: _Box | None) -> Line:
    left = line.left if box is None else max(line.left, box.right + 1)
    return msgspec.structs.replace(line, left=left) if left < line.right else line


def _box(grey: Grey, line: Line) -> _Box | None:
    """The box nearest to the text of a line, in front of it or at its beginning; None where there is none."""
    tall = max(line.tall, 5)
    middle, reach = (line.top + line.bottom) // 2, round(_LARGEST * tall)
    left, top = max(line.left - _BEFORE * tall, 0), max(middle - reach, 0)
    patch = grey[top : middle + reach, left : min(line.left + 2 * reach, line.right)]
    if min(patch.shape) < _SMALLEST * tall:
        return None
    stands_off = np.abs(patch.astype(np.int16) - int(np.median(patch)))
    ink = stands_off > max(_STANDS_OUT, _RINGING * float(np.percentile(stands_off, 99)))
    groups, _ = ndimage.label(ink, np.ones((3, 3)))
    found: _Box | None = None
    for rows, columns in ndimage.find_objects(groups):
        centre = top + (rows.start + rows.stop) / 2
        side = max(rows.stop - rows.start, columns.stop - columns.start)
        first = left + columns.start <= line.left + _ALIKE  # no letter within the line stands by itself
        whole = rows.start and columns.start
        fits = first and whole and _SMALLEST * tall <= side <= _LARGEST * tall and abs(centre - middle) <= tall
        if fits and _is_box(ink[rows, columns]) and _free_after(ink[rows], columns.stop, tall):
            found = _seen(patch[rows, columns], ink[rows, columns], left + columns.start)
    return found


def _is_box(ink: NDArray[np.bool_]) -> bool:
    """Whether a piece is as wide as high, and drawn along the middle of all its sides."""
    height, width = ink.shape
    if max(height, width) > _SQUARE * min(height, width):
        return False
    middle = np.s_[round(width * 0.3) : round(width * 0.7) + 1]
    edges = (ink[:2, middle].any(0), ink[-2:, middle].any(0), ink[middle, :2].any(1), ink[middle, -2:].any(1))
    return all(edge.mean() >= _SIDES for edge in edges)


def _free_after(ink: NDArray[np.bool_], right: int, tall: int) -> bool:
    gap = ink[:, right : right + max(3, round(_APART * tall))]
    return gap.shape[1] > 2 and float(gap.mean()) <= _SPECKS


def _seen(patch: Grey, ink: NDArray[np.bool_], left: int) -> _Box:
    height, width = patch.shape
    down, across = np.ogrid[:height, :width]
    away = np.hypot(down - (height - 1) / 2, across - (width - 1) / 2)
    inside = patch[away <= max(_INSIDE * min(height, width), 1.5)]
    low, high = np.percentile(inside, (8, 92))
    corner = max(1, round(_CORNER * width))
    corners = [ink[:corner, :corner], ink[:corner, -corner:], ink[-corner:, :corner], ink[-corner:, -corner:]]
    round_ = sum(bool(each.any()) for each in corners) < 2
    return _Box(left, left + width, round_, bool(high - low > _DRAWN), int(np.median(inside)))
