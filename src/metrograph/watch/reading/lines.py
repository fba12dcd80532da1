"""Finds the lines of text in a picture, whatever colours they are in: grey pixels in, boxes out."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import pairwise

import msgspec
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from metrograph.watch.inputs.frames import Grey
from metrograph.watch.reading.frame_strokes import edges_of, frame_strokes

_STROKE = 11  # pixels: a stroke of a letter, up to headings of 40 pixels, is thinner; areas and pictures are wider
_STANDS_OUT = 26  # of 255: less than the faintest text, more than what coding leaves around edges
_LOWEST, _TALLEST = 5, 72  # pixels in height: smaller nobody can read, taller is a logo
_THIN = 2  # pixels: rules, frames of fields and bars are no taller or no wider
_RULE = 12  # times as long as thick: such a piece is a rule, and no dash
_HOLLOW = 0.2  # part of its box that a wide piece fills: the frame of a button less, letters that run together more
_SIDES = 2  # of four at which a line differs from what lies beside it: a title in a frame has another line below it
_FUSED = 3  # times as wide as high: such a piece is no letter
_GAP = 1.1  # heights of a line: words stand closer, also in monospaced faces; columns stand further apart
_TALLER = 80  # of 100 letters, so many are no taller than a capital: signs, icons and frames beside them are few
_OVERLAP = 0.45  # of the lower piece: so much it has to share with a line to belong to it
_PIECES = 6000  # pieces of a picture: a photograph has more, and a page of text has fewer


class Line(msgspec.Struct, frozen=True):
    """Where a line of text stands, in pixels.

    light: whether it is lighter than its ground; tall: the height of its taller letters, whatever stands beside them.
    """

    left: int
    top: int
    right: int
    bottom: int
    light: bool
    tall: int = 0

    @property
    def height(self) -> int:
        """In pixels."""
        return self.bottom - self.top

    @property
    def width(self) -> int:
        """In pixels."""
        return self.right - self.left


def find_lines(grey: Grey) -> list[Line]:
    """The lines of a picture, from top to bottom and from left to right."""
    dark, light = _dark_on_light(grey), _light_on_dark(grey)
    found = [*_lines_of(grey, dark, light=False), *_lines_of(grey, light, light=True)]
    return sorted(_best(dict(found)), key=lambda line: (line.top, line.left))


def _dark_on_light(grey: Grey) -> Grey:
    """By how much what is thin is darker than what lies around it (a black top hat)."""
    closed = _extremes(_extremes(grey, np.maximum), np.minimum)
    return closed - grey  # closing never darkens, so that nothing goes below zero


def _light_on_dark(grey: Grey) -> Grey:
    """By how much what is thin is lighter than what lies around it (a white top hat)."""
    opened = _extremes(_extremes(grey, np.minimum), np.maximum)
    return grey - opened


def _extremes(grey: Grey, of: np.ufunc) -> Grey:
    """The lightest or darkest shade of the square around every point, by steps that double."""
    half = _STROKE // 2
    found = np.pad(grey, half, mode="edge")
    for axis in (0, 1):
        reach = 1
        while reach < _STROKE:
            step = min(reach, _STROKE - reach)
            first, second = (found[:-step], found[step:]) if axis == 0 else (found[:, :-step], found[:, step:])
            found = of(first, second)
            reach += step
    return found


def _lines_of(grey: Grey, apart: Grey, light: bool) -> Iterator[tuple[Line, int]]:
    """The lines of one shade, and from what lies at how many of their sides they stand out.

    apart: by how much every point differs from what lies around it.
    """
    ink = apart > _STANDS_OUT
    strokes = frame_strokes(ink)
    ink &= ~strokes
    pieces = _letters(_with_parts(apart, _pieces(ink)))
    for group in _grouped(pieces, edges_of(strokes)):
        line = _line(pieces[group], light)
        if line is not None and (sides := _sides(grey, ink, line)) >= _SIDES:
            yield line, sides


def _with_parts(apart: Grey, pieces: NDArray[np.int32]) -> NDArray[np.int32]:
    """The pieces; where letters run together, as bold ones do, what is left of them at half the contrast."""
    width, height = pieces[:, 2] - pieces[:, 0], pieces[:, 3] - pieces[:, 1]
    fused = (width > _FUSED * height) & (height >= _LOWEST) & (height <= _TALLEST)
    parts = []
    for left, top, right, bottom, _ in pieces[fused]:
        place = apart[top:bottom, left:right]
        found = _pieces(place > max(int(place.max()) // 2, _STANDS_OUT))
        parts.append(found + np.array([left, top, left, top, 0], np.int32))
    return np.concatenate([pieces[~fused], *parts]) if parts else pieces


def _sides(grey: Grey, ink: NDArray[np.bool_], line: Line) -> int:
    """At how many sides a line differs from the ground beside it; the spaces in letters do so at none or one."""
    place = np.s_[line.top : line.bottom, line.left : line.right]
    level = float(grey[place][ink[place]].mean())
    top, left = max(line.top - 2, 0), max(line.left - 2, 0)
    bottom, right = min(line.bottom + 1, len(grey) - 1), min(line.right + 1, grey.shape[1] - 1)
    grounds = [
        float(np.median(side))
        for side in (grey[top, left:right], grey[bottom, left:right], grey[top:bottom, left], grey[top:bottom, right])
    ]
    return sum((level - ground if line.light else ground - level) > _STANDS_OUT for ground in grounds)


def _pieces(ink: NDArray[np.bool_]) -> NDArray[np.int32]:
    """Connected pieces as rows of left, top, right, bottom, area in pixels."""
    groups, count = ndimage.label(ink, np.ones((3, 3)))
    if not count:
        return np.zeros((0, 5), np.int32)
    areas = np.bincount(groups.ravel(), minlength=count + 1)[1:]
    boxes = np.array(
        [(wide.start, tall.start, wide.stop, tall.stop) for tall, wide in ndimage.find_objects(groups)], np.int32
    )
    return np.column_stack([boxes, areas]).astype(np.int32)


def _letters(pieces: NDArray[np.int32]) -> NDArray[np.int32]:
    """Without rules, frames and whatever is too large; the largest are kept where there are too many."""
    width, height = pieces[:, 2] - pieces[:, 0], pieces[:, 3] - pieces[:, 1]
    thick, long = np.minimum(width, height), np.maximum(width, height)
    rule = (thick <= _THIN) & (long > _RULE * thick)
    frame = (long > 3 * _TALLEST) | (height > _TALLEST)
    wide = (width > 2.5 * height) | (height > 30)
    hollow = pieces[:, 4] < np.where(wide, _HOLLOW, 0.08) * width * height
    speck = (pieces[:, 4] < 2) & (long < 2)
    kept = pieces[~(rule | frame | hollow | speck)]
    if len(kept) > _PIECES:
        kept = kept[np.argsort(-kept[:, 4], kind="stable")[:_PIECES]]
    letters: NDArray[np.int32] = kept
    return letters


def _grouped(pieces: NDArray[np.int32], edges: NDArray[np.int32]) -> list[list[int]]:
    """Numbers of the pieces of each line: neighbours that stand at one height, no more than a word's gap apart.

    edges: upright strokes, which no line crosses.
    """
    lines: list[list[int]] = []
    bounds: list[list[int]] = []  # of each line that may go on: left, top, right, bottom
    open_lines: list[int] = []
    for number in np.lexsort((pieces[:, 1], pieces[:, 0])):
        left, top, right, bottom = (int(value) for value in pieces[number, :4])
        open_lines = [line for line in open_lines if bounds[line][2] + 2 * _TALLEST > left]
        best, most = None, 0.0
        for line in open_lines:
            at = bounds[line]
            height = max(at[3] - at[1], bottom - top)
            shared = (min(at[3], bottom) - max(at[1], top)) / min(at[3] - at[1], bottom - top)
            if (
                shared > max(most, _OVERLAP)
                and left - at[2] <= _GAP * max(height, 8)
                and _alike(at, top, bottom)
                and not _crosses(edges, at, left)
            ):
                best, most = line, shared
        if best is None:
            lines.append([])
            bounds.append([left, top, right, bottom])
            best = len(lines) - 1
            open_lines.append(best)
        lines[best].append(int(number))
        at = bounds[best]
        bounds[best] = [min(at[0], left), min(at[1], top), max(at[2], right), max(at[3], bottom)]
    return lines


def _crosses(edges: NDArray[np.int32], at: list[int], left: int) -> bool:
    """Whether an edge stands between a line and a piece to its right."""
    if left <= at[2] or not len(edges):
        return False
    between = (edges[:, 0] >= at[2] - 1) & (edges[:, 2] <= left + 1)
    return bool((between & (edges[:, 1] <= at[1]) & (edges[:, 3] >= at[3])).any())


def _alike(at: list[int], top: int, bottom: int) -> bool:
    """Whether a piece is no taller than twice the line: an icon beside a text is none of its letters."""
    return bottom - top <= 2 * max(at[3] - at[1], 6)


def _line(pieces: NDArray[np.int32], light: bool) -> Line | None:
    left, top = pieces[:, 0].min(), pieces[:, 1].min()
    right, bottom = pieces[:, 2].max(), pieces[:, 3].max()
    height, width = int(bottom - top), int(right - left)
    if not _LOWEST <= height <= _TALLEST or width < height * 0.6 or len(pieces) < 2:
        return None
    ink = pieces[:, 4].sum() / (height * width)
    if not 0.04 < ink < 0.75:
        return None
    heights = pieces[:, 3] - pieces[:, 1]
    return Line(
        int(left), int(top), int(right), int(bottom), light, int(np.percentile(heights, _TALLER, method="lower"))
    )


def _best(lines: dict[Line, int]) -> list[Line]:
    """Of lines that lie on each other, what stands out at more sides, and then the wider.

    The spaces in letters look like letters of the other shade.
    """
    kept: list[Line] = []
    for line in sorted(lines, key=lambda line: (-lines[line], -line.width * line.height)):
        if not any(_covers(other, line) for other in kept) and not _is_ground(line, lines):
            kept.append(line)
    return kept


def _is_ground(line: Line, lines: Iterable[Line]) -> bool:
    """Whether a line holds two rows of the other shade: then it is the ground between these."""
    rows = sorted(
        (other.top, other.bottom)
        for other in lines
        if other.light != line.light
        and other.height < line.height
        and _covers(line, other)
        and other.width > line.width / 4
    )
    return any(after[0] >= before[1] for before, after in pairwise(rows))


def _covers(one: Line, other: Line) -> bool:
    wide = min(one.right, other.right) - max(one.left, other.left)
    tall = min(one.bottom, other.bottom) - max(one.top, other.top)
    return wide > 0 and tall > 0 and wide * tall > 0.3 * other.width * other.height
