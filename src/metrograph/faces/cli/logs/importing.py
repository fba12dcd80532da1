"""Takes in what was recorded elsewhere."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import LogbookOption, RunOption, command_app, examples
from metrograph.intake.source import Ingested, Timing
from metrograph.log.cues import Log
from metrograph.log.faults import Unreadable
from metrograph.log.quantities.quantity import parse_length
from metrograph.log.quantities.times import EXPECTED_TIME, format_time, parse_time
from metrograph.log.writer import format_line
from metrograph.store.local.files import read_bytes
from metrograph.store.local.logbook import Logbook, shown_path
from metrograph.store.memory import find_run
from metrograph.words.figures import counted

app = command_app("Take in what was recorded elsewhere.")
DryRunOption = Annotated[bool, typer.Option("--dry-run", help="Say what would be written, and write nothing.")]


@app.command(
    epilog=examples(
        "metrograph import notes captions.vtt --run larkmoor-8.0-heron-1",
        "metrograph import notes talk.srt --starts 0:40 --cut 12:30=8:00 --dry-run",
    )
)
def notes(
    ctx: typer.Context,
    file: Annotated[Path, typer.Argument(metavar="FILE", help="WebVTT, SubRip, CSV, or lines with a leading time.")],
    starts: Annotated[
        str | None,
        typer.Option(metavar="TIME", help="Where on the run's time the recording begins; -1:05 if it began before."),
    ] = None,
    cut: Annotated[
        list[str] | None,
        typer.Option(metavar="AT=LENGTH", help="Real time that it leaves out: 8:00, 5:00..6:00 or ?; repeatable."),
    ] = None,
    as_notes: Annotated[
        bool, typer.Option("--as-notes", help="Take what begins like a cue and is none for a note.")
    ] = False,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Show the cues and write nothing.")] = False,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Turn timed notes into cues.

    A note in the language of the run log becomes that cue; any other becomes a note, and none is left out. Where one
    begins like a cue and cannot be read, nothing is written until it is mended. What the run has already is not
    written again, also where it was mended there.
    """
    from metrograph.intake.notes import Notes
    from metrograph.intake.source import ingest

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    path = environment.folder / file
    timing = _timing(environment, starts, cut or [])
    source = Notes(read_bytes(path, "file of notes"), shown_path(path))
    name = find_run(book, run)
    faults = source.faults
    if faults and not as_notes:
        environment.warn_of(faults)
        raise MetrographError(
            f"{counted(len(faults), 'line')} of {shown_path(path)} begin like cues and cannot be read; mend them, or"
            " take them as notes with --as-notes. Nothing was recorded"
        )
    result = ingest(book, name, source, timing, dry_run)
    with environment.once_written():
        for cue in result.cues if dry_run else result.written:
            environment.say(f"{name}  {format_time(cue.at)}  {format_line(cue)}")
        for cue, there in result.mended:
            environment.warn(
                f"{format_time(cue.at)} “{format_line(cue)}” stands in the log as “{format_line(there)}”"
                f" (line {there.line}), and stays so"
            )
        environment.warn(_summary(result, len(faults), name, dry_run))


@app.command(epilog=examples("metrograph import json archive.json", "metrograph import json archive.json --dry-run"))
def json(
    ctx: typer.Context,
    file: Annotated[Path, typer.Argument(metavar="FILE", help="What “metrograph export json” wrote.")],
    dry_run: DryRunOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Take in logs from a JSON document.

    A run that is there already is left as it is, and said to differ when it does.
    """
    from metrograph.intake.logs import read_document

    environment = environment_of(ctx)
    path = environment.folder / file
    logs = read_document(read_bytes(path, "document"), shown_path(path))
    _take_in(environment, environment.logbook(logbook), logs, dry_run)


@app.command(epilog=examples("metrograph import csv tables", "metrograph import csv tables --dry-run"))
def csv(
    ctx: typer.Context,
    folder: Annotated[Path, typer.Argument(metavar="DIR", help="What “metrograph export csv” wrote.")],
    dry_run: DryRunOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Take in logs from tables.

    Reads headers.csv and cues.csv. A run that is there already is left as it is, and said to differ when it does.
    """
    from metrograph.intake.logs import logs_from_csv

    environment = environment_of(ctx)
    headers, cues = (_table(environment.folder / folder / name) for name in ("headers.csv", "cues.csv"))
    _take_in(environment, environment.logbook(logbook), logs_from_csv(headers, cues), dry_run)


def _table(path: Path) -> str:
    try:
        return read_bytes(path, "table").decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise MetrographError(f"{shown_path(path)} is not UTF-8: {error}") from error


def _take_in(environment: Environment, book: Logbook, logs: Sequence[tuple[str, Log]], dry_run: bool) -> None:
    """Writes logs that are not there yet, and says what became of each."""
    from metrograph.intake.logs import Fate, take_in

    arrived = take_in(book, logs, dry_run)
    for log in arrived:
        if log.fate is Fate.NEW:
            environment.say(f"{log.run}  {log.cues} cues")
        else:
            differs = ", and differs; it is left as it is" if log.fate is Fate.DIFFERS else ""
            environment.say(f"{log.run} is there already{differs}")
    new, same, differing = (sum(log.fate is fate for log in arrived) for fate in (Fate.NEW, Fate.SAME, Fate.DIFFERS))
    environment.warn(f"{new} runs {'to write' if dry_run else 'written'}, {same} there already, {differing} differ")
    if differing:
        raise typer.Exit(1)


def _summary(result: Ingested, misread: int, run: str, dry_run: bool) -> str:
    plain = sum(cue.verb == "note" for cue in result.cues) - misread
    there = len(result.cues) - len(result.new) - len(result.mended)
    parts = [f"{counted(len(result.cues), 'note')}, {plain} of them as they are"]
    parts += [f"{misread} that only begin like cues"] if misread else []
    parts += [f"{there} there already"] if there else []
    return f"{', '.join(parts)}; {counted(len(result.new), 'cue')} {'to write' if dry_run else 'written'} to {run}"


def _timing(environment: Environment, starts: str | None, cuts: Sequence[str]) -> Timing:
    """How the recording lies on the run's time; a cut whose length is not known exactly becomes one of the run."""
    exact, loose = [], []
    for cut in cuts:
        place, _, length = cut.partition("=")
        at = _time(place, "--cut")
        try:
            amount = parse_length(length.strip())
        except Unreadable as wrong:
            raise MetrographError(f"--cut “{cut}”: {wrong.sentence}") from wrong
        if amount.exact and not amount.about:
            exact.append((at, round(amount.low * 1000)))
        else:
            loose.append((at, length.strip()))
    begin = 0
    if starts is not None:
        begin = -_time(starts[1:], "--starts") if starts.startswith("-") else _time(starts, "--starts")
    return Timing(environment.started(), starts=begin, cuts=tuple(exact), loose=tuple(loose))


def _time(text: str, option: str) -> int:
    milliseconds = parse_time(text.strip())
    if milliseconds is None:
        raise MetrographError(f"{option} “{text}” cannot be read; expected: {EXPECTED_TIME}")
    return milliseconds
