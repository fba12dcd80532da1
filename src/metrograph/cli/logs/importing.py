"""Takes in what was recorded elsewhere."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import typer

from metrograph.cli.environment import Environment, environment_of
from metrograph.cli.options import LogbookOption, RunOption, command_app, examples
from metrograph.errors import MetrographError
from metrograph.log.cues import Log
from metrograph.log.quantities.times import EXPECTED_TIME, format_time, parse_time
from metrograph.log.writer import format_line
from metrograph.store.local.files import read_bytes
from metrograph.store.local.logbook import Logbook, shown_path
from metrograph.store.selection import find_run

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
        str | None, typer.Option(metavar="TIME", help="Where on the run's time the recording begins.")
    ] = None,
    cut: Annotated[
        list[str] | None, typer.Option(metavar="AT=LENGTH", help="Real time that the recording leaves out; repeatable.")
    ] = None,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Show the cues and write nothing.")] = False,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Turn timed notes into cues.

    A note in the language of the run log becomes that cue; any other becomes a note, and none is left out. What the
    run has already, to the letter, is not written again.
    """
    from metrograph.sources.ingest import Timing, ingest
    from metrograph.sources.notes import Notes

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    path = environment.folder / file
    begin = _time(starts, "--starts") if starts is not None else 0
    timing = Timing(environment.started(), starts=begin, cuts=tuple(map(_cut, cut or ())))
    source = Notes(read_bytes(path, "file of notes"), shown_path(path))
    name = find_run(book, run)
    result = ingest(book, name, source, timing, dry_run)
    for cue in result.cues if dry_run else result.written:
        environment.say(f"{name}  {format_time(cue.at)}  {format_line(cue)}")
    plain = sum(cue.verb == "note" for cue in result.cues)
    environment.warn(
        f"{len(result.cues)} notes, {plain} of them as they are; {len(result.written)} cues written to {name}"
    )


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
    from metrograph.sources.document import read_document

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
    from metrograph.sources.csv_logs import logs_from_csv

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
    from metrograph.sources.whole_logs import Fate, take_in

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


def _cut(text: str) -> tuple[int, int]:
    place, _, length = text.partition("=")
    return _time(place, "--cut"), _time(length, "--cut")


def _time(text: str, option: str) -> int:
    milliseconds = parse_time(text.strip())
    if milliseconds is None:
        raise MetrographError(f"{option} “{text}” cannot be read; expected: {EXPECTED_TIME}")
    return milliseconds
