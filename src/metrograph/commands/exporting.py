"""Other formats out."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import typer

from metrograph.commands.environment import (
    Environment,
    LogbookOption,
    command_app,
    complete_run,
    environment_of,
    examples,
)
from metrograph.commands.ledger import NamesArgument
from metrograph.commands.publishing import PersonalOption, published
from metrograph.errors import MetrographError, NotWritableError
from metrograph.exchange.archive import Archive
from metrograph.language.times import EXPECTED_TIME, parse_time
from metrograph.logbook.files import replace_bytes
from metrograph.logbook.selection import Reader, select, shown_path
from metrograph.model.cues import Log
from metrograph.model.runs import Run

app = command_app("Write runs in other formats.")

RunArgument = Annotated[str, typer.Argument(metavar="RUN", autocompletion=complete_run, help="A run, or a log's path.")]
FileOption = Annotated[
    Path | None, typer.Option("-o", "--output", metavar="FILE", help="Where to; standard output unless said.")
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
    from metrograph.exchange.archive import schema as schema_of
    from metrograph.exchange.json import to_json

    environment = environment_of(ctx)
    if schema:
        environment.show_json(schema_of())
        return
    _, document = _Sources(environment, logbook, names).shown(show_personal)
    _write(environment, output, to_json(document))


@app.command(epilog=examples("metrograph export csv -o tables", "metrograph export csv larkmoor-8.0-heron -o heron"))
def csv(
    ctx: typer.Context,
    output: FolderOption,
    names: NamesArgument = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write runs as tables for a spreadsheet.

    One file each: runs, screens, choices, issues, readings, checks; and headers and cues, which “import csv” takes in
    again. A cell that could be taken for a formula begins with an apostrophe.
    """
    from metrograph.exchange.archive import to_logs
    from metrograph.exchange.tables import TABLES, logs_to_csv, to_csv

    environment = environment_of(ctx)
    runs, document = _Sources(environment, logbook, names).shown(show_personal)
    files = {name: to_csv(name, runs) for name in TABLES}
    files["headers"], files["cues"] = logs_to_csv(to_logs(document))
    folder = environment.folder / output
    for name, text in files.items():
        _write_file(folder / f"{name}.csv", text.encode())
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
    from metrograph.exchange.parquet import write_parquet

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
    from metrograph.exchange.archive import to_logs
    from metrograph.exchange.chapters import to_chapters

    environment = environment_of(ctx)
    begin = 0 if starts is None else parse_time(starts)
    if begin is None:
        raise MetrographError(f"--starts “{starts}” cannot be read; expected: {EXPECTED_TIME}")
    _, document = _Sources(environment, logbook, [run]).one().shown(show_personal)
    _write(environment, output, to_chapters(to_logs(document)[0][1], begin))


@app.command(epilog=examples("metrograph export md larkmoor-8.0-heron-1 -o heron.md"))
def md(
    ctx: typer.Context,
    run: RunArgument,
    output: FileOption = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write one run as Markdown, with tables."""
    from metrograph.views.run_markdown import render_run_markdown

    environment = environment_of(ctx)
    runs, _ = _Sources(environment, logbook, [run]).one().shown(show_personal)
    _write(environment, output, render_run_markdown(runs[0]))


class _Sources:
    """The logs that were named, or all of the logbook, each once."""

    def __init__(self, environment: Environment, logbook: Path | None, names: Sequence[str] | None) -> None:
        self.environment = environment
        book = environment.logbook_or_none(logbook) if names else environment.logbook(logbook)
        self.reader = Reader(book)
        every = [(run, book.log(run)) for run in book.run_names()] if book is not None and not names else []
        named = [pair for name in names or () for pair in select(book, name).logs]
        self.logs: list[tuple[str, Log]] = [
            (run, self.reader.log(path)) for run, path in dict([*every, *named]).items()
        ]
        environment.warn_of(self.reader.faults)

    def one(self) -> _Sources:
        """The same; raises MetrographError when it is more than one log."""
        if len(self.logs) != 1:
            names = ", ".join(run for run, _ in self.logs)
            raise MetrographError(f"name one run; these are {len(self.logs)}: {names}")
        return self

    def shown(self, show_personal: bool) -> tuple[tuple[Run, ...], Archive]:
        """The runs, and the document of their logs, as others may see them."""
        from metrograph.analysis.fold import fold
        from metrograph.exchange.archive import archive, masked

        runs = tuple(fold(log, run, self.reader.lexicon) for run, log in self.logs)
        document = archive(self.logs)
        if show_personal:
            return runs, document
        clean, hidden = masked(document, self.reader.lexicon.is_personal)
        return published(self.environment, runs, (runs, clean), show_personal, hidden)


def _write(environment: Environment, output: Path | None, text: str) -> None:
    """Into a file, or on standard output."""
    if output is None:
        environment.out.write(text)
        return
    _write_file(environment.folder / output, text.encode())
    environment.say(f"{shown_path(environment.folder / output)} written")


def _write_file(path: Path, data: bytes) -> None:
    """A file, and the folder that it is to lie in."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise NotWritableError(f"{path.parent} cannot be made: {error.strerror}") from error
    replace_bytes(path, data)
