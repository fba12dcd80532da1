"""Whether two lines, titles or pages are the same: by what they say and where they stand, with room for misreadings."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import lru_cache

from rapidfuzz import fuzz

from metrograph.watch.pages.page import Page, Text
from metrograph.watch.reading.words import plain

_NEAR = 8  # pixels: a line that is found with or without its descenders, or a letter more, moves by less
_SAID_ALIKE = 80  # of 100: a letter of five may be misread in small print
_TITLE_ALIKE = 86  # of 100: titles are read better, and two of them often share words
_SHORT = 5  # letters: shorter words have to be the same


@lru_cache(65536)  # pages are compared line by line with those before them, and most lines stay
def says_the_same(one: str, other: str, least: float = _SAID_ALIKE) -> bool:
    """Whether two lines say the same, if misread."""
    first, second = plain(one), plain(other)
    if first == second:
        return True
    if min(len(first), len(second)) < _SHORT:
        return False
    return fuzz.ratio(first, second) >= least


def same_title(one: str, other: str) -> bool:
    """Whether two titles are one."""
    return says_the_same(one, other, _TITLE_ALIKE)


def same_line(one: Text, other: Text) -> bool:
    """Whether two lines of two pages are the same in the same place."""
    return (
        abs(one.top - other.top) <= _NEAR
        and abs(one.left - other.left) <= _NEAR
        and says_the_same(one.text, other.text)
    )


def shared(lines: Iterable[Text], page: Sequence[Text]) -> int:
    """How many of the lines stand on a page in the same place."""
    return sum(any(same_line(line, other) for other in page) for line in lines)


def similarity(one: Sequence[Text], other: Sequence[Text]) -> float:
    """The part, 0 to 1, of the shorter page that stands on the longer one; 0 where one of them says nothing."""
    if not one or not other:
        return 0.0
    few, many = (one, other) if len(one) <= len(other) else (other, one)
    return shared(few, many) / len(few)


def inside(text: Text, box: tuple[int, int, int, int]) -> bool:
    """Whether a line lies in a box, by its middle."""
    across, down = (text.left + text.right) // 2, (text.top + text.bottom) // 2
    return box[0] <= across <= box[2] and box[1] <= down <= box[3]


def share_of(box: tuple[int, int, int, int], page: Page) -> float:
    """The part of the page, 0 to 1, that a box takes."""
    return (box[2] - box[0]) * (box[3] - box[1]) / (page.size[0] * page.size[1])
