"""Gathers what is wrong with a file, so that one bad line never hides the others, and says what was probably meant."""

from __future__ import annotations

from collections.abc import Iterable

from metrograph.log.cues import Fault, Level

_MOST_SUGGESTED = 3  # as many as are read at a glance
_LEAST_SIMILAR = 66  # of 100; below it two words have little in common
_MARGIN = 10  # a word that is so much less similar than the best one is not named beside it
ONE_OF = "one of "
"""How a list begins in which nothing is similar to what was written."""


class Unreadable(Exception):  # noqa: N818 - not an error of the program: whoever reads a file turns it into a Fault
    """Something in a text that cannot be read.

    offset: where in the text that was handed over it stands, from 0.
    """

    def __init__(self, message: str, found: str = "", expected: str = "", offset: int = 0) -> None:
        super().__init__(message)
        self.message, self.found, self.expected, self.offset = message, found, expected, offset

    def within(self, text: str, start: int = 0) -> Unreadable:
        """Sets the offset to where ``found`` stands in ``text``, which begins at ``start``; returns itself."""
        self.offset = start + max(text.find(self.found), 0)
        return self

    @property
    def sentence(self) -> str:
        """What is wrong and what could stand there."""
        return f"{self.message}; expected: {self.expected}" if self.expected else self.message


class Faults:
    """The faults of one file."""

    def __init__(self, file: str) -> None:
        self.file = file
        self._faults: list[Fault] = []

    def add(
        self, line: int, column: int, message: str, found: str = "", expected: str = "", level: Level = "error"
    ) -> None:
        """Notes one; see ``Fault`` for what each part means."""
        self._faults.append(Fault(self.file, line, column, level, message, found, expected))

    def refuse(self, line: int, column: int, wrong: Unreadable) -> None:
        """Notes what could not be read."""
        self.add(line, column, wrong.message, wrong.found, wrong.expected)

    def drop_line(self, line: int) -> bool:
        """Forgets those of one line; whether there were any."""
        kept = [fault for fault in self._faults if fault.line != line]
        dropped, self._faults = len(self._faults) - len(kept), kept
        return dropped > 0

    def in_order(self) -> tuple[Fault, ...]:
        """All faults by their place in the file."""
        return tuple(sorted(self._faults, key=lambda fault: (fault.line, fault.column)))


def near_misses(word: str, known: Iterable[str]) -> list[str]:
    """The known words most similar to this one, the best first; none when no word is."""
    from rapidfuzz import fuzz, process  # loaded only when somebody has mistyped

    ranked = process.extract(
        word.lower(), list(known), scorer=fuzz.ratio, limit=_MOST_SUGGESTED, score_cutoff=_LEAST_SIMILAR
    )
    return [match for match, score, _ in ranked if score >= ranked[0][1] - _MARGIN]


def suggest(word: str, known: Iterable[str]) -> str:
    """What could stand there: the known words most similar to this one, or all of them when none is.

    Returns ``screen``, ``ready or retry``, or ``one of pass, fail, partly, skipped``.
    """
    words = list(known)
    near = near_misses(word, words)
    if near:
        return " or ".join(near)
    return ONE_OF + ", ".join(words) if words else ""
