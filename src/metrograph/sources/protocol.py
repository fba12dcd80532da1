"""What every source of cues gives: events, each with its time, how sure it is, and what it rests on."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from enum import Enum
from typing import Protocol

import msgspec

from metrograph.log.cues import Cue


class Event(msgspec.Struct, frozen=True):
    """Something that a source says has happened.

    cue: what; its own time means nothing.
    at: when, in milliseconds on the source's own time; wall: when, on the calendar. One of the two is given.
    confidence: how sure the source is, 0 to 1.
    evidence: what it rests on, a picture's path for one; None where it is the source itself.
    """

    cue: Cue
    at: int | None = None
    wall: datetime | None = None
    confidence: float = 1.0
    evidence: str | None = None


class Outside(Enum):
    """What becomes of an event whose time on the calendar lies outside the run."""

    REFUSED = "refused"
    NOW = "taken as now"


class Source(Protocol):
    """A source of cues.

    name: what it is called in messages.
    outside: what becomes of events that were not within the run.
    """

    name: str
    outside: Outside

    def events(self) -> Iterable[Event]:
        """What it says has happened, in its own order. Secrets are left out already."""
