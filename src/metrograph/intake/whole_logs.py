"""Whole logs in and out of other forms: an open document, two tables."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from enum import Enum
from typing import Annotated, Any
from unicodedata import normalize

import msgspec

from metrograph.core.errors import UNDECODABLE, MetrographError
from metrograph.core.unseen import spelt, unspelt
from metrograph.core.visitor import AnswerFields, Answering
from metrograph.log.bodies import verb_word
from metrograph.log.cues import Cue, Header, Log
from metrograph.log.faults import Unreadable
from metrograph.log.verbs import Trait, verbs_with
from metrograph.store.ids import check_id, split_run
from metrograph.store.local.logbook import Logbook
from metrograph.store.reading import LogReader

FORMAT = 1
"""The version of the document; it grows when a program that knows the last one would read the new one wrong."""


class ArchivedCue(Answering, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """A cue. at: milliseconds since ``begun``; name, text: see the run log; fields: keys with values, in order."""

    at: Annotated[int, msgspec.Meta(ge=0, description="milliseconds since the run was begun")]
    verb: str
    name: str | None = None
    text: str = ""
    fields: tuple[tuple[str, str], ...] = ()

    def answer(self) -> AnswerFields:
        """What was answered, and in the fields what had been pre-set and offered."""
        return AnswerFields(
            self.name if self.verb in verbs_with(Trait.KEYED) else None, ("text",), pairs={"fields": ("was", "offered")}
        )


class ArchivedRun(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A run. others: all other lines of its header, in order; cues: in the order they were written."""

    run: str
    release: str
    rig: str
    begun: datetime | None
    others: tuple[tuple[str, str], ...]
    cues: tuple[ArchivedCue, ...]


class Document(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The whole document. format: the version of its shape."""

    format: Annotated[int, msgspec.Meta(description="the version of this shape")]
    runs: tuple[ArchivedRun, ...]


def read_document(data: bytes, file: str) -> list[tuple[str, Log]]:
    """The logs of a document; raises MetrographError, with the path to what is wrong, when it holds anything else."""
    try:
        document = msgspec.json.decode(data, type=Document)
    except UNDECODABLE as error:
        raise MetrographError(f"{file}: {error}; expected a document that “metrograph export json” wrote") from error
    if document.format != FORMAT:
        raise MetrographError(f"{file}: it is of format {document.format}; this program reads format {FORMAT}")
    return to_logs(document)


def to_logs(document: Document) -> list[tuple[str, Log]]:
    """The logs that a document holds, each with the name of its run."""
    return [(run.run, _log(run)) for run in document.runs]


def _log(run: ArchivedRun) -> Log:
    cues = tuple(_cue(run.run, number, cue) for number, cue in enumerate(run.cues, 1))
    return Log(run.run, Header(run.release, run.rig, run.begun, run.others), cues)


def _cue(run: str, number: int, cue: ArchivedCue) -> Cue:
    try:
        return Cue(cue.at, verb_word(cue.verb), cue.name, cue.text, cue.fields)
    except Unreadable as wrong:
        raise MetrographError(f"cue {number} of {run}: {wrong.sentence}") from wrong


HEADERS = ("run", "release", "rig", "begun", "others")
CUES = ("run", "number", "at", "verb", "name", "text", "fields")
_FORMULA = ("=", "+", "-", "@", "\t", "\r", "'")
"""What a spreadsheet may take for the beginning of a formula; and the sign that keeps it from that."""


def guarded(cell: str) -> str:
    """A cell that no spreadsheet takes for a formula, and in which nothing stands that nobody sees."""
    seen = spelt(cell)
    return f"'{seen}" if _begins_formula(seen) else seen


def unguarded(cell: str) -> str:
    """The cell as it was before a formula was made harmless."""
    return unspelt(cell[1:] if cell.startswith("'") and _begins_formula(cell[1:]) else cell)


def _begins_formula(cell: str) -> bool:
    """Signs of full width count as well: some spreadsheets take them for the others."""
    return cell.startswith(_FORMULA) or normalize("NFKC", cell[:1]) in _FORMULA


def logs_from_csv(headers: str, cues: str) -> list[tuple[str, Log]]:
    """The logs that two such tables hold; raises MetrographError, with table and line, when they hold anything else."""
    runs: dict[str, tuple[Header, list[tuple[int, Cue]]]] = {}
    for line, row in _rows("headers.csv", headers, HEADERS):
        runs[row["run"]] = (_header(line, row), [])
    for line, row in _rows("cues.csv", cues, CUES):
        if row["run"] not in runs:
            raise MetrographError(f"cues.csv, line {line}: {row['run']} is not in headers.csv")
        runs[row["run"]][1].append(_cue_of_row(line, row))
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


def _cue_of_row(line: int, row: Mapping[str, str]) -> tuple[int, Cue]:
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
    except UNDECODABLE as error:
        raise ValueError(str(error)) from error


def document(logs: Iterable[tuple[str, Log]]) -> Document:
    """The document that holds these logs, each under the name of its run."""
    return Document(FORMAT, tuple(_archived(run, log) for run, log in logs))


def schema() -> dict[str, Any]:
    """The JSON Schema of the document."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema"} | msgspec.json.schema(Document)


def _archived(run: str, log: Log) -> ArchivedRun:
    head = log.header
    cues = tuple(ArchivedCue(cue.at, cue.verb, cue.name, cue.text, cue.fields) for cue in log.cues)
    return ArchivedRun(run, head.release, head.rig, head.begun, head.others, cues)


class Fate(Enum):
    """The fate of a log that came from elsewhere."""

    NEW = "new"
    SAME = "there already"
    DIFFERS = "there already, and differs"


class Arrived(msgspec.Struct, frozen=True):
    """A log that was to be taken in. cues: how many it has."""

    run: str
    cues: int
    fate: Fate


def take_in(logbook: Logbook, logs: Sequence[tuple[str, Log]], dry_run: bool = False) -> list[Arrived]:
    """Writes logs that are not there yet; a run that is there already is left as it is.

    Raises MetrographError, before anything is written, when a log could not be a log of this run or is refused.
    """
    for run, log in logs:
        if split_run(check_id(run, "run"))[0] != log.header.release:
            raise MetrographError(f"{run} cannot be a run of “{log.header.release}”; expected: {log.header.release}-1")
        logbook.check(run, log)
    return [Arrived(run, len(log.cues), _fate(logbook, run, log, dry_run)) for run, log in logs]


def _fate(logbook: Logbook, run: str, log: Log, dry_run: bool) -> Fate:
    if not logbook.has(run) and (dry_run or logbook.add(run, log)):
        return Fate.NEW
    there = LogReader(logbook).log(run)
    return Fate.SAME if (there.header, there.cues) == (log.header, log.cues) else Fate.DIFFERS
