"""Takes whole logs into a logbook that were kept elsewhere: all are looked at before the first is written."""

from __future__ import annotations

from collections.abc import Sequence
from enum import Enum

import msgspec

from metrograph.errors import MetrographError
from metrograph.log.cues import Log
from metrograph.store.local.logbook import Logbook
from metrograph.store.names import check_id, split_run
from metrograph.store.reading import LogReader


class Fate(Enum):
    """What became of a log."""

    NEW = "new"
    SAME = "there already"
    DIFFERS = "there already, and differs"


class Arrived(msgspec.Struct, frozen=True):
    """A log that was to be taken in. cues: how many it has."""

    run: str
    cues: int
    fate: Fate


def take_in(logbook: Logbook, logs: Sequence[tuple[str, Log]], dry_run: bool = False) -> list[Arrived]:
    """Writes logs that are not there yet; a run that is there already is left as it is.

    Raises MetrographError, before anything is written, when a log could not be a log of this run or is refused.
    """
    for run, log in logs:
        if split_run(check_id(run, "run"))[0] != log.header.release:
            raise MetrographError(f"{run} cannot be a run of “{log.header.release}”; expected: {log.header.release}-1")
        logbook.check(run, log)
    return [Arrived(run, len(log.cues), _fate(logbook, run, log, dry_run)) for run, log in logs]


def _fate(logbook: Logbook, run: str, log: Log, dry_run: bool) -> Fate:
    if not logbook.has(run) and (dry_run or logbook.add(run, log)):
        return Fate.NEW
    there = LogReader(logbook).log(run)
    return Fate.SAME if (there.header, there.cues) == (log.header, log.cues) else Fate.DIFFERS
