"""The document of what was seen in a source: every screen and wait with its times, title and how sure that is.

Reports name these records, so that nothing heavy is loaded here.
"""

from __future__ import annotations

from typing import Annotated

import msgspec

from metrograph.core.visitor import AnswerFields, Answering

SURE = 0.9
"""From here on a proposal is called sure."""


class SeenChoice(Answering, frozen=True):
    """An answer that seems to be picked on a screen.

    was: what was pre-set, null where nothing else was; sure: 0 to 1; offered: what there was to pick from, where seen.
    asks_who: what the screen is for where what is typed there tells who or where; empty elsewhere.
    """

    value: str
    was: str | None
    sure: float
    offered: tuple[str, ...] = ()
    asks_who: str = ""

    def answer(self) -> AnswerFields:
        """All of it: nobody has said under which key."""
        return AnswerFields(self.asks_who, ("value", "was"), ("offered",), personal=bool(self.asks_who))


class SeenSpan(msgspec.Struct, frozen=True):
    """A screen or a wait.

    start, end: seconds since the source began; waiting: whether the machine was at work.
    title: its heading, empty where it is not known; question: what is asked below it; name: what it is called in a log.
    sure: of the screen with its title, 0 to 1, of the wait where there is none; title_sure: 0 where there is no title.
    returns: whether it was in front before; error: whether trouble was told on it; dialog: whether it lay over another.
    """

    start: Annotated[float, msgspec.Meta(description="seconds")]
    end: Annotated[float, msgspec.Meta(description="seconds")]
    waiting: bool
    title: str
    kind: str
    sure: float
    returns: bool
    error: bool
    dialog: bool
    question: str = ""
    name: str = ""
    title_sure: float = 0.0
    trouble: str = ""
    choices: tuple[SeenChoice, ...] = ()


class Seen(msgspec.Struct, frozen=True):
    """All that was seen. source: the name of what was gone through; seconds: its length; waiting: of all waits."""

    source: str
    seconds: float
    waiting: float
    spans: tuple[SeenSpan, ...]
