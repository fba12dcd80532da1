"""Makes a page of a still: its lines with what they say and what they are, and whether it is blank or a console."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import cached_property
from itertools import pairwise
from statistics import median

import msgspec
import numpy as np
from numpy.typing import NDArray

from metrograph.watch.inputs.frames import Colour, Grey
from metrograph.watch.reading.lines import Line
from metrograph.watch.reading.marks import TickMark
from metrograph.watch.reading.motion import BLOCK, Still
from metrograph.watch.reading.text_reader import ReadLine
from metrograph.watch.reading.words import Button, button_of

READ = 0.45
"""From here on a reading counts; below it, the engine guesses at icons and scripts that it does not know."""
_BLANK = 0.9998  # part of the picture in one shade: a cursor may blink in it, and a word is more
_DARK = 24  # of 255: consoles are black, which is 16 in most films; dark pages are lighter
_CONSOLE_LINES = 8  # a greeting has fewer
_BLACK, _VERY_LEFT = 0.97, 80  # of a console's picture; pixels, as some begin with a time in brackets
_ONE_FACE = 1.6  # times the usual height of letters: a console has no headings
_WORD = 3  # heights from a word to the next, in the widest of faces
_AT_LEFT = 0.12  # of the width: where consoles begin their lines, some after a time in brackets
_AT_RIGHT, _AT_FOOT = 0.45, 0.75  # of the width and of the height: where a page in text has its buttons
_COLUMN, _STEPS = 6, 3  # pixels by which left edges or middles of a column may differ; lines that make it a list
_NEIGHBOUR, _PITCH = 6, 4  # heights to the next line of a list; pixels by which its lines may be unevenly spaced
_GREYED = 0.6  # of the best contrast of a page's buttons: those that cannot be pressed have half of it or less
_CLEARLY = 1.5  # times further from the usual ground than the next
_OTHER_GROUND = 10  # of 255: fields and lists have a ground of another shade than the page
_EDGE, _NEXT = 1.4, 2.5  # heights from a line to beyond the edge of its field; to its neighbours in a list
_PADDING = 0.6  # heights between a line in a field and whatever stands beyond its edge
_EDGE_APART = 4  # pixels by which the lines of a list may begin apart
_CELLS = (12, 16)  # rows and columns of a picture: cells that a panel or a wallpaper fills
_MARGIN = 3  # pixels around a line in which its own ground is seen


Colours = tuple[int, int, int]
"""Red, green and blue, each 0 to 255."""


class Text(msgspec.Struct, frozen=True):
    """A line that was read: its place in pixels, what it says, how sure (0 to 1).

    light: whether it is lighter than its ground; ground: the shade around it, 0 to 255.
    colour, ink: of its ground and of its strokes (red, green, blue, each 0 to 255), where they are known.
    tall: pixels of its taller letters; contrast: how far its strokes stand off from the ground, 0 to 255.
    button: what it does if it is a button; mark: the box or circle before it, None where there is none.
    field: whether it stands alone on a ground that ends close around it.
    """

    left: int
    top: int
    right: int
    bottom: int
    text: str
    sure: float
    light: bool
    ground: int
    tall: int = 0
    contrast: int = 0
    button: Button | None = None
    mark: TickMark | None = None
    field: bool = False
    colour: Colours | None = None
    ink: Colours | None = None

    @property
    def height(self) -> int:
        """In pixels."""
        return self.bottom - self.top


class SkippedTime(msgspec.Struct, frozen=True):
    """Something that a source does not show.

    missing: for how many milliseconds, None where nobody knows; within: by how many that may be off.
    sure: 0 to 1; 1 where the source itself says so.
    """

    missing: int | None = None
    within: int = 0
    sure: float = 1.0


class Page(msgspec.Struct, frozen=True, dict=True):
    """A still, read: the lines that stand on it.

    start: when it came up; at: when it was read, both in milliseconds; size: width and height in pixels.
    texts: its lines, from top to bottom; blank: nothing to be seen; console: lines of a machine that starts.
    moving: whether it never stood; restless: the part of it, 0 to 1, that changes by itself.
    changed: the box in pixels (left, top, right, bottom) in which it differs from the page before.
    gap: what is missing before it, None where nothing is; number: which still of its source it is, from 0.
    asks: whether it is a question of a program that asks line by line.
    ring: the middle colours of the cells along its edge (red, green, blue of each), by which surroundings are told.
    """

    start: int
    at: int
    size: tuple[int, int]
    texts: tuple[Text, ...]
    blank: bool = False
    console: bool = False
    moving: bool = False
    restless: float = 0.0
    changed: tuple[int, int, int, int] = (0, 0, 0, 0)
    gap: SkippedTime | None = None
    number: int = 0
    asks: bool = False
    ring: bytes = b""

    @cached_property
    def said(self) -> list[Text]:
        """The lines that could be read."""
        return [text for text in self.texts if text.sure >= READ and len(text.text) > 1]


def is_blank(grey: Grey) -> bool:
    """Whether nearly all of a picture is one shade."""
    counts = np.bincount((grey[::2, ::2] >> 3).ravel(), minlength=32)
    # A shade may lie on a border between two counts.
    return bool((counts[:-1] + counts[1:]).max() >= _BLANK * counts.sum())


def is_console(grey: Grey, lines: Sequence[Line]) -> bool:
    """Whether a picture is a black screen with lines of one face that begin at its left."""
    if not lines or np.median(grey[::4, ::4]) > _DARK:
        return False
    if any(line.left > _AT_RIGHT * grey.shape[1] and line.top > _AT_FOOT * len(grey) for line in lines):
        return False  # buttons stand there, and a console has none
    # Words of a wide face are lines of their own: of a row, the first says where it begins.
    firsts = [line for line in lines if not any(_goes_on(line, other) for other in lines)]
    at_left = sum(line.left <= _AT_LEFT * grey.shape[1] for line in firsts)
    one_face = max(line.tall for line in lines) <= _ONE_FACE * sorted(line.tall for line in lines)[len(lines) // 2]
    if len(lines) < _CONSOLE_LINES:
        # A few lines may be anything, unless there is nothing else and they stand at the very left.
        black = float((grey[::4, ::4] <= _DARK).mean())
        return at_left == len(firsts) and one_face and black >= _BLACK and min(line.left for line in lines) < _VERY_LEFT
    return at_left >= 0.8 * len(firsts) and one_face


def _goes_on(line: Line, other: Line) -> bool:
    """Whether a line stands in the row of another, to its right and near it."""
    near = 0 <= line.left - other.right <= _WORD * other.height
    return near and abs(line.top + line.bottom - other.top - other.bottom) <= other.height


def page_of(
    still: Still, lines: Sequence[Line], readings: Sequence[ReadLine], marks: Sequence[TickMark | None] | None = None
) -> Page:
    """The page of a still, with its lines as they were read. marks: what stands before each line."""
    height, width = still.grey.shape
    texts = _with_fields(
        _without_lists([_text(still, line, reading) for line, reading in zip(lines, readings, strict=True)]),
        still.grey,
    )
    if marks is not None:
        texts = tuple(msgspec.structs.replace(text, mark=mark) for text, mark in zip(texts, marks, strict=True))
    return Page(
        still.start,
        still.at,
        (width, height),
        texts,
        moving=still.moving,
        restless=float(still.restless.mean()),
        changed=_box(still),
        gap=_gap(still),
        ring=_ring(still.colour),
    )


def can_be_pressed(button: Text, lines: Sequence[Text]) -> bool:
    """Whether a button is not greyed out: it stands off from its ground about as well as the others do."""
    return button.contrast >= _GREYED * max(line.contrast for line in lines if line.button)


def row_apart(column: Sequence[Text], least: float) -> Text | None:
    """The one line of a column that stands on another ground, by at least so many shades; None where none or two do.

    The line below a marked one may be taken for one on its ground, so that the one that differs most is meant.
    """
    apart = sorted(zip(_apart(column), column, strict=True), key=lambda pair: -pair[0])
    clearly = len(apart) < 2 or apart[0][0] > _CLEARLY * apart[1][0] or apart[1][0] <= least
    return apart[0][1] if apart[0][0] > least and clearly else None


def _apart(column: Sequence[Text]) -> list[float]:
    """How far the ground of each line is from the middle, 0 to 255: of colours, by the channel that differs most."""
    colours = [line.colour for line in column if line.colour is not None]
    if len(colours) < len(column):
        usual = median(line.ground for line in column)
        return [abs(line.ground - usual) for line in column]
    middle = [median(colour[channel] for colour in colours) for channel in range(3)]
    return [max(abs(value - part) for value, part in zip(colour, middle, strict=True)) for colour in colours]


def in_column(line: Text, lines: Sequence[Text]) -> list[Text]:
    """The lines that stand under or above a line, at its left edge or around its middle."""
    left = [other for other in lines if abs(other.left - line.left) <= _COLUMN]
    middle = [other for other in lines if abs(other.left + other.right - line.left - line.right) <= 2 * _COLUMN]
    return max(left, middle, key=len)


def _without_lists(texts: list[Text]) -> tuple[Text, ...]:
    """Words of buttons that stand in a column of other lines are steps or choices."""

    def listed(text: Text) -> bool:
        tops = sorted(other.top for other in in_column(text, texts) if other is text or other.button is None)
        gaps = [after - before for before, after in pairwise(tops)]
        place = tops.index(text.top)
        own = [gap for gap in gaps[max(place - 1, 0) : place + 1] if gap <= _NEIGHBOUR * text.height]
        return len(tops) > _STEPS and any(sum(abs(gap - other) <= _PITCH for other in gaps) > 1 for gap in own)

    return tuple(msgspec.structs.replace(text, button=None) if text.button and listed(text) else text for text in texts)


def _with_fields(texts: tuple[Text, ...], grey: Grey) -> tuple[Text, ...]:
    return tuple(
        msgspec.structs.replace(text, field=True) if text.text and _is_field(text, texts, grey) else text
        for text in texts
    )


def _is_field(text: Text, texts: Sequence[Text], grey: Grey) -> bool:
    """Whether a line stands alone on a ground that ends close above and below it; in a list, others stand there."""
    if text.button or _is_bar(text, texts, grey):
        return False
    near = any(other is not text and (_follows(text, other) or _touches(text, other)) for other in texts)
    rows = (text.top - round(_EDGE * text.height), text.bottom + round(_EDGE * text.height))
    if near or not rows[0] >= 0 or rows[1] >= len(grey):
        return False
    beyond = [abs(float(np.median(grey[row, text.left : text.right])) - text.ground) for row in rows]
    return min(beyond) > _OTHER_GROUND


def _follows(text: Text, other: Text) -> bool:
    """Whether a line is the neighbour of another in a list."""
    return abs(other.left - text.left) <= _EDGE_APART and abs(other.top - text.top) <= _NEXT * text.height


def _touches(text: Text, other: Text) -> bool:
    """Whether two lines stand closer above each other than the edge of a field would let them."""
    apart = max(other.top - text.bottom, text.top - other.bottom)
    return apart < _PADDING * text.height and other.left < text.right and text.left < other.right


def _is_bar(text: Text, texts: Sequence[Text], grey: Grey) -> bool:
    """Whether a line stands in a bar, as a window's title does: beside buttons, or on a ground that is as wide."""
    if any(other.button and abs(other.bottom - text.bottom) <= text.height for other in texts):
        return True
    row = grey[(text.top + text.bottom) // 2]
    ends = row[[2, -3]].astype(np.int32)
    return bool((np.abs(ends - text.ground) <= _OTHER_GROUND).all())


def blank_page(still: Still, number: int = 0) -> Page:
    """The page of a still on which nothing is to be seen."""
    height, width = still.grey.shape
    return Page(
        still.start,
        still.at,
        (width, height),
        (),
        blank=True,
        moving=still.moving,
        gap=_gap(still),
        number=number,
    )


def _ring(colour: Colour) -> bytes:
    """The middle colours of the cells along the edge of a picture, row by row."""
    rows, columns = _CELLS
    height, width = colour.shape[0] // rows, colour.shape[1] // columns
    cells = [
        colour[row * height : (row + 1) * height : 4, column * width : (column + 1) * width : 4]
        for row in range(rows)
        for column in range(columns)
        if row in {0, rows - 1} or column in {0, columns - 1}
    ]
    return b"".join(np.median(cell.reshape(-1, 3), axis=0).astype(np.uint8).tobytes() for cell in cells)


def _gap(still: Still) -> SkippedTime | None:
    return SkippedTime(still.missing) if still.gap else None


def _text(still: Still, line: Line, reading: ReadLine) -> Text:
    grey = still.grey
    # Letters cover less than half of their line, so that the middle shade is the ground; above may be another row.
    around = np.s_[line.top : line.bottom, max(line.left - _MARGIN, 0) : line.right + _MARGIN]
    ground = int(np.median(grey[around]))
    words = cleaned(reading.text)
    place = np.s_[line.top : line.bottom, line.left : line.right]
    strokes = int(np.percentile(grey[place], 97 if line.light else 3))
    inked = grey[place] >= strokes if line.light else grey[place] <= strokes
    return Text(
        line.left, line.top, line.right, line.bottom, words, reading.sure, line.light, ground, line.tall,
        abs(strokes - ground), button_of(words),
        colour=_shade(np.median(still.colour[around][::2].reshape(-1, 3), axis=0)),
        ink=_shade(still.colour[place][inked].mean(axis=0)),
    )  # fmt: skip


def _shade(colour: NDArray[np.float64]) -> Colours:
    red, green, blue = (int(value) for value in colour)
    return red, green, blue


def cleaned(text: str) -> str:
    """Without what icons and frames beside a line are read as: single signs at its ends, marks in brackets."""
    text = re.sub(r"^[-–—|\s]*(?:[\[({][!?. ]*[\])}]\s*)+", "", text)
    text = re.sub(r"^(?:[^\w¿¡\[(<“\"'%+-]+\s*)+", "", text)
    return re.sub(r"(?:\s+[^\w.:;?!)\]>”\"'%]+)+$", "", text).strip()


def _box(still: Still) -> tuple[int, int, int, int]:
    rows, columns = np.flatnonzero(still.changed.any(1)), np.flatnonzero(still.changed.any(0))
    if not len(rows):
        return (0, 0, 0, 0)
    left, top, right, bottom = (int(side) * BLOCK for side in (columns[0], rows[0], columns[-1] + 1, rows[-1] + 1))
    return (left, top, right, bottom)
