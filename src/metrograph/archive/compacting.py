"""Makes few large parts of many small ones, sorted so that a question looks at few of their rows."""

from __future__ import annotations

import hashlib
import io
from collections.abc import Iterator, Sequence
from typing import Any

import msgspec

from metrograph.archive.building import to_parquet
from metrograph.archive.parts import (
    ArchivePart,
    Catalogue,
    PartFile,
    catalogue,
    list_path,
    part_name,
    put_part,
    table_path,
)
from metrograph.archive.place import EXTRA, LARGEST_TABLE, ArchivePlace
from metrograph.archive.shared_logs import taken_back
from metrograph.archive.tables import SCHEMA, TABLES, schema_of
from metrograph.core.errors import MetrographError, needs

_MOST = 100_000  # logs of a part that is made


class Compacted(msgspec.Struct, frozen=True):
    """How many parts there were, and are; removed: files of parts that were replaced."""

    before: int
    after: int
    removed: int = 0


def compact(place: ArchivePlace, sweep: bool = False) -> Compacted:
    """Merges parts. What they were made from stays until ``sweep`` takes away what no list names any longer."""
    known = catalogue(place)
    groups = [group for group in _groups(known) if len(group) > 1]
    for names in groups:
        _merge(place, known, names)
    after = catalogue(place)
    removed = _sweep(place, after) if sweep else 0
    return Compacted(len(known.parts), len(after.parts), removed)


def _groups(known: Catalogue) -> Iterator[list[str]]:
    """Parts that are merged into one each."""
    group: list[str] = []
    size = 0
    for name, part in known.parts.items():
        if group and size + len(part.logs) > _MOST:
            yield group
            group, size = [], 0
        group.append(name)
        size += len(part.logs)
    yield group


def _merge(place: ArchivePlace, known: Catalogue, names: Sequence[str]) -> None:
    gone = taken_back(place)
    parts = [known.parts[name] for name in names]
    logs = sorted({log for part in parts for log in part.logs} - gone)
    name = part_name(logs, names)
    data, files = {}, []
    for table in TABLES:
        merged = _sorted(_table(place, known, names, table, gone), table)
        data[table] = to_parquet(merged)
        digest = hashlib.sha256(data[table]).hexdigest()
        files.append(PartFile(table, table_path(table, name), digest, merged.num_rows))
    bad = {log: why for part in parts for log, why in part.bad.items() if log not in gone}
    put_part(place, name, ArchivePart(SCHEMA, tuple(logs), tuple(files), bad, tuple(names)), data)


def _table(place: ArchivePlace, known: Catalogue, names: Sequence[str], table: str, gone: frozenset[str]) -> Any:
    """The rows of some parts, of each log once, and none of those that were taken back."""
    pa, compute = needs("pyarrow", EXTRA), needs("pyarrow.compute", EXTRA)
    pieces = []
    for name in names:
        file = next((file for file in known.parts[name].files if file.table == table), None)
        read = schema_of(table).empty_table() if file is None else read_table(place, file)
        left_out = [*known.doubled.get(name, ()), *gone]
        if left_out:
            read = read.filter(compute.invert(compute.is_in(read["log"], pa.array(left_out, pa.string()))))
        pieces.append(read)
    return pa.concat_tables(pieces, promote_options="default").select(list(TABLES[table])).cast(schema_of(table))


def read_table(place: ArchivePlace, file: PartFile) -> Any:
    """A file of a part, with all columns that its table has now; raises MetrographError where it is not as listed."""
    pa, parquet = needs("pyarrow", EXTRA), needs("pyarrow.parquet", EXTRA)
    data = place.read(file.name, LARGEST_TABLE)
    if hashlib.sha256(data).hexdigest() != file.sha256:
        raise MetrographError(f"{place.url}: {file.name} is not as it was built; “metrograph archive check” tells more")
    read = parquet.read_table(io.BytesIO(data))
    for field in schema_of(file.table):
        if field.name not in read.column_names:  # a column that came later
            read = read.append_column(field, pa.nulls(read.num_rows, field.type))
    return read


def _sorted(table: Any, name: str) -> Any:
    by = ["distribution", "release", "log"] if name == "runs" else ["name", "log"] if name == "figures" else ["log"]
    return table.sort_by([(column, "ascending") for column in by])


def _sweep(place: ArchivePlace, known: Catalogue) -> int:
    """Takes away the files of replaced parts, the list last."""
    removed = 0
    for name in sorted(known.replaced):
        for path in [*(table_path(table, name) for table in TABLES), list_path(name)]:
            if place.has(path):
                place.remove(path)
                removed += 1
    return removed
