"""The logs of an archive, named by what is in them, and the tombstones of those that were taken back."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from contextlib import suppress
from typing import Any, TypeVar

import msgspec

from metrograph.archive.place import ArchivePlace
from metrograph.core.errors import MetrographError
from metrograph.log.cues import Fault, Log
from metrograph.log.lexicon import load_lexicon
from metrograph.log.reader import read_log_bytes
from metrograph.log.writer import format_log
from metrograph.privacy.gate import sift
from metrograph.run.cards import Release, Rig

Card = TypeVar("Card", Release, Rig)
_LOGS, _TOMBSTONES, _ENDING = "logs", "tombstones", ".metro"
SHARED_AS = "shared-as"
"""The line of a shared log's header that has the name of its run."""
_RIG = ("kind", "firmware", "memory", "disk", "processors")
_RELEASE = ("distribution", "version", "edition", "status", "released")
_MOST_CUES = 20_000


class Tombstone(msgspec.Struct, frozen=True):
    """That a log was taken back: by whom, and why, as they say."""

    by: str = ""
    why: str = ""


def shared_text(log: Log, run: str, reviewer: str, rig: Rig | None, release: Release | None) -> bytes:
    """A masked log as it is shared: with what its readers have no cards for, signed with a name."""
    known: dict[str, object] = {SHARED_AS: run, "reviewer": reviewer}
    known |= {f"rig-{key}": getattr(rig, key) for key in _RIG} if rig is not None else {}
    known |= {f"release-{key}": getattr(release, key) for key in _RELEASE} if release is not None else {}
    lines = tuple((key, " ".join(str(value).split())) for key, value in known.items() if value not in {None, ""})
    others = tuple(line for line in log.header.others if line[0] not in known)
    return format_log(msgspec.structs.replace(log.header, others=(*others, *lines)), log.cues).encode()


def name_of(data: bytes) -> str:
    """What a log goes by in an archive: the SHA-256 of its bytes."""
    return hashlib.sha256(data).hexdigest()


def put(place: ArchivePlace, data: bytes) -> tuple[str, bool]:
    """Puts a log into an archive; its name, and whether it is new there."""
    name = name_of(data)
    return name, place.add(_path(name), data)


def log_names(place: ArchivePlace) -> list[str]:
    """The names of all logs, whether taken back or not; what has another name is none."""
    names = (path.rpartition("/")[2] for path in place.names(_LOGS) if path.endswith(_ENDING))
    return [name.removesuffix(_ENDING) for name in names if is_name(name.removesuffix(_ENDING))]


def is_name(name: str) -> bool:
    """Whether a log of an archive could go by this."""
    return len(name) == 64 and not set(name) - set("0123456789abcdef")


def read_log(place: ArchivePlace, name: str) -> tuple[Log, tuple[Fault, ...]]:
    """A log through the same gate as one's own; raises MetrographError where it is not what its name says."""
    data = place.read(_path(name))
    if name_of(data) != name:
        raise MetrographError("its bytes are not those that it was named by")
    log, faults = sift(*read_log_bytes(data, name, load_lexicon))
    if len(log.cues) > _MOST_CUES:
        raise MetrographError(f"it has {len(log.cues)} cues, and no run has more than {_MOST_CUES}")
    return log, faults


def circumstances(log: Log) -> tuple[Rig, Release]:
    """What a shared log says of its rig and its release; what cannot be read is left out."""
    said: Mapping[str, str] = dict(log.header.others)
    return _card(Rig, "rig-", _RIG, said), _card(Release, "release-", _RELEASE, said)


def _card(kind: type[Card], prefix: str, keys: tuple[str, ...], said: Mapping[str, str]) -> Card:
    good: dict[str, Any] = {}
    for key in keys:
        value = said.get(f"{prefix}{key}")
        if value is not None:
            with suppress(msgspec.ValidationError):
                good[key] = getattr(msgspec.convert({key: value}, kind, strict=False), key)
    return kind(**good)


def take_back(place: ArchivePlace, name: str, tombstone: Tombstone) -> bool:
    """Marks a log as taken back, which every reader honours; False where it is already."""
    return place.add(f"{_TOMBSTONES}/{name}.json", msgspec.json.encode(tombstone))


def taken_back(place: ArchivePlace) -> frozenset[str]:
    """The names of the logs that were taken back."""
    names = (path.rpartition("/")[2].removesuffix(".json") for path in place.names(_TOMBSTONES))
    return frozenset(name for name in names if is_name(name))


def _path(name: str) -> str:
    return f"{_LOGS}/{name[:2]}/{name}{_ENDING}"
