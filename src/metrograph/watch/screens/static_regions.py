"""Knows what stands around all screens of an installer: banners, lists of steps; it is no screen's own."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from metrograph.watch.pages.page import Page, Text, in_column
from metrograph.watch.pages.sameness import same_title
from metrograph.watch.reading.words import plain
from metrograph.watch.screens.stretches import Stretches

_SOME, _MOST = 0.4, 0.6  # of the screens: a word that stands in its place on fewer is a heading over several questions,
# one that stands there on more is part of what surrounds them
_FEW = 3  # screens: of fewer nobody can say what is constant
_ROW = 5  # pixels up or down that a line may move
_TOP = 0.3  # of the height: steps that stand side by side stand above everything else
_ABREAST = 3  # lines in a row: fewer are a heading with something beside it
OWN = 0.5
"""Of its words: a line of which less surrounds other screens is a screen's own."""


class _PlacedLine(NamedTuple):
    """A line in its place, as it stands on one screen or on many. words: None where it could not be read or kept."""

    stretch: int | None
    left: int
    top: int
    right: int
    text: str
    words: frozenset[str] | None


class StaticRegions:
    """The regions that stand in their place on most of some screens, each given as its fullest page.

    stretches: of these, only screens of the same one count, where there are enough of it.
    """

    def __init__(self, screens: Sequence[Page] = (), stretches: Stretches | None = None) -> None:
        self._stretches = stretches or Stretches()
        self._screens = Counter(self._stretches.of(page) for page in screens)
        # For each place the screens on which it is taken, as the bits of a number: a banner is one place of many.
        self._rows: dict[int, dict[_PlacedLine, int]] = defaultdict(dict)
        for number, page in enumerate(screens):
            said, stretch = set(page.said), self._stretches.of(page)
            for text in page.texts:
                if not text.text or text in said:
                    words = _words_of(text.text) if text.text else None
                    place = _PlacedLine(stretch, text.left, text.top, text.right, text.text, words)
                    row = self._rows[text.top // _ROW]
                    row[place] = row.get(place, 0) | 1 << number
        self._own: dict[int, list[Text]] = {}
        self._across: dict[int, list[Text]] = {}
        self._stale: dict[tuple[int | None, int, int, int, str], float] = {}

    def stale(self, text: Text, page: Page) -> float:
        """The part of a line's words, 0 to 1, that stand in its place on most screens of its stretch."""
        stretch = self._counting(page)
        asked = stretch, text.left, text.top, text.right, text.text
        if asked not in self._stale:
            self._stale[asked] = self._share(text, stretch)
        return self._stale[asked]

    def _share(self, text: Text, stretch: int | None) -> float:
        words = _words_of(text.text)
        screens = self._screens.total() if stretch is None else self._screens[stretch]
        if screens < _FEW or not words:
            return 0.0
        found = dict.fromkeys(words, 0)
        for place, on in self._near(text):
            if stretch is not None and place.stretch != stretch:
                continue
            if place.words is None and abs(place.left - text.left) + abs(place.top - text.top) > _ROW:
                continue
            if place.left < text.right and text.left < place.right:
                for word in words if place.words is None else words & place.words:
                    found[word] |= on
        # It stands on its own screen anyhow.
        parts = (max(on.bit_count() - 1, 0) / (screens - 1) for on in found.values())
        return sum(min(max((part - _SOME) / (_MOST - _SOME), 0.0), 1.0) for part in parts) / len(words)

    def come_anew(self, before: Page, page: Page) -> bool:
        """Whether a page that says something has other surroundings than the one before it, which may have none."""
        stretch = self._stretches.of(page)
        return stretch is not None and bool(page.said) and stretch != self._stretches.of(before)

    def _counting(self, page: Page) -> int | None:
        """The stretch whose screens count for a page; None where all do, as it has too few of its own."""
        stretch = self._stretches.of(page)
        return stretch if stretch is not None and self._screens[stretch] >= _FEW else None

    def _near(self, text: Text) -> Iterator[tuple[_PlacedLine, int]]:
        """The lines of all screens that stand about as high as one, with the screens on which they do."""
        for row in range(text.top // _ROW - 1, text.top // _ROW + 2):
            yield from self._rows.get(row, {}).items()

    def own(self, page: Page) -> list[Text]:
        """The lines of a page that do not surround it."""
        if page.number not in self._own:
            across = self.steps_across(page)
            self._own[page.number] = [
                text for text in page.said if text.button or (self.stale(text, page) < OWN and text not in across)
            ]
        return self._own[page.number]

    def steps_across(self, page: Page) -> list[Text]:
        """The names of steps that stand side by side at the top of a page."""
        if page.number not in self._across:
            top = [text for text in page.said if text.top < _TOP * page.size[1] and not text.button]
            self._across[page.number] = [
                text for text in top if sum(abs(text.top - other.top) <= _ROW for other in top) >= _ABREAST
            ]
        return self._across[page.number]

    def spelled(self, text: Text) -> str:
        """A line as it was read most often in its place: marked, it is read worse."""
        read = Counter([text.text])
        for place, on in self._near(text):
            if abs(place.left - text.left) <= _ROW and same_title(place.text, text.text):
                read[place.text] += on.bit_count()
        return read.most_common(1)[0][0]

    def names(self, page: Page, line: Text, marked: Text | None) -> int:
        """What a list of steps says of a line: 1 where it is the step at which the page is, -1 where it is another.

        marked: the step that is marked, where one is; without it, any step whose words stand a second time is this one.
        """
        if marked is None:
            return int(
                any(same_title(other.text, line.text) and self._is_step(page, other, line) for other in page.said)
            )
        if same_title(marked.text, line.text):
            return int(marked is not line)
        steps = in_column(marked, [text for text in page.said if self.stale(text, page) > _MOST])
        return -int(any(step is not line and same_title(step.text, line.text) for step in steps))

    def _is_step(self, page: Page, other: Text, line: Text) -> bool:
        """Whether a line is one of a list that surrounds its page, and stands elsewhere than the given one."""
        if abs(other.top - line.top) + abs(other.left - line.left) <= line.height:
            return False
        if other in self.steps_across(page):
            return True
        return self.stale(other, page) > _MOST and len(in_column(other, page.said)) > _ABREAST


def _words_of(text: str) -> frozenset[str]:
    return frozenset(plain(text).split())
