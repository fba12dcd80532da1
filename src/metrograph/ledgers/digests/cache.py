"""Digests of all runs of a store, kept beside it so that a second look at ten thousand of them takes a moment.

What is kept can be thrown away at any time: it is made anew from the logs. It is never asked when a log has changed, or
the program that makes digests has. Its bytes carry a checksum.
"""

from __future__ import annotations

import hashlib
import zlib
from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from contextvars import ContextVar
from typing import NamedTuple

import msgspec

from metrograph.core.errors import UNDECODABLE, MetrographError
from metrograph.core.makers import made_by
from metrograph.core.pool import copies, has_cores
from metrograph.ledgers.digests.digest import Digest, digest
from metrograph.log.cues import Fault
from metrograph.store.ids import split_run
from metrograph.store.protocol import Store
from metrograph.store.reading import LogReader

_NAME = "digests"
_MANY, _PART = 200, 50  # runs from which on several processes are quicker than one, and how many each takes at a time
_SUM = 4  # bytes of the checksum that the file begins with
_MAKERS = ("metrograph.ledgers.digests.digest", "metrograph.store.reading")
"""What makes a digest of a log; whatever these import, directly or not, has a say in what a digest holds."""
Track = Callable[[Sequence[str], str], Iterable[str]]


class _KeptDigest(msgspec.Struct, array_like=True, gc=False):
    """A digest, and the stamp of the log it was made from."""

    stamp: tuple[int, ...]
    digest: Digest


class _File(msgspec.Struct, array_like=True, gc=False):
    """All digests by run. maker: what would make them differently, program and lexicon."""

    maker: str
    kept: dict[str, _KeptDigest]


def digests_of(reader: LogReader, store: Store, track: Track, releases: Collection[str] | None = None) -> list[Digest]:
    """The digests of all runs of some releases, by release and number. Logs of others are not read.

    track: goes through names and may say how far it is.
    releases: their ids; None for all.
    """
    maker = _maker(reader)
    stamps = store.stamps()
    kept = _load(store, maker)
    good = {run: item for run, item in kept.items() if stamps.get(run) == item.stamp}
    wanted = {run for run in stamps if releases is None or split_run(run)[0] in releases}
    missing = sorted(wanted - good.keys(), key=split_run)
    faulty: dict[str, _KeptDigest] = {}  # read anew each time, so that what is wrong with them is said each time
    for run, made in _made(reader, store, missing, track):
        reader.faults += made.faults
        reader.faulty |= {run} if made.faulty else set()
        if made.digest is not None:
            (faulty if made.faulty else good)[run] = _KeptDigest(stamps[run], made.digest)
    if good != kept:
        _save(store, _File(maker, good))
    taken = good | faulty
    return [taken[run].digest for run in sorted(wanted & taken.keys(), key=split_run)]


class _Made(NamedTuple):
    """A log that was read: its digest, None where it cannot be read; what is wrong with it, and whether anything is."""

    digest: Digest | None
    faults: list[Fault]
    faulty: bool


def _made(reader: LogReader, store: Store, runs: Sequence[str], track: Track) -> Iterator[tuple[str, _Made]]:
    """The digests of some runs, one after the other; of many, on all cores."""
    if len(runs) < _MANY or not has_cores(len(runs)):
        for run in track(runs, "reading runs"):
            yield run, _one(reader, store, run)
        return
    parts = [runs[start : start + _PART] for start in range(0, len(runs), _PART)]
    done = (pair for part in copies(_several, parts, (_WORK.set, ((reader, store),))) for pair in part)
    for _ in track(runs, "reading runs"):
        yield next(done)


_WORK: ContextVar[tuple[LogReader, Store]] = ContextVar("work")
"""What a process of a pool reads with, and from."""


def _several(runs: Sequence[str]) -> list[tuple[str, _Made]]:
    """What comes of some logs, in a process of its own."""
    reader, store = _WORK.get()
    return [(run, _one(reader, store, run)) for run in runs]


def _one(reader: LogReader, store: Store, run: str) -> _Made:
    before = len(reader.faults)
    try:
        made = digest(reader.run(run, store))
    except MetrographError as error:
        return _Made(None, [Fault(store.label(run), 1, 1, "error", f"this log cannot be read: {error}")], faulty=True)
    faults = reader.faults[before:]
    del reader.faults[before:]
    return _Made(made, faults, run in reader.faulty)


def _maker(reader: LogReader) -> str:
    return f"{made_by(*_MAKERS)} {hashlib.sha256(msgspec.msgpack.encode(reader.lexicon)).hexdigest()}"


def _load(store: Store, maker: str) -> dict[str, _KeptDigest]:
    """What was kept; nothing of what was damaged, or made by another program."""
    data = store.kept(_NAME)
    if data is None or _checksum(content := memoryview(data)[_SUM:]) != data[:_SUM]:
        return {}
    try:
        file = msgspec.msgpack.decode(content, type=_File)
    except UNDECODABLE:
        return {}
    return file.kept if file.maker == maker else {}


def _save(store: Store, file: _File) -> None:
    data = msgspec.msgpack.encode(file)
    store.keep(_NAME, _checksum(data) + data)


def _checksum(data: bytes | memoryview) -> bytes:
    return zlib.crc32(data).to_bytes(_SUM, "big")
