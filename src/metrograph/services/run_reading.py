"""Runs as they are: listed, shown one by one, written out in other formats, looked through for faults."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.intake.whole_logs import Document, document, schema, to_logs
from metrograph.ledgers.digests.release_groups import begun
from metrograph.log.cues import Fault
from metrograph.log.lexicon import Lexicon
from metrograph.privacy.mask import EXPORTED_LINES, with_header
from metrograph.run.audience import published_log
from metrograph.run.folding.fold import fold
from metrograph.run.records import Run
from metrograph.services.desk import Desk, Result, masked
from metrograph.show.charts.layouts.lanes_layout import lay_lanes
from metrograph.show.files.chapters import to_chapters
from metrograph.show.files.export_tables import TABLES, logs_to_csv, to_csv, write_parquet
from metrograph.show.files.json import to_json
from metrograph.show.markdown import write as write_markdown
from metrograph.show.report.lists import runs_report
from metrograph.show.report.model import Drawing, Report
from metrograph.show.report.run import run_report
from metrograph.store.ids import split_run
from metrograph.store.local.card_files import load_releases
from metrograph.store.local.logbook import Logbook
from metrograph.store.memory import Selected, select
from metrograph.store.reading import LogReader
from metrograph.store.survey import all_files, survey_files
from metrograph.words.figure_words import counted
from metrograph.words.names import full_name, named

_LISTED = ("run", "release", "rig", "begun", "ended", "way", "clock", "milestones", "attempts")
LATEST = "latest"


def runs_result(desk: Desk, logbook: Path | None, show_personal: bool) -> Result:
    """All runs of a logbook, a line each."""
    book = desk.logbook(logbook)
    reader = LogReader(book)
    every = [reader.run(name) for name in desk.track(book.run_names(), "reading logs")]
    desk.warn_of(reader.faults)
    shown = list(masked(desk, every, tuple(every), show_personal))
    document = {"runs": [{field: getattr(run, field) for field in _LISTED} for run in shown]}
    return Result(document, lambda medium: runs_report(shown, None if medium.piped else medium.width))


def run_result(desk: Desk, logbook: Path | None, name: str, show_personal: bool) -> Result:
    """One run: by its name, a log's path, its release, of which the latest is taken, or ``latest``."""
    book = desk.logbook_or_none(logbook)
    reader = LogReader(book)
    run = _latest(reader, desk.logbook(logbook)) if name == LATEST else _named(desk, reader, book, name)
    desk.warn_of(reader.faults)
    run = masked(desk, [run], run, show_personal)
    return Result(run, lambda _: _report(run, book))


def _latest(reader: LogReader, book: Logbook) -> Run:
    run = max(map(reader.run, book.run_names()), key=begun, default=None)
    if run is None:
        raise MetrographError("no run has begun yet; “metrograph begin RELEASE --rig RIG” begins one")
    return run


def _named(desk: Desk, reader: LogReader, book: Logbook | None, name: str) -> Run:
    """Of a release, its latest run; the others are named."""
    selected = select(book, name)
    run = max((reader.run(each, selected.store) for each in selected.runs), key=begun)
    if selected.runs[1:]:
        others = ", ".join(each for each in selected.runs if each != run.run)
        desk.warn(f"{run.run} is the latest of {name}; the others are {others}")
    return run


def _report(run: Run, book: Logbook | None) -> Report:
    release, number = split_run(run.run)
    cards = load_releases(book)
    whole = f"{full_name(run.release or release, cards.get(run.release))}, run {number}" if number else run.run
    lane = named(lay_lanes([run]), {run.run: f"run {number}"}) if number else lay_lanes([run])
    return run_report(msgspec.structs.replace(run, run=whole), Drawing("runs", lane, run.run))


class Exported(msgspec.Struct, frozen=True):
    """Runs and the document of their logs, as others may see them."""

    runs: tuple[Run, ...]
    document: Document
    lexicon: Lexicon

    @property
    def json(self) -> str:
        """The document as one text."""
        return to_json(self.document)

    @property
    def tables(self) -> dict[str, str]:
        """A table for each kind of record that a run has, and the two that are taken in again, as CSV by name."""
        tables = {name: to_csv(name, self.runs) for name in TABLES}
        tables["headers"], tables["cues"] = logs_to_csv(to_logs(self.document))
        return tables

    def chapters(self, begin: int) -> str:
        """The screens of the only run as chapters. begin: milliseconds of the run at which the recording begins."""
        return to_chapters(to_logs(self.document)[0][1], self.lexicon, begin)

    @property
    def markdown(self) -> str:
        """The only run as Markdown, with tables."""
        return write_markdown(run_report(self.runs[0]))

    def write_parquet(self, folder: Path) -> int:
        """Writes typed tables into a folder; returns how many rows there are."""
        return write_parquet(self.runs, folder)


def document_schema() -> str:
    """The JSON Schema of the document."""
    return to_json(schema())


def exported(
    desk: Desk, logbook: Path | None, names: Sequence[str] | None, show_personal: bool, one: bool = False
) -> Exported:
    """The runs that were named, or all of the logbook, each once.

    one: whether it has to be one; raises MetrographError when it is not.
    """
    book = desk.logbook_or_none(logbook) if names else desk.logbook(logbook)
    reader = LogReader(book)
    every = [Selected("", book, tuple(book.run_names()))] if book is not None and not names else []
    chosen = [*every, *(select(book, name) for name in names or ())]
    where = {run: selected.store for selected in chosen for run in selected.runs}
    logs = [(run, reader.log(run, store)) for run, store in where.items()]
    desk.warn_of(reader.faults)
    if one and len(logs) != 1:
        raise MetrographError(f"name one run; these are {len(logs)}: {', '.join(run for run, _ in logs)}")
    whole = tuple(fold(log, run, reader.lexicon) for run, log in logs)
    if show_personal:
        return Exported(whole, document(logs), reader.lexicon)
    seen = [(run, published_log(with_header(log, EXPORTED_LINES))) for run, log in logs]
    runs = tuple(fold(log, run, reader.lexicon) for run, log in seen)
    return Exported(*masked(desk, whole, (runs, document(seen)), show_personal), reader.lexicon)


class Survey(msgspec.Struct, frozen=True):
    """All that is wrong or doubtful in files."""

    faults: tuple[Fault, ...]

    @property
    def errors(self) -> int:
        """How many are errors."""
        return sum(fault.level == "error" for fault in self.faults)

    @property
    def told(self) -> str:
        """How many there are of each."""
        if not self.faults:
            return "no faults"
        return f"{counted(self.errors, 'error')}, {counted(len(self.faults) - self.errors, 'warning')}"


def survey(desk: Desk, logbook: Path | None, files: Sequence[Path] | None) -> Survey:
    """Looks through logs and cards, or runs by name; through all of a logbook where none are said."""
    book = desk.logbook_or_none(logbook) if files else desk.logbook(logbook)
    paths = [_found(path, book) for path in files] if files else all_files(desk.logbook(logbook))
    return Survey(survey_files(desk.track(paths, "looking through"), book))


def survey_run(book: Logbook, run: str) -> Survey:
    """Looks through the log of one run."""
    return Survey(survey_files([book.log(run)], book))


def _found(named: Path, book: Logbook | None) -> Path:
    """The file that was named, or the log of the run that was."""
    name = str(named)
    is_run = book is not None and not named.exists() and name in book.run_names()
    return Path(book.label(name)) if book is not None and is_run else named
