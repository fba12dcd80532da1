"""Digests of all runs of a store, kept beside it so that a second look at ten thousand of them takes a moment.

What is kept can be thrown away at any time: it is made anew from the logs. It is never asked when a log has changed, or
the program that makes digests has. Its bytes carry a checksum.
"""

from __future__ import annotations

import gc
import hashlib
import zlib
from collections.abc import Callable, Collection, Iterable, Sequence
from functools import cache
from pathlib import Path

import msgspec

from metrograph.errors import MetrographError
from metrograph.ledgers.digests.digest import Digest, digest
from metrograph.log.cues import Fault
from metrograph.store.names import split_run
from metrograph.store.protocol import Store
from metrograph.store.reading import LogReader

_NAME = "digests"
_SUM = 4  # bytes of the checksum that the file begins with
PACKAGE = Path(__file__).parents[2]
_MAKERS = ("log", "run", "measures", "privacy", "ledgers/digests/digest.py", "visitor.py")
"""The parts of the package that say what a digest holds."""

Track = Callable[[Sequence[str], str], Iterable[str]]


class _Kept(msgspec.Struct, array_like=True):
    """A digest, and the stamp of the log it was made from."""

    stamp: tuple[int, ...]
    digest: Digest


class _File(msgspec.Struct, array_like=True):
    """All digests by run. made_by: what would make them differently, program and lexicon."""

    made_by: str
    kept: dict[str, _Kept]


def digests_of(reader: LogReader, store: Store, track: Track, releases: Collection[str] | None = None) -> list[Digest]:
    """The digests of all runs of some releases, by release and number. Logs of others are not read.

    track: goes through names and may say how far it is.
    releases: their ids; None for all.
    """
    made_by = _made_by(reader)
    stamps = store.stamps()
    kept = _load(store, made_by)
    good = {run: item for run, item in kept.items() if stamps.get(run) == item.stamp}
    wanted = {run for run in stamps if releases is None or split_run(run)[0] in releases}
    missing = sorted(wanted - good.keys(), key=split_run)
    faulty: dict[str, _Kept] = {}  # read anew each time, so that what is wrong with them is said each time
    for run in track(missing, "reading runs"):
        try:
            item = _Kept(stamps[run], digest(reader.run(run, store)))
        except MetrographError as error:
            reader.faults.append(Fault(store.label(run), 1, 1, "error", f"this log cannot be read: {error}"))
        else:
            (faulty if run in reader.faulty else good)[run] = item
    if good != kept:
        _save(store, _File(made_by, good))
    taken = good | faulty
    return [taken[run].digest for run in sorted(wanted & taken.keys(), key=split_run)]


def _made_by(reader: LogReader) -> str:
    return f"{program_digest()} {hashlib.sha256(msgspec.msgpack.encode(reader.lexicon)).hexdigest()}"


@cache
def program_digest() -> str:
    """What differs whenever a source does that has a say in what a digest of a run holds.

    It is made of their sizes and times of change, as reading them all would take longer than most ledgers do.
    """
    total = hashlib.sha256()
    for name in _MAKERS:
        place = PACKAGE / name
        for path in [place] if place.is_file() else sorted(place.rglob("*")):
            if path.suffix in {".py", ".toml"}:
                stat = path.stat()
                total.update(f"{path.relative_to(PACKAGE)} {stat.st_size} {stat.st_mtime_ns}\n".encode())
    return total.hexdigest()


def _load(store: Store, made_by: str) -> dict[str, _Kept]:
    """What was kept; nothing of what was damaged, or made by another program."""
    data = store.kept(_NAME)
    if data is None or _checksum(content := memoryview(data)[_SUM:]) != data[:_SUM]:
        return {}
    gc.disable()  # millions of small records come up, and none of them is garbage: looking for it doubles the time
    try:
        file = msgspec.msgpack.decode(content, type=_File)
    except (msgspec.MsgspecError, RecursionError):
        return {}
    finally:
        gc.freeze()
        gc.enable()
    return file.kept if file.made_by == made_by else {}


def _save(store: Store, file: _File) -> None:
    data = msgspec.msgpack.encode(file)
    store.keep(_NAME, _checksum(data) + data)


def _checksum(data: bytes | memoryview) -> bytes:
    return zlib.crc32(data).to_bytes(_SUM, "big")
