"""Commands that write for others: the whole story of a comparison, runs in other formats."""

from __future__ import annotations

import webbrowser
from pathlib import Path
from typing import Annotated

import typer

from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import (
    ArchiveOption,
    BaselineOption,
    JsonOption,
    LogbookOption,
    NamesArgument,
    OnlyRigOption,
    PersonalOption,
    command_app,
    complete_reader,
    complete_run,
    complete_side,
    examples,
    single,
)
from metrograph.log.quantities.times import EXPECTED_TIME, parse_time
from metrograph.store.local.files import is_stream, write_output
from metrograph.store.local.logbook import shown_path

APPS: dict[str, typer.Typer] = {}


@single(
    APPS,
    "report",
    epilog=examples(
        "metrograph report larkmoor-8.0-heron larkmoor-9.0-beta-heron -o beta.html",
        "metrograph report larkmoor-7.0-heron larkmoor-8.0-heron -o heron.md",
    ),
)
def report(
    ctx: typer.Context,
    names: NamesArgument = None,
    output: Annotated[
        Path,
        typer.Option("-o", "--output", metavar="FILE", help="Ends in .html or .md; - for the page."),
    ] = Path("report.html"),
    baseline: BaselineOption = None,
    only_rig: OnlyRigOption = None,
    readers: Annotated[
        list[str] | None,
        typer.Option("--for", metavar="READER", autocompletion=complete_reader, help="Repeatable; all unless said."),
    ] = None,
    show: Annotated[bool, typer.Option("--open", help="Open it afterwards in the usual program.")] = False,
    archive: ArchiveOption = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write a comparison, or one release, as a page or Markdown.

    One name is reviewed; of two or more, each is held against the one before it.
    The page needs no network: open it from the disk or put it anywhere. Markdown is the skeleton of an article: the
    answer, what is new, installing it, first start, software, weight, trouble, verdict, for whom; its figures are
    written beside it. Readers of metrograph.toml have a shortlist in both.
    """
    from metrograph.services.comparing import ComparisonRequest
    from metrograph.services.outward.publishing import article_of, page_of

    environment = environment_of(ctx)
    ending = ".html" if is_stream(output) else output.suffix.lower()
    if ending not in {".html", ".md"}:
        raise MetrographError(f"{output} should end in .html or .md, to say how to write it")
    path = environment.folder / output
    if len(set(names or ())) == 1:
        _write_review(environment, next(iter(names or ())), output, logbook, show_personal)
        if show:
            webbrowser.open(path.resolve().as_uri())
        return
    asked = ComparisonRequest(logbook, tuple(names or ()), baseline, only_rig, archive, show_personal)
    published = (
        page_of(environment, asked, readers)
        if ending == ".html"
        else article_of(environment, asked, readers, path.stem)
    )
    for name, data in published.beside.items():
        write_output(path.with_name(name), data)
    environment.write(output, published.text.encode())
    if show:
        webbrowser.open(path.resolve().as_uri())


@single(
    APPS,
    "review",
    epilog=examples(
        "metrograph review larkmoor-9.0-beta-heron",
        "metrograph review larkmoor-9.0-beta-heron -o heron.html",
        "metrograph review larkmoor-8.0-heron-2 -o heron.md",
    ),
)
def review(
    ctx: typer.Context,
    name: Annotated[
        str,
        typer.Argument(metavar="RELEASE|RUN", autocompletion=complete_side, help="A release, a run, or a log's path."),
    ],
    output: Annotated[
        Path | None,
        typer.Option("-o", "--output", metavar="FILE", help="Ends in .html or .md; the terminal unless said."),
    ] = None,
    show: Annotated[bool, typer.Option("--open", help="Open it afterwards in the usual program.")] = False,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Review one release: what it is, what works, for whom.

    Also how it installs, what is on board, trouble and what helped, and what differs from the release before it.
    Nothing private is in it: what is left to do, your own trouble, and what says “tell: no”. Where a run covers no
    installation, nothing is said of one.
    """
    from metrograph.services.outward.reviewing import review_result, reviewed

    environment = environment_of(ctx)
    if output is None:
        environment.give(review_result(reviewed(environment, logbook, name, show_personal)), json)
        return
    _write_review(environment, name, output, logbook, show_personal)
    if show:
        webbrowser.open((environment.folder / output).resolve().as_uri())


def _write_review(environment: Environment, name: str, output: Path, logbook: Path | None, show_personal: bool) -> None:
    """Writes a review as a page, or as an article with its figures beside it."""
    from metrograph.services.outward.reviewing import review_article, review_page, reviewed

    ending = ".html" if is_stream(output) else output.suffix.lower()
    if ending not in {".html", ".md"}:
        raise MetrographError(f"{output} should end in .html or .md, to say how to write it")
    made, path = reviewed(environment, logbook, name, show_personal), environment.folder / output
    if ending == ".html":
        text, beside = review_page(made), dict[str, bytes]()
    else:
        text, beside = review_article(made, path.stem)
    for file, data in beside.items():
        write_output(path.with_name(file), data)
    environment.write(output, text.encode())


app = APPS["export"] = command_app("Write runs in other formats.")
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
    from metrograph.services.run_reading import document_schema, exported

    environment = environment_of(ctx)
    text = document_schema() if schema else exported(environment, logbook, names, show_personal).json
    _write(environment, None if schema else output, text)


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
    from metrograph.services.run_reading import exported

    environment = environment_of(ctx)
    runs = exported(environment, logbook, names, show_personal)
    files, folder = runs.tables, environment.folder / output
    _make_folder(folder)
    for name, text in files.items():
        write_output(folder / f"{name}.csv", text.encode())
    environment.say(f"{shown_path(folder)}: {len(files)} tables of {len(runs.runs)} runs")


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
    from metrograph.services.run_reading import exported

    environment = environment_of(ctx)
    runs = exported(environment, logbook, names, show_personal)
    rows = runs.write_parquet(environment.folder / output)
    environment.say(f"{shown_path(environment.folder / output)}: {rows} rows of {len(runs.runs)} runs")


@app.command("chapters", epilog=examples("metrograph export chapters larkmoor-8.0-heron-1 -o chapters.vtt"))
@app.command(
    "vtt", hidden=True, epilog=examples("metrograph export vtt larkmoor-8.0-heron-1 -o chapters.vtt --starts 0:40")
)
def chapters(
    ctx: typer.Context,
    run: RunArgument,
    output: FileOption = None,
    starts: Annotated[
        str | None, typer.Option(metavar="TIME", help="Where on the run's time the recording begins.")
    ] = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write screens as chapters of the recording: WebVTT.

    Where no screen was noted, phases, trials and trouble are the chapters.
    """
    from metrograph.services.run_reading import exported

    environment = environment_of(ctx)
    begin = 0 if starts is None else parse_time(starts)
    if begin is None:
        raise MetrographError(f"--starts “{starts}” cannot be read; expected: {EXPECTED_TIME}")
    _write(environment, output, exported(environment, logbook, [run], show_personal, one=True).chapters(begin))


@app.command(epilog=examples("metrograph export md larkmoor-8.0-heron-1 -o heron.md"))
def md(
    ctx: typer.Context,
    run: RunArgument,
    output: FileOption = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write the review of a release as Markdown.

    With front matter for a static site. The same as “review -o FILE.md”; on standard output it has no figures.
    """
    environment = environment_of(ctx)
    if output is not None and not is_stream(output):
        _make_folder((environment.folder / output).parent)
        _write_review(environment, run, output.with_suffix(".md"), logbook, show_personal)
        return
    from metrograph.services.outward.reviewing import review_article, reviewed

    text, _ = review_article(reviewed(environment, logbook, run, show_personal), None)
    environment.write(output, text.encode())


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
