"""Takes the events of a source into a run: maps their times, drops what is there already, and passes the gate."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec

from metrograph.errors import MetrographError
from metrograph.log.cues import Cue, Log
from metrograph.log.quantities.times import show_moment
from metrograph.sources.protocol import Event, Outside, Source
from metrograph.store.clock import Instant, elapsed
from metrograph.store.protocol import Store
from metrograph.store.reading import LogReader
from metrograph.store.when import When, cue_time


class Timing(msgspec.Struct, frozen=True):
    """How the times of a source lie on a run's time.

    present: the moment that counts as now.
    said: what a person says about the time of all events, as --at takes it; None for their own times.
    starts: where on the run's time the source's own time begins, in milliseconds.
    cuts: where on the source's own time real time was left out, and how much, in milliseconds.
    """

    present: Instant
    said: str | None = None
    starts: int = 0
    cuts: tuple[tuple[int, int], ...] = ()


class Ingested(msgspec.Struct, frozen=True):
    """What came of it. cues: all that the source said, on the run's time; written: those that were new."""

    cues: tuple[Cue, ...]
    written: tuple[Cue, ...]


def ingest(store: Store, run: str, source: Source, timing: Timing, dry_run: bool = False) -> Ingested:
    """Writes what a source says to a run, all of it or nothing; what the run has already is not written twice.

    Raises MetrographError when an event lies where it cannot be, or its cue is refused.
    """
    log = LogReader(store).log(run)
    cues = cues_on_run_time(source, log, timing)
    if dry_run:
        return Ingested(cues, ())
    written = store.append(run, cues, When(timing.present, given=True), only_new=True)
    return Ingested(cues, written.cues)


def cues_on_run_time(source: Source, log: Log, timing: Timing) -> tuple[Cue, ...]:
    """What a source says, each cue with its time on the run's clock."""
    return tuple(_placed(source.events(), source, log, timing))


def on_run_time(at: int, timing: Timing) -> int:
    """A time of the source on the run's time, in milliseconds."""
    return at + timing.starts + sum(length for place, length in timing.cuts if place <= at)


def _placed(events: Iterable[Event], source: Source, log: Log, timing: Timing) -> Iterable[Cue]:
    said = None if timing.said is None else cue_time(log, timing.present, timing.said)
    for event in events:
        at = _moment(event, source, log, timing) if said is None else said
        yield msgspec.structs.replace(event.cue, at=at)


def _moment(event: Event, source: Source, log: Log, timing: Timing) -> int:
    if event.wall is None:
        return on_run_time(event.at or 0, timing)
    at = elapsed(log.header, Instant(event.wall, boot="", ticks=0.0)) or 0
    # The time of a file is that of its last change, which may lie days back: then it says nothing of the run.
    if source.outside is Outside.NOW:
        now = cue_time(log, timing.present)
        return at if 0 <= at <= now else now
    end = next((cue.at for cue in log.cues if cue.verb == "end"), at)
    if not 0 <= at <= end:
        when = f"{show_moment(at / 1000)} on its clock"
        raise MetrographError(f"{source.name} did not run within the run ({when}); --at TIME says when in it that was")
    return at
