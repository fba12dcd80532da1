"""The document of what was heard in a talk: every statement with its moment, its words and its cue."""

from __future__ import annotations

import msgspec

from metrograph.hearing.statements import THIS

SURE = 0.8
"""From here on a statement is taken to be right."""


class HeardStatement(msgspec.Struct, frozen=True):
    """Something that was said.

    at: seconds, of the last word that states it. kind, key: what is stated; see docs/hearing.md.
    value: in bytes, seconds, a count or a fraction where it is one, two of them where it lies between; else text.
    about: ``this``, or the release that it is said of. slot: where in the job. sure: 0 to 1.
    said: the words that it rests on. cue: the same in the language of the run log.
    """

    at: float
    kind: str
    key: str
    value: float | str | tuple[float, float]
    about: str
    slot: str
    sure: float
    said: str
    cue: str


class TalkDocument(msgspec.Struct, frozen=True):
    """All that was heard. source: the name of the file; seconds: its length; system: what it is about; or empty."""

    source: str
    seconds: float
    system: str
    statements: tuple[HeardStatement, ...]

    @property
    def sure(self) -> int:
        """How many statements are taken to be right."""
        return sum(each.sure >= SURE for each in self.statements)

    @property
    def of_others(self) -> int:
        """How many are said of other releases."""
        return sum(each.about != THIS for each in self.statements)
