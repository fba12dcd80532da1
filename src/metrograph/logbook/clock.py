"""The clock cues are timed by: within one boot of the machine it counts on, whatever is done to the wall clock.

The header of a log holds an anchor, ``clock: BOOT SECONDS``: which boot the run was begun in, and what that boot's
clock showed at ``begun``. In another boot, or on another machine, the wall clock has to do.
"""

from __future__ import annotations

import os
import time
from contextlib import suppress
from datetime import datetime, timedelta
from pathlib import Path

import msgspec

from metrograph.model.cues import Header

ANCHOR = "clock"
_LONGEST_LOADING = 60.0  # seconds


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
    # Where a container has a clock of its own the two do not belong together; no command takes a minute to load.
    return present.earlier(age) if present.boot and 0 <= age < _LONGEST_LOADING else present


def anchor(begun: datetime, present: Instant) -> str:
    """The header's anchor for a run that began then; empty where the machine has no such clock."""
    ago = (present.wall - begun).total_seconds()
    return f"{present.boot} {present.ticks - ago:.2f}" if present.boot else ""


def elapsed(header: Header, moment: Instant) -> int | None:
    """Milliseconds from ``begun`` to a moment, to the hundredth of a second; None when the header has no ``begun``."""
    if header.begun is None:
        return None
    seconds = (moment.wall - header.begun).total_seconds()
    boot, _, ticks = (header.other(ANCHOR) or "").partition(" ")
    if boot and boot == moment.boot:
        with suppress(ValueError):  # an anchor that somebody has edited counts as none
            seconds = moment.ticks - float(ticks)
    return round(seconds * 100) * 10


def _boot() -> str:
    try:
        return Path("/proc/sys/kernel/random/boot_id").read_text()[:8]
    except OSError:
        return ""


def _ticks() -> float:
    return time.clock_gettime(time.CLOCK_BOOTTIME) if hasattr(time, "CLOCK_BOOTTIME") else time.monotonic()
