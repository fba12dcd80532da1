"""Finds where a recording was stopped for a while: its frames come as regularly as a clock, and then do not."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

_REGULAR = 0.9  # of the distances between frames that are as usual; a film that keeps what changes only has fewer
_AS_USUAL = 0.25  # part of the usual distance that one may be off: players round times of frames
_SLOWEST = 1100  # milliseconds: a film of less than a frame a second says nothing by its distances
_LEAST = 5000  # milliseconds: less is a machine that was busy, and no hand on a button


class Pauses:
    """The pauses of a film, as they lie on its own time, in milliseconds."""

    def __init__(self, times: NDArray[np.int64]) -> None:
        """times: of all frames, in milliseconds, in any order."""
        found = pauses_in(times)
        self._at = np.array([at for at, _ in found], np.int64)
        self._before = np.concatenate([[0], np.cumsum([length for _, length in found])]).astype(np.int64)

    def seen(self, at: int) -> int:
        """A moment of the film without the pauses before it."""
        return at - int(self._before[np.searchsorted(self._at, at, side="left")])

    def in_film(self, seen: int) -> int:
        """The moment of the film for one that is counted without pauses."""
        return seen + int(self._before[np.searchsorted(self._at - self._before[:-1], seen, side="left")])

    def ended(self, before: int, now: int) -> int | None:
        """How long the pause was that lies between two moments of the film, in milliseconds; None where none does."""
        first, last = np.searchsorted(self._at, [before, now], side="left")
        return int(self._before[last] - self._before[first]) if last > first else None


def pauses_in(times: NDArray[np.int64]) -> list[tuple[int, int]]:
    """Where a film was paused, and for how long, in milliseconds; nothing of one whose frames never were regular."""
    distances = np.diff(np.sort(times).astype(np.float64))
    if len(distances) < 10:  # of a few frames nobody can say what is usual
        return []
    usual = float(np.median(distances))
    if not 0 < usual <= _SLOWEST or np.mean(np.abs(distances - usual) <= max(_AS_USUAL * usual, 2)) < _REGULAR:
        return []
    places = np.flatnonzero(distances > max(_LEAST, 10 * usual))
    return [(int(np.sort(times)[place]), int(distances[place] - usual)) for place in places]
