"""Digests of all runs of a logbook, kept beside it so that a second look at ten thousand of them takes a moment.

What is kept can be thrown away at any time: it is made anew from the logs, and never asked when a log has changed.
"""

from __future__ import annotations

import gc
import hashlib
import os
from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from contextlib import suppress
from pathlib import Path
from typing import Any

import msgspec

from metrograph import __version__
from metrograph.analysis.digests import digest
from metrograph.errors import MetrographError
from metrograph.logbook.files import replace_bytes
from metrograph.logbook.folder import ENDING, Logbook, split_run
from metrograph.logbook.selection import Reader
from metrograph.model.flows import Way
from metrograph.model.ledgers import Details, Digest

_FOLDER, _FILE = ".cache", "digests"
Track = Callable[[Sequence[str], str], Iterable[str]]


class _Kept(msgspec.Struct, array_like=True):
    """A digest, and the log it was made from: when that was changed, in nanoseconds, its size in bytes, its inode."""

    stamp: tuple[int, int, int]
    digest: Digest


class _Store(msgspec.Struct, array_like=True):
    """All digests by run. made_by: what would make them differently, program and lexicon."""

    made_by: str
    kept: dict[str, _Kept]


def all_digests(logbook: Logbook, reader: Reader, track: Track) -> list[Digest]:
    """The digests of all runs of a logbook, by release and number; see ``digests_of``."""
    return digests_of(logbook, reader, track, None)


def digests_of(logbook: Logbook, reader: Reader, track: Track, releases: Collection[str] | None) -> list[Digest]:
    """The digests of all runs of some releases, by release and number. Logs of others are not read.

    track: goes through names and may say how far it is.
    releases: their ids; None for all.
    """
    made_by = _made_by(reader)
    stamps = dict(_stamps(logbook))
    kept = _load(logbook, made_by)
    good = {run: each for run, each in kept.items() if stamps.get(run) == each.stamp}
    wanted = {run for run in stamps if releases is None or split_run(run)[0] in releases}
    missing = sorted(wanted - good.keys(), key=split_run)
    for run in track(missing, "reading runs"):
        with suppress(MetrographError):  # gone in between, or not to be read; lint says so
            good[run] = _Kept(stamps[run], digest(reader.run(run, logbook.log(run))))
    if missing or len(good) != len(kept):
        _save(logbook, _Store(made_by, good))
    return [good[run].digest for run in sorted(wanted & good.keys(), key=split_run)]


def _stamps(logbook: Logbook) -> Iterator[tuple[str, tuple[int, int, int]]]:
    """Every log's run with its stamp, by one walk through the folder."""
    with os.scandir(logbook.runs) as entries:
        for entry in entries:
            name = entry.name.removesuffix(ENDING)
            if name != entry.name and split_run(name)[1]:
                with suppress(OSError):
                    stat = entry.stat()
                    yield name, (stat.st_mtime_ns, stat.st_size, stat.st_ino)


def _made_by(reader: Reader) -> str:
    lexicon = msgspec.msgpack.encode(reader.lexicon)
    return f"{__version__} {hashlib.sha256(lexicon).hexdigest()} {_shape(tuple[Digest, Details, Way])}"


def _shape(kind: Any) -> str:
    """Changes when a record's fields do, so that nothing of another shape is ever read."""
    return hashlib.sha256(msgspec.json.encode(msgspec.json.schema(kind))).hexdigest()[:16]


def _load(logbook: Logbook, made_by: str) -> dict[str, _Kept]:
    gc.disable()  # millions of small records come up, and none of them is garbage: looking for it doubles the time
    try:
        store = msgspec.msgpack.decode(_place(logbook).read_bytes(), type=_Store)
    except (OSError, msgspec.MsgspecError, RecursionError):
        return {}
    finally:
        gc.freeze()
        gc.enable()
    return store.kept if store.made_by == made_by else {}


def _save(logbook: Logbook, store: _Store) -> None:
    """Keeps the digests, where that can be done; a logbook that cannot be written to is read all the same."""
    with suppress(MetrographError, OSError):
        _place(logbook).parent.mkdir(exist_ok=True)
        replace_bytes(_place(logbook), msgspec.msgpack.encode(store))


def _place(logbook: Logbook) -> Path:
    return logbook.path / _FOLDER / _FILE
