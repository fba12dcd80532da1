"""The clock cues are timed by: within one boot of the machine it counts on, whatever is done to the wall clock.

The header of a log holds anchors, ``clock: BOOT SECONDS, BOOT SECONDS``: the boots of the machines it was written on,
and what the clock of each showed at ``begun``. The first cue in a new boot, or on another machine, goes by the wall
clock and leaves an anchor for those after it.
"""

from __future__ import annotations

import os
import time
from contextlib import suppress
from datetime import datetime, timedelta
from pathlib import Path

import msgspec

from metrograph.log.cues import Header

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
