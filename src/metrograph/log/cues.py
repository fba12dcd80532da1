"""The records a run log is made of: cues, its header, and the faults found while reading it."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

import msgspec

Level = Literal["error", "warning"]
Fields = tuple[tuple[str, str], ...]
ON_SCREEN = "On the screen: "
"""How a note begins that quotes a picture: nobody said it."""


class Cue(msgspec.Struct, frozen=True, gc=False):
    """One thing that happened.

    at: milliseconds since ``begun``, as the file counts them (pauses not taken off, cuts not added).
    verb: a word of ``metrograph.log.verbs.VERBS``.
    name: the key of a choice, or the name of an issue, reading, fact or check; None where the verb has none or it
        was left out.
    text: the rest of the body: a title, a value, a summary; empty where there is none.
    fields: what stood below it or after its bars, in order; a key may stand several times.
    line: the line of the file it begins on, from 1; 0 when it comes from no file. It takes no part in comparing.
    """

    at: int
    verb: str
    name: str | None
    text: str
    fields: Fields = ()
    line: int = 0

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Cue) and self._said == other._said

    def __hash__(self) -> int:
        return hash(self._said)

    @property
    def _said(self) -> tuple[object, ...]:
        return self.at, self.verb, self.name, self.text, self.fields

    def field(self, key: str) -> str | None:
        """The first field of this key; None when there is none."""
        for name, value in self.fields:  # a loop, as this is asked of every cue many times
            if name == key:
                return value
        return None

    def every(self, key: str) -> tuple[str, ...]:
        """All fields of this key, in order."""
        return tuple(value for name, value in self.fields if name == key)


class Header(msgspec.Struct, frozen=True):
    """The head of a log, before its first cue.

    release, rig: ids of cards; empty when the line is missing or could not be read.
    begun: when the run started, with its offset; None when the line is missing or could not be read.
    others: all other lines, in order, as they stood.
    """

    release: str = ""
    rig: str = ""
    begun: datetime | None = None
    others: Fields = ()

    def other(self, key: str) -> str | None:
        """The value of another line; None when it is not there."""
        return next((value for name, value in self.others if name == key), None)


class Log(msgspec.Struct, frozen=True):
    """A run log as read.

    file: where it came from, as it is named to a person; not necessarily a path.
    cues: in the order of writing.
    """

    file: str
    header: Header
    cues: tuple[Cue, ...] = ()

    def by_time(self) -> list[Cue]:
        """The cues in the order they happened; cues of one moment keep the order of writing."""
        if self.header.other("way") == "later":
            return sorted(self.cues, key=lambda cue: (cue.at, cue.field("day") or ""))
        return sorted(self.cues, key=lambda cue: cue.at)


class Fault(msgspec.Struct, frozen=True):
    """One thing wrong or doubtful in a file of the user's.

    line, column: from 1, columns counted in characters; 0 when the whole file is meant.
    level: ``error`` when something could not be read, ``warning`` when it could but looks wrong.
    message: a sentence without its place.
    found: what stood there; empty when something is missing.
    expected: what could stand there; empty when there is no telling.
    """

    file: str
    line: int
    column: int
    level: Level
    message: str
    found: str = ""
    expected: str = ""
