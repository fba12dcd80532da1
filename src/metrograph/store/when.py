"""When a cue was: turns this moment, or what a person says about another, into milliseconds since a run's start."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

import msgspec

from metrograph.errors import MetrographError
from metrograph.log.cues import Cue, Log
from metrograph.log.faults import Unreadable
from metrograph.log.quantities.times import EXPECTED_MOMENT, EXPECTED_TIME, parse_moment, parse_time, show_moment
from metrograph.store.clock import Instant, elapsed, goes_by

_LATE = 60_000
"""Milliseconds that several who write at once may come one after the other."""


class When(msgspec.Struct, frozen=True):
    """When the cues that are handed over were.

    present: the moment that counts as now.
    said: what a person says about another moment, as --at takes it; None for now.
    given: whether the cues have their times on the run's clock already.
    """

    present: Instant
    said: str | None = None
    given: bool = False


def placed(cues: Sequence[Cue], log: Log, when: When) -> list[Cue]:
    """The cues with their times on the run's clock; raises MetrographError when these lie where they cannot be."""
    if when.given or not cues:
        return list(cues)
    at = cue_time(log, when.present, when.said)
    return [msgspec.structs.replace(cue, at=at) for cue in cues]


def cue_time(log: Log, present: Instant, said: str | None = None) -> int:
    """Milliseconds from ``begun`` to a cue; see ``When``.

    Raises MetrographError when what was said cannot be read, or lies where it cannot be.
    """
    header = log.header
    started = elapsed(header, present) or 0
    if said is None:
        return _not_before_last(_not_before_begun(started, "the clock of this machine"), log)
    # Counted back from this moment, as a person thinks who has just looked away from the machine.
    if said.startswith("-") and (ago := parse_time(said[1:])) is not None:
        return _not_before_begun(started - ago, f"--at {said}")
    if (since := parse_time(said)) is not None:
        return _not_ahead(since, started, present, log)
    # A bare 10:04 would be ten minutes into the run, so only a date says that a time of day is meant.
    moment = _moment(said, present.wall, "--at") if "-" in said[1:] else None
    if moment is None or header.begun is None:
        raise MetrographError(
            f"--at “{said}” cannot be read; expected: {EXPECTED_TIME}, counted from the start; -2:00 for two minutes"
            f" ago; or {EXPECTED_MOMENT}"
        )
    return _not_before_begun(round((moment - header.begun).total_seconds() * 1000), f"--at {said}")


def begin_time(present: Instant, begun: str | None) -> datetime:
    """When a run began: now, or what --begun says."""
    started = present.wall.replace(microsecond=0)
    if begun is None:
        return started
    moment = _moment(begun, started, "--begun")
    if moment is None:
        raise MetrographError(
            f"--begun “{begun}” cannot be read; expected: 10:04, “2026-05-02 10:04”, or {EXPECTED_MOMENT}"
        )
    if moment > started:
        raise MetrographError(f"--begun {begun} is still to come")
    return moment


def _moment(said: str, now: datetime, option: str) -> datetime | None:
    try:
        return parse_moment(said, now)
    except Unreadable as wrong:
        raise MetrographError(f"{option}: {wrong.sentence}") from wrong


def _not_before_last(milliseconds: int, log: Log) -> int:
    """Refuses a time that lies well before what was noted already: after a restart the wall clock may have been set."""
    last = max((cue.at for cue in log.cues), default=0)
    if milliseconds < last - _LATE:
        raise MetrographError(
            f"the clock of this machine says {show_moment(milliseconds / 1000)}, and the run has a cue at"
            f" {show_moment(last / 1000)} already; --at TIME says when it was"
        )
    return milliseconds


def _not_ahead(milliseconds: int, started: int, present: Instant, log: Log) -> int:
    """Refuses a time still to come in a run that goes by this machine's clock: a slip would bar every cue after it."""
    if milliseconds > started + _LATE and goes_by(log.header, present):
        raise MetrographError(
            f"--at {show_moment(milliseconds / 1000)} is still to come: the run's clock says"
            f" {show_moment(started / 1000)}; a run that is told afterwards begins with --begun"
        )
    return milliseconds


def _not_before_begun(milliseconds: int, what: str) -> int:
    if milliseconds < 0:
        raise MetrographError(
            f"{what} is {show_moment(-milliseconds / 1000)} before the run began; --at TIME sets another time"
        )
    return milliseconds
