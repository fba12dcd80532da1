"""Turns what a person says about time into milliseconds since a run's start."""

from __future__ import annotations

from datetime import datetime

from metrograph.errors import MetrographError
from metrograph.language.times import EXPECTED_MOMENT, EXPECTED_TIME, parse_moment, parse_time, show_moment
from metrograph.logbook.clock import Instant, elapsed
from metrograph.model.cues import Log

_LATE = 60_000
"""Milliseconds that several who write at once may come one after the other."""


def cue_time(log: Log, present: Instant, at: str | None = None) -> int:
    """Milliseconds from ``begun`` to a cue.

    present: the moment that counts as now.
    at: what a person says about another moment, as --at takes it.

    Raises MetrographError when that cannot be read, or lies where it cannot be.
    """
    header = log.header
    started = elapsed(header, present) or 0
    if at is None:
        return _not_before_last(_not_before_begun(started, "the clock of this machine"), log)
    if at.startswith("-") and (ago := parse_time(at[1:])) is not None:
        return _not_before_begun(started - ago, f"--at {at}")
    if (since := parse_time(at)) is not None:
        return since
    moment = parse_moment(at, present.wall) if "-" in at[1:] else None
    if moment is None or header.begun is None:
        raise MetrographError(
            f"--at “{at}” cannot be read; expected: {EXPECTED_TIME}, counted from the start; -2:00 for two minutes ago;"
            f" or {EXPECTED_MOMENT}"
        )
    return _not_before_begun(round((moment - header.begun).total_seconds() * 1000), f"--at {at}")


def begin_time(present: Instant, begun: str | None) -> datetime:
    """When a run began: now, or what --begun says."""
    started = present.wall.replace(microsecond=0)
    if begun is None:
        return started
    moment = parse_moment(begun, started)
    if moment is None:
        raise MetrographError(
            f"--begun “{begun}” cannot be read; expected: 10:04, “2026-05-02 10:04”, or {EXPECTED_MOMENT}"
        )
    if moment > started:
        raise MetrographError(f"--begun {begun} is still to come")
    return moment


def _not_before_last(milliseconds: int, log: Log) -> int:
    """Refuses a time that lies well before what was noted already: after a restart the wall clock may have been set."""
    last = max((cue.at for cue in log.cues), default=0)
    if milliseconds < last - _LATE:
        raise MetrographError(
            f"the clock of this machine says {show_moment(milliseconds / 1000)}, and the run has a cue at"
            f" {show_moment(last / 1000)} already; --at TIME says when it was"
        )
    return milliseconds


def _not_before_begun(milliseconds: int, what: str) -> int:
    if milliseconds < 0:
        raise MetrographError(
            f"{what} is {show_moment(-milliseconds / 1000)} before the run began; --at TIME sets another time"
        )
    return milliseconds
