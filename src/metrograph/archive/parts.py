"""The parts of an archive: each a file in every table, made from some logs, and known by a list that is written last.

A part without its list is not there, so that nobody sees a half of one; a part is never changed. Two builders may make
parts of the same logs: the rows of a log count in the first part only, by the parts' names.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property

import msgspec

from metrograph.archive.place import HALF, ArchivePlace
from metrograph.archive.tables import SCHEMA, TABLES
from metrograph.core.errors import MetrographError

_LISTS, _TABLES = "parts", "tables"
_LARGEST_LIST = 64 << 20


class PartFile(msgspec.Struct, frozen=True):
    """A file of a part: its table, its name, the SHA-256 of its bytes, how many rows it has."""

    table: str
    name: str
    sha256: str
    rows: int


class ArchivePart(msgspec.Struct, frozen=True):
    """A part.

    logs: that it has rows of; bad: logs that cannot be read, and why; replaces: parts that it is made from.
    """

    schema: int
    logs: tuple[str, ...]
    files: tuple[PartFile, ...]
    bad: dict[str, str] = {}
    replaces: tuple[str, ...] = ()


class Catalogue(msgspec.Struct, frozen=True, dict=True):
    """All parts that are there and that none has replaced, by name; damaged: lists that cannot be read, and why."""

    parts: dict[str, ArchivePart]
    replaced: frozenset[str] = frozenset()
    damaged: Mapping[str, str] = {}

    @cached_property
    def logs(self) -> frozenset[str]:
        """All logs that have rows."""
        return frozenset().union(*(part.logs for part in self.parts.values()))

    @cached_property
    def bad(self) -> dict[str, str]:
        """The logs that could not be read, and why."""
        return {log: why for part in self.parts.values() for log, why in part.bad.items()}

    @cached_property
    def doubled(self) -> dict[str, list[str]]:
        """For each part the logs of which an earlier one has the rows."""
        if len(self.logs) == sum(len(part.logs) for part in self.parts.values()):
            return {}  # as is usual, and seen much faster
        seen: set[str] = set()
        doubled = {}
        for name, part in self.parts.items():
            again = seen.intersection(part.logs)
            if again:
                doubled[name] = sorted(again)
            seen.update(part.logs)
        return doubled

    def files(self, table: str) -> list[str]:
        """The files of a table that have any rows."""
        return [file.name for part in self.parts.values() for file in part.files if file.table == table and file.rows]


def catalogue(place: ArchivePlace) -> Catalogue:
    """What parts an archive has, from its lists."""
    parts: dict[str, ArchivePart] = {}
    damaged: dict[str, str] = {}
    for path in place.names(_LISTS):
        if path.endswith(HALF):
            continue  # a writer is at it, or was stopped
        name = path.rpartition("/")[2].removesuffix(".json")
        try:
            part = msgspec.json.decode(place.read(path, _LARGEST_LIST), type=ArchivePart)
        except (msgspec.DecodeError, MetrographError) as error:
            damaged[path] = str(error)
            continue
        if part.schema > SCHEMA:
            raise MetrographError(f"{place.url} was built by a newer metrograph (tables of version {part.schema})")
        if all(file.table in TABLES and file.name == table_path(file.table, name) for file in part.files):
            parts[name] = part
        else:
            damaged[path] = "it names files that are not those of its part"
    replaced = frozenset(name for part in parts.values() for name in part.replaces)
    return Catalogue({name: part for name, part in parts.items() if name not in replaced}, replaced, damaged)


def part_name(logs: Iterable[str], replaces: Sequence[str] = ()) -> str:
    """What a part goes by, from the logs that it is made from: who makes it again makes the same one."""
    return hashlib.sha256("\n".join([str(SCHEMA), *sorted(logs), *sorted(replaces)]).encode()).hexdigest()[:32]


def table_path(table: str, name: str) -> str:
    """Where the file of a part lies."""
    return f"{_TABLES}/{table}/{name}.parquet"


def table_files(place: ArchivePlace) -> list[str]:
    """All files among the tables, of parts and of none."""
    return place.names(_TABLES)


def list_path(name: str) -> str:
    """Where the list of a part lies."""
    return f"{_LISTS}/{name}.json"


def put_part(place: ArchivePlace, name: str, part: ArchivePart, data: Mapping[str, bytes]) -> None:
    """Puts a part there, its files first and its list last. data: the bytes of each table."""
    for table in TABLES:
        place.add(table_path(table, name), data[table])
    place.add(list_path(name), msgspec.json.encode(part))
