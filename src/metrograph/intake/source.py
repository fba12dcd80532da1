"""Takes the events of a source into a run, whatever source it is: timed, each once, through the gate."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from enum import Enum
from hashlib import blake2b
from typing import Protocol

import msgspec
from rapidfuzz import fuzz

from metrograph.core.errors import MetrographError
from metrograph.log.cues import Cue, Log
from metrograph.log.quantities.times import show_moment
from metrograph.log.verbs import NOTED
from metrograph.log.writer import format_line
from metrograph.store.clock import Instant, When, cue_time, elapsed
from metrograph.store.local.checksums import Picture
from metrograph.store.protocol import Store
from metrograph.store.reading import LogReader


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
    """The fate of an event whose time on the calendar lies outside the run."""

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


_SAME = 70  # of 100: so alike are a cue and what became of it when it was mended


class Timing(msgspec.Struct, frozen=True):
    """How the times of a source lie on a run's time.

    present: the moment that counts as now.
    said: what a person says about the time of all events, as --at takes it; None for their own times.
    starts: where on the run's time the source's own time begins, in milliseconds; below zero where it began before.
    cuts: where on the source's own time real time was left out, and how much, in milliseconds.
    loose: the same, where nobody knows how much exactly: what is said of it, which becomes a cut of the run.
    """

    present: Instant
    said: str | None = None
    starts: int = 0
    cuts: tuple[tuple[int, int], ...] = ()
    loose: tuple[tuple[int, str], ...] = ()


class Ingested(msgspec.Struct, frozen=True):
    """The cues of a source that was taken in.

    cues: all that the source said, on the run's time; new: those that the run has not; written: those that were.
    mended: those that somebody has mended since they were written, each with the cue that stands in the log now.
    changed: the cues of lines that were edited since, each with what it became; None where the line is gone.
    """

    cues: tuple[Cue, ...]
    new: tuple[Cue, ...]
    written: tuple[Cue, ...]
    mended: tuple[tuple[Cue, Cue], ...] = ()
    changed: tuple[tuple[Cue, Cue | None], ...] = ()


def ingest(store: Store, run: str, source: Source, timing: Timing, dry_run: bool = False) -> Ingested:
    """Writes what a source says to a run, all of it or nothing; what the run has already is not written twice.

    Raises MetrographError when an event lies where it cannot be, or its cue is refused.
    """
    log = LogReader(store).log(run)
    cues = cues_on_run_time(source, log, timing)
    edited = _edited(cues, log)
    rest = [cue for cue in cues if cue not in edited.settled]
    mended = (*edited.mended, *_mended(rest, log))
    there = {*map(bare, log.cues), *(bare(cue) for cue, _ in mended)}
    new = tuple(cue for cue in dict.fromkeys(rest) if bare(cue) not in there)
    if dry_run:
        return Ingested(cues, new, (), mended, edited.changed)
    if edited.changed:
        store.revise(run, {old.line: cue for old, cue in edited.changed})
    written = store.append(run, new, When(timing.present, given=True), only_new=True)
    return Ingested(cues, new, written.cues, mended, edited.changed)


# -- notes that were edited --------------------------------------------------------------------------------------------


def with_key(cue: Cue, file: str, line: str) -> Cue:
    """A cue that knows which line of which file it came from, and what it said then."""
    key = f"{_digits(file.rpartition('/')[2], 4)}-{_digits(line, 6)}-{_content(cue)}"
    return msgspec.structs.replace(cue, fields=(*cue.fields, (NOTED, key)))


def bare(cue: Cue) -> Cue:
    """A cue without the line that it came from."""
    if cue.field(NOTED) is None:
        return cue
    return msgspec.structs.replace(cue, fields=tuple(each for each in cue.fields if each[0] != NOTED))


def _digits(text: str, count: int) -> str:
    return blake2b(text.encode()).hexdigest()[:count]


def _content(cue: Cue) -> str:
    return _digits(format_line(bare(cue)), 6)


class _Edited(msgspec.Struct, frozen=True):
    """What became of lines that were taken in before. settled: the cues about which nothing more is to be done."""

    settled: frozenset[Cue]
    changed: tuple[tuple[Cue, Cue | None], ...] = ()
    mended: tuple[tuple[Cue, Cue], ...] = ()


def _edited(cues: Sequence[Cue], log: Log) -> _Edited:
    """Which cues of a log came from lines that say something else now, stand elsewhere, or are gone.

    What a person has mended in the log stays as it is. A file that has lost half of what was taken from one of its name
    is another file.
    """
    known = {_line(cue): cue for cue in log.cues if cue.field(NOTED)}
    arrived = {_line(cue): cue for cue in cues if cue.field(NOTED)}
    files = {line[0] for line in arrived}
    gone = [cue for line, cue in known.items() if line[0] in files and line not in arrived]
    came = {line: cue for line, cue in arrived.items() if line not in known}
    edited = [*_still_there(known, arrived), *_gone(gone, tuple(came.values()), len(known))]
    return _Edited(
        frozenset(cue for cue, _, _ in edited if cue is not None),
        tuple((old, cue) for cue, old, is_mended in edited if not is_mended and _differs(cue, old)),
        tuple((cue, old) for cue, old, is_mended in edited if is_mended and cue is not None),
    )


_Met = tuple[Cue | None, Cue, bool]
"""What a line says now, None where it is gone; the cue that was taken from it; whether a person has mended that."""


def _still_there(known: Mapping[tuple[str, str], Cue], arrived: Mapping[tuple[str, str], Cue]) -> Iterator[_Met]:
    """Lines that are where they were."""
    for line, cue in arrived.items():
        if line in known:
            yield cue, known[line], not _is_untouched(known[line])


def _gone(gone: Sequence[Cue], came: Sequence[Cue], known: int) -> Iterator[_Met]:
    """Lines that are no longer where they were; one whose time was edited says the same elsewhere."""
    left = list(came)
    for old in gone:
        elsewhere = next((cue for cue in left if _content(cue) == _said_then(old)), None)
        if elsewhere is not None:
            left.remove(elsewhere)
            yield elsewhere, old, not _is_untouched(old)
        elif len(gone) * 2 <= known and _is_untouched(old):
            yield None, old, False


def _differs(cue: Cue | None, old: Cue) -> bool:
    """Whether a line says something else than it did, is another line of its file, or is said at another time."""
    return cue is None or cue.field(NOTED) != old.field(NOTED) or cue.at != old.at


def _line(cue: Cue) -> tuple[str, str]:
    file, _, rest = (cue.field(NOTED) or "").partition("-")
    return file, rest.partition("-")[0]


def _said_then(cue: Cue) -> str:
    """What the line of a cue said when it was taken in."""
    return (cue.field(NOTED) or "").rpartition("-")[2]


def _is_untouched(cue: Cue) -> bool:
    """Whether nobody has mended a cue since it was taken in."""
    return _content(cue) == _said_then(cue)


def cues_on_run_time(source: Source, log: Log, timing: Timing) -> tuple[Cue, ...]:
    """What a source says, each cue with its time on the run's clock."""
    placed = [*_placed(source.events(), source, log, timing), *_loose(timing)]
    return tuple(sorted(placed, key=lambda cue: cue.at)) if timing.loose else tuple(placed)


def on_run_time(at: int, timing: Timing) -> int:
    """A time of the source on the run's time, in milliseconds."""
    return max(moved(at, timing), 0)  # what was said before the run began stands at its beginning


def moved(at: int, timing: Timing) -> int:
    """The same, below zero for what was before the run began."""
    return at + timing.starts + sum(length for place, length in timing.cuts if place <= at)


def _loose(timing: Timing) -> Iterable[Cue]:
    within = ((moved(at, timing), said) for at, said in timing.loose)
    return (Cue(at, "cut", None, said) for at, said in within if at >= 0)


def _mended(cues: Iterable[Cue], log: Log) -> Iterable[tuple[Cue, Cue]]:
    """The cues that stand in the log in other words, at the same moment: a person has mended one or the other."""
    known, arrived = set(map(bare, log.cues)), set(map(bare, cues))
    spare: dict[int, list[Cue]] = {}
    for cue in log.cues:
        if bare(cue) not in arrived and not cue.field(NOTED):
            spare.setdefault(cue.at, []).append(cue)
    for cue in dict.fromkeys(cues):
        others = spare.get(cue.at, []) if bare(cue) not in known else []
        best = max(others, key=lambda other: _similarity(cue, other), default=None)
        if best is not None and _similarity(cue, best) >= _SAME:
            others.remove(best)
            yield cue, best


def _similarity(one: Cue, other: Cue) -> float:
    """From 0 to 100, by what was written; that one of them is a note makes no difference."""
    return fuzz.ratio(*(format_line(bare(cue)).removeprefix("note ") for cue in (one, other)))


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
        until = elapsed(log.header, timing.present) or 0
        return at if 0 <= at <= until else cue_time(log, timing.present)
    end = next((cue.at for cue in log.cues if cue.verb == "end"), at)
    if not 0 <= at <= end:
        when = f"{show_moment(at / 1000)} on its clock"
        raise MetrographError(f"{source.name} did not run within the run ({when}); --at TIME says when in it that was")
    return at


class KeptPicture:
    """A ``Source``. Its time is that of the picture's file where that lies within the run, and now where not."""

    name = "the picture"
    outside = Outside.NOW

    def __init__(self, picture: Picture) -> None:
        self.picture = picture

    def events(self) -> Iterator[Event]:
        """The picture."""
        cue = Cue(0, "shot", None, self.picture.path, (("sha256", self.picture.sha256),))
        yield Event(cue, wall=datetime.fromtimestamp(self.picture.taken).astimezone(), evidence=self.picture.path)
