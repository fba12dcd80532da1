"""Knows what stands around all screens of an installer: banners, the program's name, lists of steps; it is no screen's own."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from metrograph.sources.watch.likeness import same_title
from metrograph.sources.watch.page import Page, Text
from metrograph.sources.watch.words import plain

_MOST = 0.6  # of the screens on which a word stands in its place for it to be part of what surrounds them
_FEW = 3  # screens: of fewer nobody can say what is constant
_ROW = 5  # pixels up or down that a line may move
OWN = 0.5
"""Of its words: a line of which less surrounds other screens is a screen's own."""


class Surround:
    """What stands in its place on most of some screens, each given as its fullest page."""

    def __init__(self, screens: Sequence[Page] = ()) -> None:
        self._screens = len(screens)
        self._rows: dict[int, list[tuple[int, Text, set[str]]]] = defaultdict(list)
        for number, page in enumerate(screens):
            for text in page.said:
                self._rows[text.top // _ROW].append((number, text, set(plain(text.text).split())))
        self._own: dict[int, list[Text]] = {}

    def stale(self, text: Text) -> float:
        """The part of a line's words, 0 to 1, that stand in its place on most other screens."""
        words = set(plain(text.text).split())
        if self._screens < _FEW or not words:
            return 0.0
        found: dict[str, set[int]] = defaultdict(set)
        for row in range(text.top // _ROW - 1, text.top // _ROW + 2):
            for number, other, there in self._rows.get(row, ()):
                if other.left < text.right and text.left < other.right:
                    for word in words & there:
                        found[word].add(number)
        # It stands on its own screen anyhow.
        return sum(min(max(len(found[word]) - 1, 0) / (self._screens - 1) / _MOST, 1.0) for word in words) / len(words)

    def own(self, page: Page) -> list[Text]:
        """The lines of a page that do not surround it."""
        if page.number not in self._own:
            self._own[page.number] = [text for text in page.said if text.button or self.stale(text) < OWN]
        return self._own[page.number]

    def names(self, page: Page, line: Text) -> bool:
        """Whether the words of a line stand a second time on its page in what surrounds it: a list of steps names it."""
        return any(
            other is not line
            and abs(other.top - line.top) + abs(other.left - line.left) > line.height
            and same_title(other.text, line.text)
            and self.stale(other) > _MOST
            for other in page.said
        )
