"""Spans of a run from one cue to another, asked for each of its cues in turn whether it lies in one of them."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterable
from itertools import accumulate

Span = tuple[int, int]
"""From one cue to another, by their indices; -1 is power-on."""


class Spans:
    """Some spans together, ready to be asked: however many there are, an answer takes hardly longer."""

    def __init__(self, spans: Iterable[Span]) -> None:
        ordered = sorted(spans)
        self._begins = [begin for begin, _ in ordered]
        # Of all spans that begin up to one of them, how far the longest reaches.
        self._reach = list(accumulate((end for _, end in ordered), max))

    def __bool__(self) -> bool:
        return bool(self._begins)

    def holds_step(self, step: float) -> bool:
        """Whether a step lies in one of them: after the cue that it begins with, up to the one that it ends with."""
        count = bisect_left(self._begins, step)
        return count > 0 and self._reach[count - 1] >= step

    def holds_cue(self, index: int) -> bool:
        """Whether a cue does: the first one included, the last one not."""
        count = bisect_right(self._begins, index)
        return count > 0 and self._reach[count - 1] > index
