"""The tables of an archive: their columns, and the rows that a run has in each."""

from __future__ import annotations

import io
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from metrograph.archive.place import EXTRA
from metrograph.core.errors import needs
from metrograph.log.lexicon import is_after_restart
from metrograph.log.quantities.ranges import Range
from metrograph.measures.catalogue import figures_of, unit_of
from metrograph.measures.reducing import amount_of
from metrograph.run.cards import Release, Rig, parts_of
from metrograph.run.records import Run

SCHEMA = 2
"""The version of the tables and of the lists of parts; parts of another one are not read, and made anew."""

_TEXT, _COUNT, _LARGE, _FIGURE, _TRUTH, _MOMENT = "string", "int32", "int64", "float64", "bool", "timestamp"

TABLES: Mapping[str, Mapping[str, str]] = {
    "runs": {
        "log": _TEXT, "run": _TEXT, "release": _TEXT, "distribution": _TEXT, "version": _TEXT, "edition": _TEXT,
        "status": _TEXT, "released": _TEXT, "reviewer": _TEXT, "begun": _MOMENT, "ended": _TRUTH, "told": _TRUTH,
        "rig": _TEXT, "rig_kind": _TEXT, "firmware": _TEXT, "memory": _LARGE, "disk": _LARGE, "processors": _COUNT,
        "screens": _COUNT,
    },
    "figures": {"log": _TEXT, "name": _TEXT, "unit": _TEXT, "low": _FIGURE, "high": _FIGURE},
    "screens": {
        "log": _TEXT, "place": _COUNT, "title": _TEXT, "kind": _TEXT, "phase": _TEXT, "late": _TRUTH,
        "on_clock_low": _FIGURE, "on_clock_high": _FIGURE, "returns": _COUNT,
    },
    "choices": {"log": _TEXT, "screen": _COUNT, "key": _TEXT, "value": _TEXT, "preset": _TEXT, "how": _TEXT},
    "issues": {
        "log": _TEXT, "name": _TEXT, "summary": _TEXT, "severity": _TEXT, "area": _TEXT, "phase": _TEXT,
        "screen": _TEXT, "fixed": _TRUTH, "fix": _TEXT, "cost_low": _FIGURE, "cost_high": _FIGURE,
    },
    "readings": {
        "log": _TEXT, "name": _TEXT, "unit": _TEXT, "state": _TEXT, "load": _TEXT, "low": _FIGURE, "high": _FIGURE,
        "said": _TEXT,
    },
    "checks": {"log": _TEXT, "name": _TEXT, "result": _TEXT, "condition": _TEXT},
    "software": {
        "log": _TEXT, "kind": _TEXT, "item": _TEXT, "version": _TEXT, "there": _TRUTH, "source": _TEXT,
    },
}  # fmt: skip
"""Every table with its columns; times in seconds, sizes in bytes, high is null where nobody knows."""

Row = tuple[Any, ...]


def schema_of(table: str) -> Any:
    """The Arrow schema of a table."""
    pa = needs("pyarrow", EXTRA)
    types = {_MOMENT: pa.timestamp("ms", tz="UTC")} | {
        name: getattr(pa, name)() for name in (_TEXT, _COUNT, _LARGE, _FIGURE)
    } | {_TRUTH: pa.bool_()}  # fmt: skip
    return pa.schema([(name, types[kind]) for name, kind in TABLES[table].items()])


def arrow(table: str, rows: Sequence[Row]) -> Any:
    """Rows as an Arrow table."""
    pa = needs("pyarrow", EXTRA)
    columns = list(zip(*rows, strict=True)) or [()] * len(TABLES[table])
    schema = schema_of(table)
    return pa.table([pa.array(column, field.type) for column, field in zip(columns, schema, strict=True)], schema)


def to_parquet(table: Any) -> bytes:
    """A table as the bytes of a file, the same for the same rows."""
    parquet = needs("pyarrow.parquet", EXTRA)
    buffer = io.BytesIO()
    parquet.write_table(table, buffer, compression="zstd")
    return buffer.getvalue()


def rows_of(log: str, run: Run, rig: Rig, release: Release) -> dict[str, list[Row]]:
    """What a run has in each table. log: what it goes by; rig, release: what its log says of them."""
    return {
        "runs": [_run(log, run, rig, release)],
        "figures": [(log, name, str(unit_of(name)), *_ends(value)) for name, value in figures_of(run).items()],
        "screens": list(_screens(log, run)),
        "choices": [
            (log, place, choice.key, choice.value, choice.preset, choice.how)
            for place, screen in enumerate(run.screens)
            for choice in screen.choices
        ],
        "issues": [
            (
                log, issue.name, issue.summary, issue.severity, issue.area, issue.phase, issue.screen,
                issue.fixed_at is not None, issue.fix, *_ends(issue.lost),
            )
            for issue in run.issues
        ],
        "readings": [
            (log, each.name, each.unit, each.state, each.load, *_ends(amount_of(each)), each.said or None)
            for each in run.readings
        ],
        "checks": [(log, check.name, check.result, check.condition) for check in run.checks],
        "software": [
            (log, each.group, each.item, each.version, each.there, each.source) for each in run.software
        ],
    }  # fmt: skip


def _run(log: str, run: Run, rig: Rig, release: Release) -> Row:
    parts = (part or None for part in parts_of(run.release, release))  # what a card does not say, the id may
    return (
        log, run.run, run.release, *parts,
        release.released, run.reviewer, run.begun, run.ended is not None, run.is_told, run.rig, rig.kind, rig.firmware,
        rig.memory, rig.disk, rig.processors, len(run.screens),
    )  # fmt: skip


def _screens(log: str, run: Run) -> Iterator[Row]:
    for place, screen in enumerate(run.screens):
        yield (
            log, place, screen.title, screen.kind, screen.phase, is_after_restart(screen.phase),
            *_ends(screen.on_clock), screen.returns,
        )  # fmt: skip


def _ends(amount: Range | None) -> tuple[float | None, float | None]:
    return (None, None) if amount is None else (amount.low, amount.high)
