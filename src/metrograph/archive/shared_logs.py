"""The logs of an archive, named by what is in them, and the tombstones of those that were taken back."""

from __future__ import annotations

import msgspec

from metrograph.archive.deriving import RELEASE_KEYS, RIG_KEYS, SHARED_AS, name_of, parsed
from metrograph.archive.place import ArchivePlace
from metrograph.log.cues import Fault, Log
from metrograph.log.writer import format_log
from metrograph.run.cards import Release, Rig

_LOGS, _TOMBSTONES, _ENDING = "logs", "tombstones", ".metro"


class Tombstone(msgspec.Struct, frozen=True):
    """That a log was taken back: by whom, and why, as they say."""

    by: str = ""
    why: str = ""


def shared_text(log: Log, run: str, reviewer: str, rig: Rig | None, release: Release | None) -> bytes:
    """A masked log as it is shared: with what its readers have no cards for, signed with a name."""
    known: dict[str, object] = {SHARED_AS: run, "reviewer": reviewer}
    known |= {f"rig-{key}": getattr(rig, key) for key in RIG_KEYS} if rig is not None else {}
    known |= {f"release-{key}": getattr(release, key) for key in RELEASE_KEYS} if release is not None else {}
    lines = tuple((key, " ".join(str(value).split())) for key, value in known.items() if value not in {None, ""})
    others = tuple(line for line in log.header.others if line[0] not in known)
    return format_log(msgspec.structs.replace(log.header, others=(*others, *lines)), log.cues).encode()


def put(place: ArchivePlace, data: bytes) -> tuple[str, bool]:
    """Puts a log into an archive; its name, and whether it is new there."""
    name = name_of(data)
    return name, place.add(log_path(name), data)


def log_names(place: ArchivePlace) -> list[str]:
    """The names of all logs, whether taken back or not; what has another name is none."""
    names = (path.rpartition("/")[2] for path in place.names(_LOGS) if path.endswith(_ENDING))
    return [name.removesuffix(_ENDING) for name in names if is_name(name.removesuffix(_ENDING))]


def is_name(name: str) -> bool:
    """Whether something in an archive could go by this, being named by its content."""
    return len(name) == 64 and not set(name) - set("0123456789abcdef")


def read_log(place: ArchivePlace, name: str) -> tuple[Log, tuple[Fault, ...]]:
    """A log through the same gate as one's own; raises MetrographError where it is not what its name says."""
    return parsed(place.read(log_path(name)), name)


def take_back(place: ArchivePlace, name: str, tombstone: Tombstone) -> bool:
    """Marks a log as taken back, which every reader honours; False where it is already."""
    return place.add(f"{_TOMBSTONES}/{name}.json", msgspec.json.encode(tombstone))


def taken_back(place: ArchivePlace) -> frozenset[str]:
    """The names of the logs that were taken back."""
    names = (path.rpartition("/")[2].removesuffix(".json") for path in place.names(_TOMBSTONES))
    return frozenset(name for name in names if is_name(name))


def log_path(name: str) -> str:
    """Where a log lies."""
    return f"{_LOGS}/{name[:2]}/{name}{_ENDING}"
