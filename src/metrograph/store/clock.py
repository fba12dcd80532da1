"""When a cue was: a clock that counts on within a boot whatever the wall clock does, or a moment that a person says."""

from __future__ import annotations

import os
import re
import time
from collections.abc import Sequence
from contextlib import suppress
from datetime import datetime, timedelta
from pathlib import Path

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.log.bodies import DATED
from metrograph.log.cues import Cue, Header, Log
from metrograph.log.faults import Unreadable
from metrograph.log.quantities.times import (
    EARLIEST_YEAR,
    EXPECTED_MOMENT,
    EXPECTED_TIME,
    parse_begun,
    parse_moment,
    parse_time,
    show_moment,
)
from metrograph.log.reader import LATER
from metrograph.log.verbs import DAY

ANCHOR = "clock"
_LONGEST_LOADING = 60.0  # seconds
_LONGEST_BLOCKED = 0.5  # seconds that loading waits for a disk
_LONGEST_UP = 1e10  # seconds between a machine's start and the beginning of a run


class Instant(msgspec.Struct, frozen=True):
    """One moment on both clocks.

    wall: with the local offset.
    boot: which boot of the machine it is in; empty when that cannot be told.
    ticks: seconds since that boot, time asleep included.
    """

    wall: datetime
    boot: str
    ticks: float

    def earlier(self, seconds: float) -> Instant:
        """The moment so many seconds before."""
        return Instant(self.wall - timedelta(seconds=seconds), self.boot, self.ticks - seconds)


def now() -> Instant:
    """This moment."""
    return Instant(datetime.now().astimezone(), _boot(), _ticks())


def process_start() -> Instant:
    """The moment this process was started, to a hundredth of a second where the system tells it; else this moment."""
    present = now()
    try:
        fields = Path("/proc/self/stat").read_text().rpartition(")")[2].split()
        started = int(fields[19]) / os.sysconf("SC_CLK_TCK")  # field 22 of proc(5), in ticks since boot
    except (OSError, ValueError, IndexError):
        return present
    age = present.ticks - started
    # A shell that gives its last command its own process has waited in it for others: that was before the command.
    busy = _busy()
    if busy is not None and age - busy > _LONGEST_BLOCKED:
        age = busy
    # Where a container has a clock of its own the two do not belong together; no command takes a minute to load.
    return present.earlier(age) if present.boot and 0 <= age < _LONGEST_LOADING else present


def _busy() -> float | None:
    """Seconds that this process has run, or waited for a processor; None where the system does not tell."""
    try:
        run, waited, *_ = Path("/proc/self/schedstat").read_text().split()
        return (int(run) + int(waited)) / 1e9
    except (OSError, ValueError):
        return None


def anchor(begun: datetime, present: Instant) -> str:
    """The header's anchor for a run that began then; empty where the machine has no such clock."""
    ago = (present.wall - begun).total_seconds()
    return f"{present.boot} {present.ticks - ago:.2f}" if present.boot else ""


def elapsed(header: Header, moment: Instant) -> int | None:
    """Milliseconds from ``begun`` to a moment, to the hundredth of a second; None when the header has no ``begun``."""
    if header.begun is None:
        return None
    zero = _anchors(header).get(moment.boot)
    seconds = (moment.wall - header.begun).total_seconds() if zero is None else moment.ticks - zero
    return round(seconds * 100) * 10


def goes_by(header: Header, moment: Instant) -> bool:
    """Whether a run is told by the clock that runs at this moment."""
    return moment.boot in _anchors(header)


def renewed(header: Header, moment: Instant, earliest: int) -> str | None:
    """The anchors with one for the boot of this moment; None when they have it, or none can be made.

    earliest: milliseconds since ``begun`` that the moment cannot lie before; a wall clock that says otherwise is wrong,
        and nothing is anchored by it.
    """
    said = header.other(ANCHOR)
    if not said or header.begun is None or not moment.boot or moment.boot in _anchors(header):
        return None
    new = anchor(header.begun, moment)
    return f"{said}, {new}" if (elapsed(header, moment) or 0) >= earliest else None


def _anchors(header: Header) -> dict[str, float]:
    """What the clock of each boot showed at ``begun``; one that somebody has edited counts as none."""
    anchors = {}
    for written in (header.other(ANCHOR) or "").split(","):
        boot, _, ticks = written.strip().partition(" ")
        with suppress(ValueError):
            seconds = float(ticks)
            if abs(seconds) < _LONGEST_UP:  # so it is not for one that is no number either
                anchors[boot] = seconds
    anchors.pop("", None)
    return anchors


def _boot() -> str:
    try:
        return Path("/proc/sys/kernel/random/boot_id").read_text()[:8]
    except OSError:
        return ""


def _ticks() -> float:
    return time.clock_gettime(time.CLOCK_BOOTTIME) if hasattr(time, "CLOCK_BOOTTIME") else time.monotonic()


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
    if when.said is not None and log.header.other("way") == LATER and re.fullmatch(DATED, when.said):
        return [msgspec.structs.replace(cue, at=0, fields=((DAY, when.said), *cue.fields)) for cue in cues]
    at = cue_time(log, when.present, when.said)
    return [msgspec.structs.replace(cue, at=at) for cue in cues]


def cue_time(log: Log, present: Instant, said: str | None = None) -> int:
    """Milliseconds from ``begun`` to a cue; see ``When``.

    Raises MetrographError when what was said cannot be read, or lies where it cannot be.
    """
    header = log.header
    started = elapsed(header, present) or 0
    if said is None:
        return _not_afterwards(_not_before_last(_not_before_begun(started, "the clock of this machine"), log), log)
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
    if parse_begun(moment.isoformat()) is None:
        raise MetrographError(f"--begun {begun} is before the year {EARLIEST_YEAR}, and nothing was installed then")
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


def _not_afterwards(milliseconds: int, log: Log) -> int:
    """Refuses the present time in a run that is told afterwards: nothing in an installation comes days later."""
    last = max(log.cues, key=lambda cue: cue.at, default=None)
    since = 0 if last is None else last.at
    if milliseconds - since < _LONGEST_SILENCE or (last is not None and last.verb in {"pause", "end"}):
        return milliseconds
    days = round((milliseconds - since) / _DAY)
    what = "it began" if last is None else f"its last cue, at {show_moment(since / 1000)}"
    raise MetrographError(
        f"this run is told afterwards: {f'{days} days have' if days > 1 else 'a day has'} passed since {what};"
        " --at TIME says when in the run this was"
    )


_DAY = 86_400_000  # milliseconds
_LONGEST_SILENCE = _DAY
"""Milliseconds without a cue, and without a pause, after which nobody stands beside the machine any more."""


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
