"""What was seen in a source, as a document: every screen and wait with its times, title and how sure that is."""

from __future__ import annotations

from typing import Annotated

import msgspec

from metrograph.sources.watch.proposing.sure import UNKNOWN, sure_of
from metrograph.sources.watch.screens.spans import Span


class SeenChoice(msgspec.Struct, frozen=True):
    """What seems to be picked on a screen. was: what was pre-set, null where nothing else was; sure: 0 to 1."""

    value: str
    was: str | None
    sure: float


class SeenSpan(msgspec.Struct, frozen=True):
    """A screen or a wait.

    start, end: seconds since the source began; waiting: whether the machine was at work.
    title: empty where it is not known; sure: of the title, 0 to 1, of the wait where there is none.
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
    trouble: str = ""
    choices: tuple[SeenChoice, ...] = ()


class Seen(msgspec.Struct, frozen=True):
    """All that was seen. source: the name of what was gone through; seconds: its length; waiting: of all waits."""

    source: str
    seconds: float
    waiting: float
    spans: tuple[SeenSpan, ...]


def seen_of(source: str, spans: list[Span], end: int) -> Seen:
    """The document of some spans. end: of the source, in milliseconds."""
    found = tuple(map(_seen, spans))
    return Seen(source, end / 1000, round(sum(span.end - span.start for span in found if span.waiting), 3), found)


def _seen(span: Span) -> SeenSpan:
    sure = sure_of(span)
    choices = tuple(SeenChoice(choice.value, choice.was, choice.sure) for choice in span.choices)
    known = span.title if sure >= UNKNOWN else ""
    return SeenSpan(
        span.start / 1000, span.end / 1000, span.waiting, known, span.kind, sure, span.returns and bool(known),
        span.error, span.dialog, span.trouble, choices,
    )  # fmt: skip
