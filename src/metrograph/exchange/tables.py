"""Runs as tables, for spreadsheets and databases: one each of runs, screens, choices, issues, readings and checks.

Two more, headers and cues, hold what the logs themselves say, so that they can be taken in again.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable, Iterator, Mapping, Sequence
from datetime import datetime
from typing import Literal

import msgspec

from metrograph.errors import MetrographError
from metrograph.language.escapes import join_list
from metrograph.model.cues import Cue, Header, Log
from metrograph.model.ranges import Range
from metrograph.model.runs import Run

Type = Literal["text", "whole", "number", "moment"]
Value = str | int | float | datetime | None
Row = tuple[Value, ...]
_FORMULA = ("=", "+", "-", "@", "\t", "\r", "'")
"""What a spreadsheet may take for the beginning of a formula; and the sign that keeps it from that."""


class Table(msgspec.Struct, frozen=True):
    """A table. columns: their types by name, in order; rows: what a run has of it."""

    columns: dict[str, Type]
    rows: Callable[[Run], Iterator[Row]]


def _bounds(*names: str) -> dict[str, Type]:
    """Two columns for each range, its lower and its upper bound in seconds; the upper is empty when it is open."""
    return {f"{name}_{end}": "number" for name in names for end in ("low", "high")}


def _pair(value: Range | None) -> tuple[float | None, float | None]:
    return (None, None) if value is None else (value.low, value.high)


_RUN: dict[str, Type] = {"run": "text", "release": "text"}
_CLOCK = ("elapsed", "on_clock", "person", "machine", "paused", "lost")
_MILESTONES = ("first_question", "installed", "desktop", "updated")


def _runs(run: Run) -> Iterator[Row]:
    clock = (end for name in _CLOCK for end in _pair(getattr(run.clock, name)))
    moments = (end for name in _MILESTONES for end in _pair(getattr(run.milestones, name)))
    verdict = run.verdict.text if run.verdict else None
    yield (run.run, run.release, run.rig, run.begun, run.way, run.ended, len(run.attempts), *clock, *moments, verdict)


def _screens(run: Run) -> Iterator[Row]:
    for number, each in enumerate(run.screens, 1):
        spans = (end for part in (each.start, each.on_clock, each.person, each.machine) for end in _pair(part))
        yield (run.run, run.release, number, each.title, each.kind, each.phase, each.attempt, *spans, each.returns)


def _choices(run: Run) -> Iterator[Row]:
    placed = [
        (number, screen.title, choice) for number, screen in enumerate(run.screens, 1) for choice in screen.choices
    ]
    for number, title, each in [*placed, *((None, None, choice) for choice in run.choices)]:
        offered = join_list(each.offered) if each.offered else None
        yield (
            run.run,
            run.release,
            number,
            title,
            each.key,
            each.value,
            each.preset,
            each.how,
            offered,
            each.why,
            *_pair(each.at),
        )


def _issues(run: Run) -> Iterator[Row]:
    for each in run.issues:
        spans = (end for part in (each.at, each.fixed_at, each.lost) for end in _pair(part))
        words = (each.name, each.summary, each.severity, each.area, each.phase, each.screen)
        yield (run.run, run.release, *words, *spans, each.fix)


def _readings(run: Run) -> Iterator[Row]:
    for each in run.readings:
        yield (run.run, run.release, each.name, each.value, each.unit, each.state, each.load, each.how, *_pair(each.at))


def _checks(run: Run) -> Iterator[Row]:
    for each in run.checks:
        yield (run.run, run.release, each.name, each.result, each.detail, *_pair(each.at))


TABLES: dict[str, Table] = {
    "runs": Table(
        _RUN | {"rig": "text", "begun": "moment", "way": "text", "ended": "text", "attempts": "whole"}
        | _bounds(*_CLOCK, *_MILESTONES) | {"verdict": "text"}, _runs),
    "screens": Table(
        _RUN | {"number": "whole", "title": "text", "kind": "text", "phase": "text", "attempt": "whole"}
        | _bounds("start", "on_clock", "person", "machine") | {"returns": "whole"}, _screens),
    "choices": Table(
        _RUN | {"screen": "whole", "title": "text", "key": "text", "value": "text", "preset": "text", "how": "text",
                "offered": "text", "why": "text"} | _bounds("at"), _choices),
    "issues": Table(
        _RUN | {"name": "text", "summary": "text", "severity": "text", "area": "text", "phase": "text",
                "screen": "text"} | _bounds("at", "fixed_at", "lost") | {"fix": "text"}, _issues),
    "readings": Table(
        _RUN | {"name": "text", "value": "number", "unit": "text", "state": "text", "load": "text", "how": "text"}
        | _bounds("at"), _readings),
    "checks": Table(_RUN | {"name": "text", "result": "text", "detail": "text"} | _bounds("at"), _checks),
}  # fmt: skip
"""All tables that are made from runs, by name."""

_HEADERS = ("run", "release", "rig", "begun", "others")
_CUES = ("run", "number", "at", "verb", "name", "text", "fields")


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
    return _written(_HEADERS, heads), _written(_CUES, cues)


def logs_from_csv(headers: str, cues: str) -> list[tuple[str, Log]]:
    """The logs that two such tables hold; raises MetrographError, with table and line, when they hold anything else."""
    found: dict[str, tuple[Header, list[tuple[int, Cue]]]] = {}
    for line, row in _read("headers.csv", headers, _HEADERS):
        found[row["run"]] = (_header(line, row), [])
    for line, row in _read("cues.csv", cues, _CUES):
        if row["run"] not in found:
            raise MetrographError(f"cues.csv, line {line}: {row['run']} is not in headers.csv")
        found[row["run"]][1].append(_cue(line, row))
    return [
        (run, Log(run, header, tuple(cue for _, cue in sorted(own, key=lambda each: each[0]))))
        for run, (header, own) in found.items()
    ]


def guarded(cell: str) -> str:
    """A cell that no spreadsheet takes for a formula."""
    return f"'{cell}" if cell.startswith(_FORMULA) else cell


def unguarded(cell: str) -> str:
    """The cell as it was."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(_FORMULA) else cell


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
    return (
        value.isoformat()
        if isinstance(value, datetime)
        else f"{value:.15g}"
        if isinstance(value, float)
        else str(value)
    )


def _read(name: str, text: str, columns: Sequence[str]) -> Iterator[tuple[int, Mapping[str, str]]]:
    """The rows of a table with their lines."""
    reader = csv.reader(io.StringIO(text, newline=""), strict=True)
    try:
        if (heading := next(reader, [])) != list(columns):
            raise MetrographError(
                f"{name}, line 1: the columns are {', '.join(heading)}; expected: {', '.join(columns)}"
            )
        for row in reader:
            if len(row) != len(columns):
                raise MetrographError(f"{name}, line {reader.line_num}: {len(row)} cells; expected: {len(columns)}")
            yield reader.line_num, dict(zip(columns, map(unguarded, row), strict=True))
    except csv.Error as error:
        raise MetrographError(f"{name}, line {reader.line_num}: this is not CSV: {error}") from error


def _header(line: int, row: Mapping[str, str]) -> Header:
    try:
        begun = datetime.fromisoformat(row["begun"]) if row["begun"] else None
        return Header(row["release"], row["rig"], begun, _pairs(row["others"]))
    except ValueError as error:
        raise MetrographError(f"headers.csv, line {line}: {error}") from error


def _cue(line: int, row: Mapping[str, str]) -> tuple[int, Cue]:
    try:
        name = row["name"] or None
        return int(row["number"]), Cue(int(row["at"]), row["verb"], name, row["text"], _pairs(row["fields"]))
    except ValueError as error:
        raise MetrographError(f"cues.csv, line {line}: {error}") from error


def _pairs(text: str) -> tuple[tuple[str, str], ...]:
    """Keys with values from a JSON list; raises ValueError when it is none."""
    try:
        return msgspec.json.decode(text, type=tuple[tuple[str, str], ...])
    except msgspec.MsgspecError as error:
        raise ValueError(str(error)) from error
