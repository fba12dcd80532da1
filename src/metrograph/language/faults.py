"""Gathers what is wrong with a file, so that one bad line never hides the others."""

from __future__ import annotations

from metrograph.model.cues import Fault, Level


class Unreadable(Exception):  # noqa: N818 - not an error of the program: whoever reads a file turns it into a Fault
    """Something in a text that cannot be read.

    offset: where in the text that was handed over it stands, from 0.
    """

    def __init__(self, message: str, found: str = "", expected: str = "", offset: int = 0) -> None:
        super().__init__(message)
        self.message, self.found, self.expected, self.offset = message, found, expected, offset

    def within(self, text: str, start: int = 0) -> Unreadable:
        """The same, its offset set to where ``found`` stands in ``text``, whose own beginning is at ``start``."""
        self.offset = start + max(text.find(self.found), 0)
        return self


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
        """All of them by place."""
        return tuple(sorted(self._faults, key=lambda fault: (fault.line, fault.column)))
