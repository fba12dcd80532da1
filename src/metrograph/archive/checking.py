"""Looks through an archive for every kind of damage, and names it."""

from __future__ import annotations

import hashlib
import io
from collections.abc import Iterable, Iterator
from enum import StrEnum

import msgspec

from metrograph.archive.parts import Catalogue, catalogue, table_files
from metrograph.archive.place import EXTRA, HALF, LARGEST_TABLE, ArchivePlace
from metrograph.archive.shared_logs import log_names, read_log, taken_back
from metrograph.archive.tables import TABLES
from metrograph.core.errors import MetrographError, needs

_FOLDERS = frozenset({"logs", "parts", "tables", "tombstones"})


class Damage(StrEnum):
    """What may be wrong with a file of an archive."""

    CHANGED = "changed"
    MISSING = "missing"
    HALF_WRITTEN = "half-written"
    FOREIGN = "foreign"
    UNREADABLE = "unreadable"
    WITHOUT_ROWS = "without rows"
    WITHOUT_LIST = "without a list"
    DOUBLED = "doubled"


class FoundDamage(msgspec.Struct, frozen=True):
    """Something that is wrong. harmless: whether no answer is another for it."""

    file: str
    damage: Damage
    detail: str = ""
    harmless: bool = False


class Checked(msgspec.Struct, frozen=True):
    """What an archive has, and what is wrong with it."""

    logs: int
    taken_back: int
    parts: int
    found: tuple[FoundDamage, ...]


def check(place: ArchivePlace) -> Checked:
    """Every checksum, every list, every name."""
    known, logs, gone = catalogue(place), log_names(place), taken_back(place)
    found = [*_names(place), *_lists(known), *_logs(place, logs, known, gone), *_tables(place, known)]
    return Checked(len(logs), len(gone), len(known.parts), tuple(found))


def _names(place: ArchivePlace) -> Iterator[FoundDamage]:
    """Files that no writer has finished, and such as belong to no archive."""
    for name in place.names(""):
        folder, _, file = name.rpartition("/")
        if file.endswith(HALF):
            yield FoundDamage(name, Damage.HALF_WRITTEN, "a writer was stopped; it can be thrown away", harmless=True)
        elif folder.partition("/")[0] not in _FOLDERS or (folder.startswith("logs") and not file.endswith(".metro")):
            yield FoundDamage(name, Damage.FOREIGN, harmless=True)


def _lists(known: Catalogue) -> Iterator[FoundDamage]:
    for name, why in known.damaged.items():
        yield FoundDamage(name, Damage.UNREADABLE, why)
    for name, logs in known.doubled.items():
        yield FoundDamage(
            f"parts/{name}.json", Damage.DOUBLED, f"{len(logs)} logs have rows elsewhere, too", harmless=True
        )


def _logs(place: ArchivePlace, logs: Iterable[str], known: Catalogue, gone: frozenset[str]) -> Iterator[FoundDamage]:
    there = set(logs)
    for log in sorted(known.logs - there):
        yield FoundDamage(f"logs/{log[:2]}/{log}.metro", Damage.MISSING, "it has rows, and its log is gone")
    for log in sorted(there):
        try:
            _, faults = read_log(place, log)
        except MetrographError as error:
            changed = "bytes" in str(error)
            yield FoundDamage(
                f"logs/{log[:2]}/{log}.metro", Damage.CHANGED if changed else Damage.UNREADABLE, str(error)
            )
            continue
        if faults:
            detail = f"{len(faults)} faults, the first in line {faults[0].line}: {faults[0].message}"
            yield FoundDamage(f"logs/{log[:2]}/{log}.metro", Damage.UNREADABLE, detail, harmless=True)
        if log not in known.logs | known.bad.keys() | gone:
            detail = "“metrograph archive build” makes them"
            yield FoundDamage(f"logs/{log[:2]}/{log}.metro", Damage.WITHOUT_ROWS, detail, harmless=True)


def _tables(place: ArchivePlace, known: Catalogue) -> Iterator[FoundDamage]:
    """The files of all parts against their lists, and those that stand in no list."""
    there = set(table_files(place))
    files = {file.name: file for part in known.parts.values() for file in part.files}
    for name, file in files.items():
        if name not in there:
            yield FoundDamage(name, Damage.MISSING)
            continue
        try:
            data = place.read(name, LARGEST_TABLE)
        except MetrographError as error:
            yield FoundDamage(name, Damage.UNREADABLE, str(error))
            continue
        if hashlib.sha256(data).hexdigest() != file.sha256:
            yield FoundDamage(name, Damage.CHANGED)
        elif file.table not in TABLES or _rows(data) != file.rows:
            yield FoundDamage(name, Damage.UNREADABLE, f"{file.rows} rows are listed")
    for name in sorted(there - files.keys()):
        if not name.endswith(HALF) and not known.replaced & {name.rpartition("/")[2].removesuffix(".parquet")}:
            yield FoundDamage(name, Damage.WITHOUT_LIST, "its part was not finished, or is none", harmless=True)


def _rows(data: bytes) -> int:
    parquet = needs("pyarrow.parquet", EXTRA)
    try:
        return int(parquet.ParquetFile(io.BytesIO(data)).metadata.num_rows)
    except (OSError, ValueError):
        return -1
