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
    """A line of a screen, with the words that it has; None where it could not be read, or was not to be kept."""

    screen: int
    stretch: int | None
    text: Text
    words: set[str] | None


class StaticRegions:
    """The regions that stand in their place on most of some screens, each given as its fullest page.

    stretches: of these, only screens of the same one count, where there are enough of it.
    """

    def __init__(self, screens: Sequence[Page] = (), stretches: Stretches | None = None) -> None:
        self._stretches = stretches or Stretches()
        self._screens = Counter(self._stretches.of(page) for page in screens)
        self._rows: dict[int, list[_PlacedLine]] = defaultdict(list)
        for number, page in enumerate(screens):
            said = set(page.said)
            for text in page.texts:
                if not text.text or text in said:
                    words = set(plain(text.text).split()) if text.text else None
                    self._rows[text.top // _ROW].append(_PlacedLine(number, self._stretches.of(page), text, words))
        self._own: dict[int, list[Text]] = {}
        self._across: dict[int, list[Text]] = {}

    def stale(self, text: Text, page: Page) -> float:
        """The part of a line's words, 0 to 1, that stand in its place on most screens of its stretch."""
        words = set(plain(text.text).split())
        stretch = self._counting(page)
        screens = self._screens.total() if stretch is None else self._screens[stretch]
        if screens < _FEW or not words:
            return 0.0
        found: dict[str, set[int]] = defaultdict(set)
        for placed in self._near(text):
            counts = stretch is None or placed.stretch == stretch
            if placed.words is None and abs(placed.text.left - text.left) + abs(placed.text.top - text.top) > _ROW:
                continue
            if counts and placed.text.left < text.right and text.left < placed.text.right:
                for word in words & placed.words if placed.words is not None else words:
                    found[word].add(placed.screen)
        # It stands on its own screen anyhow.
        parts = (max(len(found[word]) - 1, 0) / (screens - 1) for word in words)
        return sum(min(max((part - _SOME) / (_MOST - _SOME), 0.0), 1.0) for part in parts) / len(words)

    def come_anew(self, before: Page, page: Page) -> bool:
        """Whether a page that says something has other surroundings than the one before it, which may have none."""
        stretch = self._stretches.of(page)
        return stretch is not None and bool(page.said) and stretch != self._stretches.of(before)

    def _counting(self, page: Page) -> int | None:
        """The stretch whose screens count for a page; None where all do, as it has too few of its own."""
        stretch = self._stretches.of(page)
        return stretch if stretch is not None and self._screens[stretch] >= _FEW else None

    def _near(self, text: Text) -> Iterator[_PlacedLine]:
        """The lines of all screens that stand about as high as one."""
        for row in range(text.top // _ROW - 1, text.top // _ROW + 2):
            yield from self._rows.get(row, ())

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
        there = [placed.text.text for placed in self._near(text) if abs(placed.text.left - text.left) <= _ROW]
        return Counter([text.text, *(other for other in there if same_title(other, text.text))]).most_common(1)[0][0]

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
