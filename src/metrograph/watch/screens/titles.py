"""Finds the title of a page: the line that looks and reads most like one. Every line gets points."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from itertools import pairwise
from statistics import median

import msgspec

from metrograph.watch.pages.page import Page, Text, in_column, row_apart
from metrograph.watch.pages.words import plain

_LARGE = 1.6  # points for a line of twice the usual size; most headings are 1.2 to 1.9 times as large
_AS_USUAL = 1.2  # times the usual size: lines of one face differ by as much, by the letters that stand in them
_LOGO = 2.8  # times the usual size
_LARGEST = 1.2  # times larger than usual: beyond, it is a slide or a logo
_HIGH = 1.0  # points for standing at the top rather than at the bottom
_FIRST = 0.7  # points for the first line that is not part of the frame
_NAMED = 0.9  # points where the same words stand a second time on the page or in the frame: in a list of steps; so
# many off where the list names them as another step than the one that is marked, as overviews have them as headings
_FIELD = 0.4  # points off for a ground of another shade than most lines have: a field, a list, a marked row
_ANOTHER = 10  # of 255: so much another shade
_STALE = 4.0  # points off for a line that stands there on other screens as well: a large banner has as many
_PARTLY = 0.4  # of its words: titles share as many (“Configure the network”, “Configure the keyboard”)
_KNOWN = 0.6  # points for words that the lexicon knows
_SENTENCE = 0.7  # points off for a full stop at its end; half of it for a colon, which leads to a field
_LONG = 45  # characters: longer lines are sentences
_IN_LIST = 0.9  # points off among three or more lines in one column at one distance: things to pick from
_UNSURE = 1.0  # points off for a line that could not be read
_BUTTON = 1.2  # points off for a line that is a button's word
_LETTERS = re.compile(r"[^\W\d_]{2}")
"""A title has so many letters beside each other; what icons are read as has not."""
_FRESH = 0.5  # of its words: less of them stand there on other screens
_STEP = (
    2.4  # points for the marked line in a list of steps: more than any label has, less than a heading that stands out
)
_STEPS = 4  # lines of a column that make it a list of steps
_LEAST = 0.45  # points below which a line is no title: labels and list entries of pages without one get less


class Title(msgspec.Struct, frozen=True):
    """A line that may be the title. points: how much speaks for it; sure: how sure its reading is, 0 to 1."""

    text: Text
    points: float


Stale = Callable[[Text], float]
"""How much of a line, 0 to 1, stands in its row on other screens too."""


def titles_of(
    page: Page,
    kind_known: Callable[[str], bool],
    stale: Stale,
    within: Sequence[Text] | None = None,
    named: Callable[[Text, Text | None], int] = lambda _, __: 0,
) -> list[Title]:
    """The lines that may be a page's title, the best first.

    within: only these lines, where a dialog stands on the page.
    named: what a list of steps says of a line, given the marked one: 1 where it names it, -1 where it is another step.
    """
    wordy = [line for line in (page.said if within is None else within) if _LETTERS.search(line.text)]
    if not wordy:
        return []
    usual, ground = median(size_of(line) for line in wordy), median(line.ground for line in wordy)
    # What is so large is a logo, where anything else could be the title; headings are hardly twice as large.
    lines = [line for line in wordy if size_of(line) < _LOGO * usual] or wordy
    fresh = {line: stale(line) for line in lines}
    top = min((line.top for line in lines if fresh[line] < _FRESH), default=lines[0].top)
    tall = max(max(line.bottom for line in lines) - top, 1)
    step = marked_step([line for line in lines if fresh[line] >= _FRESH])
    found = []
    for line in lines:
        points = _of_face(line, usual) + _of_words(line, kind_known) - _IN_LIST * in_list(line, lines)
        points += _of_height(line.top - top, tall, usual) + _NAMED * named(line, step)
        points -= _STALE * max(fresh[line] - _PARTLY, 0) / (1 - _PARTLY)
        points -= _FIELD * (line.top > top + usual and abs(line.ground - ground) > _ANOTHER)
        found.append(Title(line, points))
    likely = [title for title in found if title.points >= _LEAST] + ([Title(step, _STEP)] if step is not None else [])
    return sorted(likely, key=lambda title: -title.points)


def _of_face(line: Text, usual: float) -> float:
    """Points for being larger than the usual size."""
    return _LARGE * min(max(size_of(line) / usual - _AS_USUAL, 0), _LARGEST)


def _of_height(below: int, tall: int, usual: float) -> float:
    """Points for standing high; below: pixels from the top of the text, which is so many pixels tall."""
    return _HIGH * (1 - max(below, 0) / tall) + (_FIRST if abs(below) <= usual / 2 else 0)


def marked_step(frame: Sequence[Text]) -> Text | None:
    """The line of the frame that is marked in its column: the step of a list at which the installer is."""
    for first in frame:
        column = in_column(first, frame)
        if len(column) < _STEPS or first.button:
            continue
        row = row_apart(column, _ANOTHER)
        if row is not None:
            return row
        lighter = sum(line.light for line in column)
        others = [line for line in column if line.light == (lighter * 2 < len(column))]
        if len(others) == 1:
            return others[0]
    return None


def _of_words(line: Text, kind_known: Callable[[str], bool]) -> float:
    points = _KNOWN if kind_known(line.text) else 0.0
    points -= _SENTENCE if line.text.endswith((".", "…")) else _SENTENCE / 2 if line.text.endswith(":") else 0
    points -= min(max(len(line.text) - _LONG, 0) / _LONG, 1.5)
    points -= _UNSURE * (1 - line.sure)
    return points - (_BUTTON if line.button else 0)


def size_of(line: Text) -> float:
    """The size of a line's face: pixels of its taller letters."""
    return max(line.tall, 1)


def in_list(line: Text, lines: Sequence[Text]) -> bool:
    """Whether a line is one of at least three in a column at one distance."""
    column = sorted(other.top for other in lines if abs(other.left - line.left) <= 4 and _as_large(other, line))
    place = column.index(line.top)
    gaps = [after - before for before, after in pairwise(column)]
    near = gaps[max(place - 2, 0) : place + 2]
    return any(
        abs(one - two) <= 3 and one <= 3.2 * size_of(line) for one, two in pairwise(near)
    )  # fmt: skip


def _as_large(one: Text, other: Text) -> bool:
    return abs(size_of(one) - size_of(other)) <= 0.25 * size_of(other)


def label_of(lines: Sequence[Text], title: Text | None) -> str:
    """The first sentence below a title: what is asked."""
    below = [line for line in lines if title is None or line.top > title.top + title.height // 2]
    wordy = [line for line in below if len(plain(line.text).split()) >= 4 and not line.button]
    return min(wordy, key=lambda line: line.top).text if wordy else ""
