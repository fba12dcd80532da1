"""Looks through an archive for every kind of damage, and names it."""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator, Sequence
from enum import StrEnum
from functools import partial
from typing import Any

import msgspec

from metrograph.archive.building import ALL_CORES, Workers, derive, logs_of
from metrograph.archive.deriving import ChangedLogError, name_of
from metrograph.archive.parts import ArchivePart, Catalogue, catalogue, list_path, table_files, table_path
from metrograph.archive.place import EXTRA, HALF, LARGEST_TABLE, ArchivePlace
from metrograph.archive.shared_logs import log_names, log_path, read_log, taken_back
from metrograph.archive.tables import TABLES
from metrograph.core.errors import MetrographError, needs

FOLDERS = frozenset({"logs", "parts", "tables", "tombstones", "aside"})
ASIDE = "aside"
"""Where logs lie whose bytes are not those that they were named by."""
_AT_A_TIME = 500  # logs of a task


class Damage(StrEnum):
    """A kind of damage that a file of an archive may have."""

    CHANGED = "changed"
    MISSING = "missing"
    HALF_WRITTEN = "half-written"
    FOREIGN = "foreign"
    UNREADABLE = "unreadable"
    FORGED = "not what its logs say"
    OUTDATED = "of another version"
    WITHOUT_ROWS = "without rows"
    WITHOUT_LIST = "without a list"
    REPEATED = "repeated"


class FoundDamage(msgspec.Struct, frozen=True):
    """Something that is wrong. harmless: whether no answer is another for it."""

    file: str
    damage: Damage
    detail: str = ""
    harmless: bool = False


class Checked(msgspec.Struct, frozen=True):
    """The result of a check: how much an archive has, and all its damage."""

    logs: int
    taken_back: int
    parts: int
    found: tuple[FoundDamage, ...]


def check(place: ArchivePlace, workers: Workers = ALL_CORES, quick: bool = False) -> Checked:
    """Every checksum, every list, every name; and whether the rows are those that the logs say.

    quick: rows are not derived anew, which takes as long as building them.
    """
    known, logs, gone = catalogue(place), log_names(place), taken_back(place)
    found = [*_names(place), *_lists(known)]
    pieces = [tuple(logs[start : start + _AT_A_TIME]) for start in range(0, len(logs), _AT_A_TIME)]
    for each in workers.each(partial(_logs, place.url), pieces, "checking logs"):
        found += each
    with_rows: dict[str, list[str]] = {}
    for name, has, each in workers.each(
        partial(_part, place.url, quick), list(known.counted.items()), "checking tables"
    ):
        with_rows[name] = has
        found += each
    found += _rows(known, with_rows, set(logs), gone)
    found += _without_list(place, known)
    order = sorted(found, key=lambda each: each.file)
    return Checked(len(logs), len(gone), len(known.counted), tuple(order))


def _names(place: ArchivePlace) -> Iterator[FoundDamage]:
    """Files that no writer has finished, and such as belong to no archive."""
    for name in place.names(""):
        folder, _, file = name.rpartition("/")
        if file.endswith(HALF):
            yield FoundDamage(name, Damage.HALF_WRITTEN, "a writer is at it, or was stopped", harmless=True)
        elif folder.partition("/")[0] not in FOLDERS or (folder.startswith("logs") and not file.endswith(".metro")):
            yield FoundDamage(name, Damage.FOREIGN, harmless=True)


def _lists(known: Catalogue) -> Iterator[FoundDamage]:
    for name, why in known.damaged.items():
        yield FoundDamage(name, Damage.UNREADABLE, why)
    for name, schema in known.foreign.items():
        yield FoundDamage(name, Damage.OUTDATED, f"tables of version {schema} are not read", harmless=True)
    for name in known.repeated:
        yield FoundDamage(list_path(name), Damage.REPEATED, "another part has the same logs", harmless=True)


def _logs(url: str, logs: Iterable[str]) -> list[FoundDamage]:
    place, found = ArchivePlace(url), []
    for log in logs:
        try:
            _, faults = read_log(place, log)
        except ChangedLogError as error:
            found.append(FoundDamage(log_path(log), Damage.CHANGED, str(error)))
        except MetrographError as error:
            found.append(FoundDamage(log_path(log), Damage.UNREADABLE, str(error)))
        else:
            if faults:
                detail = f"{len(faults)} faults, the first in line {faults[0].line}: {faults[0].message}"
                found.append(FoundDamage(log_path(log), Damage.UNREADABLE, detail, harmless=True))
    return found


def _part(url: str, quick: bool, named: tuple[str, ArchivePart]) -> tuple[str, list[str], list[FoundDamage]]:
    """What is wrong with a part, and the logs that it has rows of."""
    place, (name, part) = ArchivePlace(url), named
    found = [each for table in TABLES for each in _file(place, part, table)]
    if found:
        return name, [], found
    logs = logs_of(place, part)
    if (part.first, part.last, part.logs) != (min(logs), max(logs), len(set(logs))):
        found.append(FoundDamage(list_path(name), Damage.FORGED, "it has rows of other logs than it says"))
    elif not quick and part.is_own:
        found += _forged(place, name, part, logs)
    return name, logs, found


def _file(place: ArchivePlace, part: ArchivePart, table: str) -> Iterator[FoundDamage]:
    """A file of a part against its list."""
    file = part.files[table]
    path = table_path(table, file.sha256)
    if not place.has(path):
        yield FoundDamage(path, Damage.MISSING)
        return
    try:
        data = place.read(path, LARGEST_TABLE)
    except MetrographError as error:
        yield FoundDamage(path, Damage.UNREADABLE, str(error))
        return
    if name_of(data) != file.sha256:
        yield FoundDamage(path, Damage.CHANGED)
    elif (read := _table(data)) is None or read.num_rows != file.rows or set(read.column_names) != set(TABLES[table]):
        yield FoundDamage(path, Damage.UNREADABLE, f"{file.rows} rows of the table “{table}” are listed")


def _forged(place: ArchivePlace, name: str, part: ArchivePart, logs: Sequence[str]) -> Iterator[FoundDamage]:
    """The tables of a part that are not those that its logs say; of logs that are gone nobody can tell."""
    there = [log for log in logs if place.has(log_path(log))]
    made = derive(place, there)
    for table, file in part.files.items():
        if made.files[table] == file:
            continue
        # The same rows may be other bytes where another version of what writes them was used.
        listed = _table(place.read(table_path(table, file.sha256), LARGEST_TABLE))
        if not _of_logs(listed, made.logs).equals(_table(made.data[table])):
            yield FoundDamage(list_path(name), Damage.FORGED, f"its table “{table}” has other rows")


def _of_logs(table: Any, logs: Sequence[str]) -> Any:
    pa, compute = needs("pyarrow", EXTRA), needs("pyarrow.compute", EXTRA)
    return table.filter(compute.is_in(table["log"], pa.array(logs, pa.string())))


def _table(data: bytes) -> Any:
    """What a file holds; None where it is no table."""
    pa, parquet = needs("pyarrow", EXTRA), needs("pyarrow.parquet", EXTRA)
    try:
        return parquet.read_table(io.BytesIO(data))
    except (pa.ArrowException, OSError, ValueError):
        return None


def _rows(
    known: Catalogue, with_rows: dict[str, list[str]], logs: set[str], gone: frozenset[str]
) -> Iterator[FoundDamage]:
    """Logs with rows that are gone, that have none, and parts that add nothing to those that count before them."""
    seen: set[str] = set()
    for name, part in known.counted.items():
        mine = set(with_rows[name])
        if mine and mine <= seen:
            yield FoundDamage(list_path(name), Damage.REPEATED, "other parts have all its logs", harmless=True)
        elif not part.is_own:
            yield FoundDamage(
                list_path(name), Damage.OUTDATED, "“metrograph archive build” derives its logs anew", harmless=True
            )
        seen |= mine
    for name, part in known.counted.items():
        if any(set(with_rows[name]) & set(with_rows.get(each, ())) for each in part.beside):
            yield FoundDamage(list_path(name), Damage.FORGED, "it has logs of a part that it is said to have none of")
    for log in sorted(seen - logs):
        yield FoundDamage(log_path(log), Damage.MISSING, "it has rows, and its log is gone")
    for log in sorted(logs - seen - gone):
        yield FoundDamage(log_path(log), Damage.WITHOUT_ROWS, "“metrograph archive build” makes them", harmless=True)


def _without_list(place: ArchivePlace, known: Catalogue) -> Iterator[FoundDamage]:
    listed = {table_path(table, file.sha256) for part in known.parts.values() for table, file in part.files.items()}
    for name in table_files(place):
        if not name.endswith(HALF) and name not in listed:
            yield FoundDamage(name, Damage.WITHOUT_LIST, "its part was not finished, or is none", harmless=True)
