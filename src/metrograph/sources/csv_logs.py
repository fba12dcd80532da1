"""Logs as two tables, headers and cues: their columns, how cells are kept from being formulas, reading them."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime

import msgspec

from metrograph.errors import MetrographError
from metrograph.log.bodies import verb_word
from metrograph.log.cues import Cue, Header, Log
from metrograph.log.faults import Unreadable

HEADERS = ("run", "release", "rig", "begun", "others")
CUES = ("run", "number", "at", "verb", "name", "text", "fields")
_FORMULA = ("=", "+", "-", "@", "\t", "\r", "'")
"""What a spreadsheet may take for the beginning of a formula; and the sign that keeps it from that."""


def guarded(cell: str) -> str:
    """A cell that no spreadsheet takes for a formula."""
    return f"'{cell}" if cell.startswith(_FORMULA) else cell


def unguarded(cell: str) -> str:
    """The cell as it was."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(_FORMULA) else cell


def logs_from_csv(headers: str, cues: str) -> list[tuple[str, Log]]:
    """The logs that two such tables hold; raises MetrographError, with table and line, when they hold anything else."""
    runs: dict[str, tuple[Header, list[tuple[int, Cue]]]] = {}
    for line, row in _rows("headers.csv", headers, HEADERS):
        runs[row["run"]] = (_header(line, row), [])
    for line, row in _rows("cues.csv", cues, CUES):
        if row["run"] not in runs:
            raise MetrographError(f"cues.csv, line {line}: {row['run']} is not in headers.csv")
        runs[row["run"]][1].append(_cue(line, row))
    return [
        (run, Log(run, header, tuple(cue for _, cue in sorted(numbered, key=lambda pair: pair[0]))))
        for run, (header, numbered) in runs.items()
    ]


def _rows(name: str, text: str, columns: Sequence[str]) -> Iterator[tuple[int, Mapping[str, str]]]:
    """The rows of a table with their lines."""
    reader = csv.reader(io.StringIO(text, newline=""), strict=True)
    try:
        # Columns in another order would be read wrong without a word.
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
        verb, name = verb_word(row["verb"]), row["name"] or None
        return int(row["number"]), Cue(int(row["at"]), verb, name, row["text"], _pairs(row["fields"]))
    except ValueError as error:
        raise MetrographError(f"cues.csv, line {line}: {error}") from error
    except Unreadable as wrong:
        raise MetrographError(f"cues.csv, line {line}: {wrong.sentence}") from wrong


def _pairs(text: str) -> tuple[tuple[str, str], ...]:
    """Keys with values from a JSON list; raises ValueError when it is none."""
    try:
        return msgspec.json.decode(text, type=tuple[tuple[str, str], ...])
    except msgspec.MsgspecError as error:
        raise ValueError(str(error)) from error
