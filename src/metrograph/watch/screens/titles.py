"""Finds the title of a page: the line that looks and reads most like one. Every line gets points."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from itertools import pairwise
from statistics import median
from typing import NamedTuple

import msgspec

from metrograph.watch.pages.page import Page, Text, in_column, row_apart
from metrograph.watch.pages.page_gate import HIDDEN

_AS_USUAL = 1.2  # times the usual size: lines of one face differ by as much, by the letters that stand in them
_LOGO = 2.8  # times the usual size
_LARGEST = 1.2  # times larger than usual: beyond, it is a slide or a logo
_ANOTHER = 10  # of 255: so much another shade
_PARTLY = 0.4  # of its words: titles share as many (“Configure the network”, “Configure the keyboard”)
_LONG = 45  # characters: longer lines are sentences
_LETTERS = re.compile(r"[^\W\d_]{2}")
"""A title has so many letters beside each other; what icons are read as has not."""
_FRESH = 0.5  # of its words: less of them stand there on other screens
_STEP = 2.4  # points for the marked line of a list of steps: more than labels have, less than a heading that stands out
_STEPS = 4  # lines of a column that make it a list of steps
_NEIGHBOUR = 5  # heights from a step to the next
_UNEVEN, _PITCH = 0.25, 4  # of the usual distance of steps, or pixels, by which one may differ
_MARKED, _CLEARLY = 40, 1.5  # of 765, from the middle of a column: what is marked; times as far as the next
_SAYS = (".", "?", ":", "!", "。", "？", "：")  # sentences and questions are no things to pick from
_LEAST = 0.45  # points below which a line is no title: labels and list entries of pages without one get less


class TitleFeatures(msgspec.Struct, frozen=True):
    """The looks and the wording of a line in numbers, each from 0 to about 1.

    large: how much larger than usual; most headings are 1.2 to 1.9 times as large. high: how far up it stands.
    first: whether it is the first line that is not part of the frame.
    named: 1 where the same words stand a second time on the page or in the frame, in a list of steps; -1 where the list
        names them as another step than the one that is marked, as overviews have them as headings.
    field: whether its ground is of another shade than that of most lines: a field, a list, a marked row.
    stale: how much of it stands there on other screens as well. known: whether the lexicon knows its words.
    sentence: 1 for a full stop at its end, half of it for a colon, which leads to a field. long: how much too long.
    in_list: whether it is one of three or more lines in one column at one distance: things to pick from.
    unsure: how much of it could not be read. button: whether it is a button's word.
    """

    large: float
    high: float
    first: float
    named: float
    field: float
    stale: float
    known: float
    sentence: float
    long: float
    in_list: float
    unsure: float
    button: float


WEIGHTS = TitleFeatures(
    large=1.6, high=1.0, first=0.7, named=0.9, known=0.6,
    field=-0.4, stale=-4.0, sentence=-0.7, long=-1.0, in_list=-0.9, unsure=-1.0, button=-1.2,
)  # fmt: skip
"""Points for each; a large banner has as many as are taken off for standing on other screens."""


def points_of(features: TitleFeatures) -> float:
    """How much speaks for a line."""
    pairs = zip(msgspec.structs.astuple(WEIGHTS), msgspec.structs.astuple(features), strict=True)
    return float(sum(weight * feature for weight, feature in pairs))


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
    usual = median(size_of(line) for line in wordy)
    # What is so large is a logo, where anything else could be the title; headings are hardly twice as large.
    lines = [line for line in wordy if size_of(line) < _LOGO * usual] or wordy
    fresh = {line: stale(line) for line in lines}
    top = min((line.top for line in lines if fresh[line] < _FRESH), default=lines[0].top)
    tall = max(max(line.bottom for line in lines) - top, 1)
    face = _PageFace(tuple(lines), usual, median(line.ground for line in wordy), top, tall)
    step = marked_step([line for line in lines if fresh[line] >= _FRESH])
    given = [_features(line, face, fresh[line], named(line, step), kind_known(line.text)) for line in lines]
    found = [Title(line, points_of(each)) for line, each in zip(lines, given, strict=True)]
    likely = [title for title in found if title.points >= _LEAST] + ([Title(step, _STEP)] if step is not None else [])
    return sorted(likely, key=lambda title: -title.points)


class _PageFace(NamedTuple):
    """The usual looks of a page's lines: their size and ground, where they begin, how tall they stand."""

    lines: tuple[Text, ...]
    usual: float
    ground: float
    top: int
    tall: int


def _features(line: Text, page: _PageFace, stale: float, named: int, known: bool) -> TitleFeatures:
    below = line.top - page.top
    ends = {".": 1.0, "…": 1.0, ":": 0.5}
    return TitleFeatures(
        large=min(max(size_of(line) / page.usual - _AS_USUAL, 0), _LARGEST),
        high=1 - max(below, 0) / page.tall,
        first=abs(below) <= page.usual / 2,
        named=named,
        field=below > page.usual and abs(line.ground - page.ground) > _ANOTHER,
        stale=max(stale - _PARTLY, 0) / (1 - _PARTLY),
        known=known,
        sentence=0.0 if line.text.endswith(f" {HIDDEN}") else ends.get(line.text[-1:], 0.0),
        long=min(max(len(line.text) - _LONG, 0) / _LONG, 1.5),
        in_list=in_list(line, page.lines),
        unsure=1 - line.sure,
        button=line.button is not None,
    )


def marked_step(frame: Sequence[Text]) -> Text | None:
    """The line of the frame that is marked in its column: the step of a list at which the installer is.

    It differs from the others by the colour of its ground, or of its letters, as some differ in their hue alone.
    """
    seen: set[Text] = set()
    for first in frame:
        for column in _runs(sorted(in_column(first, frame), key=lambda line: line.top)):
            if len(column) < _STEPS or seen.issuperset(column) or _far_apart(column):
                continue
            seen |= set(column)
            step = _standing_out(column)
            if step is not None:
                return step
    return None


def _far_apart(column: Sequence[Text]) -> bool:
    """Whether lines stand as far from each other as a desktop's icons do."""
    return median(after.top - before.top for before, after in pairwise(column)) > _NEIGHBOUR * column[0].height


def _runs(column: Sequence[Text]) -> Iterator[list[Text]]:
    """The parts of a column whose lines stand at one distance: what stands apart is no step."""
    gaps = [after.top - before.top for before, after in pairwise(column)]
    usual = median(gaps) if gaps else 0
    run = list(column[:1])
    for gap, line in zip(gaps, column[1:], strict=True):
        if abs(gap - usual) > max(_UNEVEN * usual, _PITCH):
            yield run
            run = []
        run.append(line)
    yield run


def _standing_out(column: Sequence[Text]) -> Text | None:
    """The one line whose colours differ from the middle of them all, far more than those of any other."""
    for shades in ([line.colour for line in column], [line.ink for line in column]):
        if any(shade is None for shade in shades):
            row = row_apart(column, _ANOTHER)
            return row or _alone_in_shade(column)
        middle = [median(shade[channel] for shade in shades if shade is not None) for channel in range(3)]
        apart = [sum(abs(value - usual) for value, usual in zip(shade or (), middle, strict=True)) for shade in shades]
        first, second = sorted(apart, reverse=True)[:2]
        if first >= _MARKED and first >= _CLEARLY * second:
            return column[apart.index(first)]
    return None


def _alone_in_shade(column: Sequence[Text]) -> Text | None:
    """The only line that is lighter than its ground, or the only one that is darker."""
    lighter = sum(line.light for line in column)
    others = [line for line in column if line.light == (lighter * 2 < len(column))]
    return others[0] if len(others) == 1 else None


def size_of(line: Text) -> float:
    """The size of a line's face: pixels of its taller letters."""
    return max(line.tall, 1)


def in_list(line: Text, lines: Sequence[Text]) -> bool:
    """Whether a line is one of at least three in a column at one distance."""
    if line.text.endswith(_SAYS):
        return False
    column = sorted(
        other.top
        for other in lines
        if abs(other.left - line.left) <= 4 and _as_large(other, line) and not other.text.endswith(_SAYS)
    )
    place = column.index(line.top)
    gaps = [after - before for before, after in pairwise(column)]
    near = gaps[max(place - 2, 0) : place + 2]
    return any(
        abs(one - two) <= 3 and one <= 3.2 * size_of(line) for one, two in pairwise(near)
    )  # fmt: skip


def _as_large(one: Text, other: Text) -> bool:
    return abs(size_of(one) - size_of(other)) <= 0.25 * size_of(other)
