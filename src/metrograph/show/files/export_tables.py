"""Runs as tables, one for each kind of record that a run has: for spreadsheets, and typed for databases."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable, Iterator, Mapping, Sequence
from datetime import datetime
from functools import cache
from pathlib import Path
from types import NoneType
from typing import Any, Literal, get_args, get_type_hints

import msgspec

from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.intake.whole_logs import CUES, HEADERS, guarded
from metrograph.log.cues import Log
from metrograph.log.escapes import join_list
from metrograph.log.quantities.ranges import Range
from metrograph.run import noted, records
from metrograph.run.disks import Layout
from metrograph.run.records import Run

Type = Literal["text", "whole", "number", "moment", "truth"]
Value = str | int | float | datetime | None
Row = tuple[Value, ...]


class ExportTable(msgspec.Struct, frozen=True):
    """A table. columns: their types by name, in order; rows: what a run has of it."""

    columns: Mapping[str, Type]
    rows: Callable[[Run], Iterator[Row]]


_TYPES: dict[Any, Type] = {
    str: "text", int: "whole", float: "number", bool: "truth", datetime: "moment", tuple[str, ...]: "text",
}  # fmt: skip
"""What a field of a record becomes; a range becomes two columns, and records within a record none."""


def _columns(record: type[msgspec.Struct]) -> dict[str, Type]:
    """The columns that the fields of a record make, in their order."""
    hints, columns = get_type_hints(record), dict[str, Type]()
    for field, name in zip(record.__struct_fields__, record.__struct_encode_fields__, strict=True):
        kind = _kind(hints[field])
        if kind is Range:
            columns |= {f"{name}_{end}": "number" for end in ("low", "high")}
        elif kind in _TYPES:
            columns[name] = _TYPES[kind]
    return columns


def _kind(hint: Any) -> Any:
    """What a field holds, beside nothing; one of a set of words is a text."""
    kinds = [kind for kind in get_args(hint) if kind is not NoneType] if NoneType in get_args(hint) else [hint]
    return str if isinstance((get_args(kinds[0]) or (None,))[0], str) else kinds[0]


def _cells(record: msgspec.Struct) -> Iterator[Value]:
    """What stands in the columns of a record."""
    hints = _hints(type(record))
    for field in record.__struct_fields__:
        value, kind = getattr(record, field), hints[field]
        if kind is Range:
            yield from (None, None) if value is None else (value.low, value.high)
        elif kind in _TYPES:
            yield (join_list(value) or None) if isinstance(value, tuple) else value


@cache
def _hints(record: type[msgspec.Struct]) -> dict[str, Any]:
    return {name: _kind(hint) for name, hint in get_type_hints(record).items()}


_RUN: dict[str, Type] = {"run": "text", "release": "text"}


def _table(record: type[msgspec.Struct], field: str) -> ExportTable:
    """A row for each record that a run has in a field."""

    def rows(run: Run) -> Iterator[Row]:
        for item in getattr(run, field):
            yield (run.run, run.release, *_cells(item))

    return ExportTable(_RUN | _columns(record), rows)


def _runs(run: Run) -> Iterator[Row]:
    yield (
        run.run, run.release, run.rig, run.begun, run.way, run.like, run.reviewer, run.ended, len(run.attempts),
        *_cells(run.clock), *_cells(run.milestones),
    )  # fmt: skip


_RUNS: dict[str, Type] = {
    "rig": "text", "begun": "moment", "way": "text", "like": "text", "reviewer": "text", "ended": "text",
    "attempts": "whole",
}  # fmt: skip


def _screens(run: Run) -> Iterator[Row]:
    for number, screen in enumerate(run.screens, 1):
        yield (run.run, run.release, number, *_cells(screen))


def _choices(run: Run) -> Iterator[Row]:
    placed = [
        (number, screen.title, choice) for number, screen in enumerate(run.screens, 1) for choice in screen.choices
    ]
    for number, title, choice in [*placed, *((None, None, choice) for choice in run.choices)]:
        yield (run.run, run.release, number, title, *_cells(choice))


def _layouts(run: Run) -> Iterator[Row]:
    for layout, whose in ((run.layout, "installer"), (run.found, "probe")):
        if layout is not None:
            yield from ((run.run, run.release, whose, layout.method, *cells) for cells in _pieces(layout))


def _pieces(layout: Layout) -> Iterator[Row]:
    """Each part of a layout, then swap; one row without a part where neither was noted."""
    disk = layout.table, layout.disk, layout.encryption, layout.loader
    for part in layout.parts:
        yield (*disk, part.mount, part.filesystem, part.size, part.rest, None)
    if layout.swap is not None:
        yield (*disk, "swap", layout.swap.how, layout.swap.size, None, layout.swap.hibernate)
    elif not layout.parts:
        yield (*disk, None, None, None, None, None)


_LAYOUTS: dict[str, Type] = {
    "whose": "text", "method": "text", "table": "text", "disk": "whole", "encryption": "text", "loader": "text",
    "part": "text", "holds": "text", "size": "whole", "rest": "truth", "hibernate": "truth",
}  # fmt: skip

TABLES: dict[str, ExportTable] = {
    "runs": ExportTable(_RUN | _RUNS | _columns(records.Clock) | _columns(records.Milestones), _runs),
    "attempts": _table(records.Attempt, "attempts"),
    "screens": ExportTable(_RUN | {"screen": "whole"} | _columns(records.Screen), _screens),
    "choices": ExportTable(_RUN | {"screen": "whole", "title": "text"} | _columns(records.Choice), _choices),
    "layouts": ExportTable(_RUN | _LAYOUTS, _layouts),
    "issues": _table(records.Issue, "issues"),
    "readings": _table(noted.Reading, "readings"),
    "facts": _table(noted.Fact, "facts"),
    "checks": _table(noted.Check, "checks"),
    "tasks": _table(noted.Task, "tasks"),
    "software": _table(noted.Software, "software"),
    "added": _table(noted.Addition, "added"),
    "tweaks": _table(noted.Tweak, "tweaks"),
    "ratings": _table(noted.Rating, "ratings"),
    "verdicts": _table(noted.Verdict, "verdicts"),
    "todos": _table(noted.Todo, "todos"),
    "questions": _table(noted.Question, "questions"),
    "remarks": _table(noted.Remark, "remarks"),
    "beside": _table(noted.Beside, "beside"),
    "same_as": _table(noted.SameAs, "same_as"),
    "notes": _table(noted.Note, "notes"),
    "asides": _table(noted.Aside, "asides"),
    "shots": _table(noted.Shot, "shots"),
}
"""All tables that are made from runs, by name."""


def to_csv(name: str, runs: Sequence[Run]) -> str:
    """One of the tables as CSV (RFC 4180), with a heading; no cell can be taken for a formula."""
    table = TABLES[name]
    return _written(tuple(table.columns), (row for run in runs for row in table.rows(run)))


def logs_to_csv(logs: Sequence[tuple[str, Log]]) -> tuple[str, str]:
    """The logs as two tables: headers, and cues with milliseconds since ``begun`` and fields as a JSON list."""
    heads = (
        (run, log.header.release, log.header.rig, log.header.begun, json.dumps(log.header.others)) for run, log in logs
    )
    cues = (
        (run, number, cue.at, cue.verb, cue.name, cue.text, json.dumps(cue.fields))
        for run, log in logs
        for number, cue in enumerate(log.cues, 1)
    )
    return _written(HEADERS, heads), _written(CUES, cues)


def _written(columns: Sequence[str], rows: Iterator[Row]) -> str:
    buffer = io.StringIO()
    writer = csv.writer(buffer, lineterminator="\r\n")
    writer.writerow(columns)
    for row in rows:
        writer.writerow([_cell(value) for value in row])
    return buffer.getvalue()


def _cell(value: Value) -> str:
    if value is None:
        return ""
    if isinstance(value, str):
        return guarded(value)
    if isinstance(value, datetime):
        return value.isoformat()
    if isinstance(value, bool):
        return str(value).lower()
    return f"{value:.15g}" if isinstance(value, float) else str(value)


def write_parquet(runs: Sequence[Run], folder: Path) -> int:
    """Writes all tables below a folder, ``TABLE/release=ID/part-0.parquet``; returns how many rows there are.

    Raises MetrographError when pyarrow is not installed, NotWritableError when the folder cannot be written to.
    """
    try:
        from pyarrow import dataset
    except ImportError as error:
        raise MetrographError(
            "Parquet needs pyarrow, which is not installed: pip install 'metrograph[parquet]'"
        ) from error
    count = 0
    for name, table in TABLES.items():
        made = _arrow(table, runs)
        count += made.num_rows
        try:
            dataset.write_dataset(
                made, folder / name, format="parquet", partitioning=["release"], partitioning_flavor="hive",
                existing_data_behavior="delete_matching",
            )  # fmt: skip
        except OSError as error:
            raise NotWritableError(f"{folder / name} cannot be written: {error}") from error
    return count


def _arrow(table: ExportTable, runs: Sequence[Run]) -> Any:
    """One of the tables in columns of its types."""
    import pyarrow as pa

    types = {
        "text": pa.string(), "whole": pa.int64(), "number": pa.float64(),
        "moment": pa.timestamp("ms", tz="UTC"), "truth": pa.bool_(),
    }  # fmt: skip
    columns = list(zip(*(row for run in runs for row in table.rows(run)), strict=True)) or [()] * len(table.columns)
    made = {
        name: pa.array(values, types[kind]) for (name, kind), values in zip(table.columns.items(), columns, strict=True)
    }
    return pa.table(made)
