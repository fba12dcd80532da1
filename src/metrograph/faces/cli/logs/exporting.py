"""Writes runs in other formats: documents, tables, chapters, Markdown."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import typer

from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.masking import masked
from metrograph.faces.cli.options import (
    LogbookOption,
    NamesArgument,
    PersonalOption,
    command_app,
    complete_run,
    examples,
)
from metrograph.intake.logs import Document
from metrograph.log.cues import Log
from metrograph.log.quantities.times import EXPECTED_TIME, parse_time
from metrograph.run.records import Run
from metrograph.store.local.files import write_output
from metrograph.store.local.logbook import shown_path
from metrograph.store.memory import Selected, select
from metrograph.store.reading import LogReader

app = command_app("Write runs in other formats.")

RunArgument = Annotated[str, typer.Argument(metavar="RUN", autocompletion=complete_run, help="A run, or a log's path.")]
FileOption = Annotated[
    Path | None, typer.Option("-o", "--output", metavar="FILE", help="Where to; standard output for - or unless said.")
]
FolderOption = Annotated[Path, typer.Option("-o", "--output", metavar="DIR", help="The folder to write into.")]


@app.command(
    epilog=examples(
        "metrograph export json -o archive.json", "metrograph export json larkmoor-8.0-heron --show-personal"
    )
)
def json(
    ctx: typer.Context,
    names: NamesArgument = None,
    output: FileOption = None,
    schema: Annotated[bool, typer.Option("--schema", help="Print the JSON Schema of the document instead.")] = False,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write logs as one JSON document.

    “metrograph import json” takes it in again. With --show-personal it comes back as the same logs.
    """
    from metrograph.intake.logs import schema as schema_of
    from metrograph.show.files.json import to_json

    environment = environment_of(ctx)
    if schema:
        environment.print(to_json(schema_of()))
        return
    _, logs = _Sources(environment, logbook, names).shown(show_personal)
    _write(environment, output, to_json(logs))


@app.command(epilog=examples("metrograph export csv -o tables", "metrograph export csv larkmoor-8.0-heron -o heron"))
def csv(
    ctx: typer.Context,
    output: FolderOption,
    names: NamesArgument = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write runs as tables for a spreadsheet.

    One file for each kind of record that a run has; and headers and cues, which “import csv” takes in again. A cell
    that could be taken for a formula begins with an apostrophe.
    """
    from metrograph.intake.logs import to_logs
    from metrograph.show.files.tables import TABLES, logs_to_csv, to_csv

    environment = environment_of(ctx)
    runs, logs = _Sources(environment, logbook, names).shown(show_personal)
    files = {name: to_csv(name, runs) for name in TABLES}
    files["headers"], files["cues"] = logs_to_csv(to_logs(logs))
    folder = environment.folder / output
    _make_folder(folder)
    for name, text in files.items():
        write_output(folder / f"{name}.csv", text.encode())
    environment.say(f"{shown_path(folder)}: {len(files)} tables of {len(runs)} runs")


@app.command(
    epilog=examples("metrograph export parquet -o archive", "metrograph export parquet larkmoor-8.0-heron -o heron")
)
def parquet(
    ctx: typer.Context,
    output: FolderOption,
    names: NamesArgument = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write runs as typed tables for a database.

    The same tables as CSV has, a folder each, and in it one for each release.
    """
    from metrograph.show.files.tables import write_parquet

    environment = environment_of(ctx)
    runs, _ = _Sources(environment, logbook, names).shown(show_personal)
    rows = write_parquet(runs, environment.folder / output)
    environment.say(f"{shown_path(environment.folder / output)}: {rows} rows of {len(runs)} runs")


@app.command(epilog=examples("metrograph export vtt larkmoor-8.0-heron-1 -o chapters.vtt --starts 0:40"))
def vtt(
    ctx: typer.Context,
    run: RunArgument,
    output: FileOption = None,
    starts: Annotated[
        str | None, typer.Option(metavar="TIME", help="Where on the run's time the recording begins.")
    ] = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write screens as chapters of the recording: WebVTT."""
    from metrograph.intake.logs import to_logs
    from metrograph.show.files.chapters import to_chapters

    environment = environment_of(ctx)
    begin = 0 if starts is None else parse_time(starts)
    if begin is None:
        raise MetrographError(f"--starts “{starts}” cannot be read; expected: {EXPECTED_TIME}")
    sources = _Sources(environment, logbook, [run]).one()
    _, logs = sources.shown(show_personal)
    _write(environment, output, to_chapters(to_logs(logs)[0][1], sources.reader.lexicon, begin))


@app.command(epilog=examples("metrograph export md larkmoor-8.0-heron-1 -o heron.md"))
def md(
    ctx: typer.Context,
    run: RunArgument,
    output: FileOption = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write one run as Markdown, with tables."""
    from metrograph.show.markdown import write
    from metrograph.show.report.run import run_report

    environment = environment_of(ctx)
    runs, _ = _Sources(environment, logbook, [run]).one().shown(show_personal)
    _write(environment, output, write(run_report(runs[0])))


class _Sources:
    """The logs that were named, or all of the logbook, each once."""

    def __init__(self, environment: Environment, logbook: Path | None, names: Sequence[str] | None) -> None:
        self.environment = environment
        book = environment.logbook_or_none(logbook) if names else environment.logbook(logbook)
        self.reader = LogReader(book)
        every = [Selected("", book, tuple(book.run_names()))] if book is not None and not names else []
        chosen = [*every, *(select(book, name) for name in names or ())]
        where = {run: names.store for names in chosen for run in names.runs}
        self.logs: list[tuple[str, Log]] = [(run, self.reader.log(run, store)) for run, store in where.items()]
        environment.warn_of(self.reader.faults)

    def one(self) -> _Sources:
        """Itself; raises MetrographError when it is more than one log."""
        if len(self.logs) != 1:
            names = ", ".join(run for run, _ in self.logs)
            raise MetrographError(f"name one run; these are {len(self.logs)}: {names}")
        return self

    def shown(self, show_personal: bool) -> tuple[tuple[Run, ...], Document]:
        """The runs, and the document of their logs, as others may see them."""
        from metrograph.intake.logs import document
        from metrograph.run.folding.fold import fold

        runs = tuple(fold(log, run, self.reader.lexicon) for run, log in self.logs)
        return masked(self.environment, runs, (runs, document(self.logs)), show_personal)


def _write(environment: Environment, output: Path | None, text: str) -> None:
    """Into a file, and the folder that it is to lie in, or on standard output."""
    if output is not None:
        _make_folder((environment.folder / output).parent)
    environment.write(output, text.encode())


def _make_folder(path: Path) -> None:
    try:
        path.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise NotWritableError(f"{path} cannot be made: {error.strerror}") from error
