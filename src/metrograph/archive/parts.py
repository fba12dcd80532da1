"""The parts of an archive: each has a file in every table, derived from some logs, and a list that is written last.

Files and lists are named by what is in them, so that none is ever changed, and none is another's. A list says what has
derived its part: rows that this program derives count before those of others, and the rows of a log count once.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property

import msgspec

from metrograph import __version__
from metrograph.archive.deriving import DERIVATION, name_of
from metrograph.archive.place import HALF, ArchivePlace
from metrograph.archive.shared_logs import is_name
from metrograph.archive.tables import SCHEMA, TABLES
from metrograph.core.errors import UNDECODABLE, MetrographError

_LISTS, _TABLES = "parts", "tables"


class TableFile(msgspec.Struct, frozen=True):
    """The file that a part has in a table: the SHA-256 of its bytes, how many rows it has."""

    sha256: str
    rows: int


class ArchivePart(msgspec.Struct, frozen=True):
    """A part.

    derived_by: which sources; program: of which version of this program; first, last: of its logs, by name.
    files: by table.
    beside: parts that its builder knew, none of whose logs it took.
    """

    schema: int
    derived_by: str
    program: str
    first: str
    last: str
    files: dict[str, TableFile]
    beside: frozenset[str] = frozenset()

    @property
    def logs(self) -> int:
        """How many logs it has rows of: each has one row among the runs."""
        return self.files["runs"].rows

    @property
    def is_of_later(self) -> bool:
        """Whether a later version of this program has derived it."""
        return _later(self.program) < _later(__version__)

    @property
    def is_own(self) -> bool:
        """Whether this program would derive the same rows."""
        return self.derived_by == DERIVATION


class Catalogue(msgspec.Struct, frozen=True, dict=True):
    """All parts of an archive by name, first those that count before others.

    repeated: parts of which another has all logs; damaged: lists that cannot be read, and why; foreign: lists of
    tables of another version, and of which.
    """

    parts: dict[str, ArchivePart]
    repeated: frozenset[str] = frozenset()
    damaged: Mapping[str, str] = {}
    foreign: Mapping[str, int] = {}

    @cached_property
    def counted(self) -> dict[str, ArchivePart]:
        """The parts whose rows count, but for those of logs of which one before it has rows."""
        return {name: part for name, part in self.parts.items() if name not in self.repeated}

    @property
    def complaint(self) -> str | None:
        """What a reader of the tables should know; None where all is well."""
        wrong = [f"{len(self.damaged)} lists of parts cannot be read"] if self.damaged else []
        wrong += [f"{len(self.foreign)} are of another version of this program"] if self.foreign else []
        return " and ".join(wrong) or None


def catalogue(place: ArchivePlace) -> Catalogue:
    """What parts an archive has, from its lists."""
    parts: dict[str, ArchivePart] = {}
    damaged: dict[str, str] = {}
    foreign: dict[str, int] = {}
    for path in place.names(_LISTS):
        if path.endswith(HALF):
            continue  # a writer is at it, or was stopped
        try:
            part = _read_list(place, path)
        except (*UNDECODABLE, MetrographError) as error:
            damaged[path] = str(error)
            continue
        if isinstance(part, int):
            foreign[path] = part
        else:
            parts[path[len(_LISTS) + 1 :].removesuffix(".json")] = part
    parts = dict(sorted(parts.items(), key=_order))
    return Catalogue(parts, frozenset(_repeated(parts)), damaged, foreign)


def _read_list(place: ArchivePlace, path: str) -> ArchivePart | int:
    """A part by its list, or the version of its tables where it is another; raises MsgspecError or MetrographError."""
    data = place.read(path)
    schema = msgspec.json.decode(data, type=_Versioned).schema
    if schema != SCHEMA:
        return schema
    part = msgspec.json.decode(data, type=ArchivePart)
    if path != list_path(name_of(data)):
        raise MetrographError("its bytes are not those that it was named by")
    if part.files.keys() != TABLES.keys() or not all(is_name(file.sha256) for file in part.files.values()):
        raise MetrographError("it does not name one file for each table")
    if not (is_name(part.first) and is_name(part.last) and part.first <= part.last and part.logs > 0):
        raise MetrographError("it does not say of which logs it has rows")
    return part


class _Versioned(msgspec.Struct):
    """The one field that lists of every version have."""

    schema: int


def _order(named: tuple[str, ArchivePart]) -> tuple[object, ...]:
    """Sorts parts: those that this program would derive, then those of the latest; of these the largest."""
    name, part = named
    return (not part.is_own, _later(part.program), -part.logs, name)


def _later(program: str) -> tuple[int, ...]:
    """Sorts versions, the latest first."""
    return tuple(-int(number) for number in re.findall(r"\d{1,9}", program))


def _repeated(parts: Mapping[str, ArchivePart]) -> Iterator[str]:
    """Parts that have the same runs as one before them: another builder made them, or an older program."""
    seen: set[str] = set()
    for name, part in parts.items():
        if part.files["runs"].sha256 in seen:
            yield name
        seen.add(part.files["runs"].sha256)


def overlapping(parts: Mapping[str, ArchivePart]) -> list[str]:
    """Those of some parts that may have logs in common with another, in the order in which they are given."""
    found: set[str] = set()
    reached: list[str] = []  # parts that begin before the one in hand, and end behind its beginning
    for name in sorted(parts, key=lambda each: parts[each].first):
        part = parts[name]
        reached = [each for each in reached if parts[each].last >= part.first]
        shared = [each for each in reached if each not in part.beside and name not in parts[each].beside]
        found |= {name, *shared} if shared else set()
        reached.append(name)
    return [name for name in parts if name in found]


def made_part(logs: Iterable[str], files: dict[str, TableFile], beside: Iterable[str] = ()) -> ArchivePart:
    """The part that this program makes of some logs. beside: parts that have none of them."""
    names = sorted(logs)
    return ArchivePart(SCHEMA, DERIVATION, __version__, names[0], names[-1], files, frozenset(beside))


def put_part(place: ArchivePlace, part: ArchivePart, data: Mapping[str, bytes]) -> str:
    """Puts a part there, its files first and its list last; its name. data: the bytes of each table."""
    for table, file in part.files.items():
        place.add(table_path(table, file.sha256), data[table])
    listed = msgspec.json.encode(part, order="deterministic")
    name = name_of(listed)
    place.add(list_path(name), listed)
    return name


def table_path(table: str, name: str) -> str:
    """Where a file of a table lies."""
    return f"{table_folder(table)}/{name}.parquet"


def table_folder(table: str) -> str:
    """Where all files of a table lie."""
    return f"{_TABLES}/{table}"


def table_files(place: ArchivePlace) -> list[str]:
    """All files among the tables, of parts and of none."""
    return place.names(_TABLES)


def list_path(name: str) -> str:
    """Where the list of a part lies."""
    return f"{_LISTS}/{name}.json"
