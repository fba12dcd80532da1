"""Tells which pages have the same surroundings: what stands around a desktop says nothing of an installer."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from metrograph.watch.pages.page import Page

_NEAR = 16  # of 255: a cell that coding or a clock has changed is still the same
_SAME = 0.35  # of the cells along the edge: a page fills the others


class Stretches:
    """The stretches of a source: a page belongs to the one whose edge looks like its own, or to none."""

    def __init__(self, pages: Sequence[Page] = ()) -> None:
        self._known: list[Page] = []
        self._of: dict[int, int] = {}
        self.take(pages)

    def take(self, pages: Sequence[Page]) -> None:
        """Takes the next pages."""
        for page in pages:
            if page.ring and not page.blank and not page.console:
                self._of[page.number] = self._place(page)

    def of(self, page: Page) -> int | None:
        """The number of a page's stretch."""
        return self._of.get(page.number)

    def _place(self, page: Page) -> int:
        for number, known in enumerate(self._known):
            if known.size == page.size and _alike(known.ring, page.ring) >= _SAME:
                self._known[number] = page  # surroundings change slowly, as the wallpaper of a day does
                return number
        self._known.append(page)
        return len(self._known) - 1


def _alike(one: bytes, other: bytes) -> float:
    """The part of the cells that have about the same colour, 0 to 1."""
    first, second = (np.frombuffer(ring, np.uint8).reshape(-1, 3).astype(np.int16) for ring in (one, other))
    return float((np.abs(first - second).max(axis=1) <= _NEAR).mean()) if len(first) == len(second) else 0.0
