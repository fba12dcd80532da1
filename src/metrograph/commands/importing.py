"""Takes in what was recorded elsewhere."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import msgspec
import typer

from metrograph.commands.environment import Environment, LogbookOption, RunOption, command_app, environment_of, examples
from metrograph.errors import MetrographError
from metrograph.exchange.notes import read_notes, to_cue
from metrograph.language.rebuilt import rebuilt
from metrograph.language.times import EXPECTED_TIME, format_time, parse_time
from metrograph.language.writer import format_line
from metrograph.logbook.files import create, read_bytes
from metrograph.logbook.folder import Logbook, check_id, split_run
from metrograph.logbook.journal import find_run, record_all
from metrograph.logbook.selection import Reader, shown_path
from metrograph.model.cues import Cue, Log

app = command_app("Take in what was recorded elsewhere.")


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
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    path = environment.folder / file
    cuts = [_cut(each) for each in cut or []]
    begin = _time(starts, "--starts") if starts is not None else 0
    said = [to_cue(note) for note in read_notes(read_bytes(path, "file of notes"), shown_path(path))]
    cues = [msgspec.structs.replace(cue, at=on_run_time(cue.at, begin, cuts)) for cue in said]
    name = find_run(book, run)

    def make(log: Log) -> list[Cue]:
        return [] if dry_run else [cue for cue in dict.fromkeys(cues) if cue not in set(log.cues)]

    written = record_all(book, name, make)
    for cue in cues if dry_run else written:
        environment.say(f"{name}  {format_time(cue.at)}  {format_line(cue)}")
    plain = sum(cue.verb == "note" for cue in cues)
    environment.warn(f"{len(cues)} notes, {plain} of them as they are; {len(written)} cues written to {name}")


@app.command(epilog=examples("metrograph import json archive.json", "metrograph import json archive.json --dry-run"))
def json(
    ctx: typer.Context,
    file: Annotated[Path, typer.Argument(metavar="FILE", help="What “metrograph export json” wrote.")],
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Say what would be written, and write nothing.")] = False,
    logbook: LogbookOption = None,
) -> None:
    """Take in logs from a JSON document.

    A run that is there already is left as it is, and said to differ when it does.
    """
    from metrograph.exchange.archive import read_archive

    environment = environment_of(ctx)
    path = environment.folder / file
    logs = read_archive(read_bytes(path, "document"), shown_path(path))
    _take_in(environment, environment.logbook(logbook), logs, dry_run)


@app.command(epilog=examples("metrograph import csv tables", "metrograph import csv tables --dry-run"))
def csv(
    ctx: typer.Context,
    folder: Annotated[Path, typer.Argument(metavar="DIR", help="What “metrograph export csv” wrote.")],
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Say what would be written, and write nothing.")] = False,
    logbook: LogbookOption = None,
) -> None:
    """Take in logs from tables.

    Reads headers.csv and cues.csv. A run that is there already is left as it is, and said to differ when it does.
    """
    from metrograph.exchange.tables import logs_from_csv

    environment = environment_of(ctx)
    texts = []
    for name in ("headers.csv", "cues.csv"):
        path = environment.folder / folder / name
        try:
            texts.append(read_bytes(path, "table").decode("utf-8-sig"))
        except UnicodeDecodeError as error:
            raise MetrographError(f"{shown_path(path)} is not UTF-8: {error}") from error
    _take_in(environment, environment.logbook(logbook), logs_from_csv(*texts), dry_run)


def _take_in(environment: Environment, book: Logbook, logs: Sequence[tuple[str, Log]], dry_run: bool) -> None:
    """Writes logs that are not there yet; all are looked at before the first is written."""
    kinds = book.lexicon().kinds
    made = []
    for run, log in logs:
        if split_run(check_id(run, "run"))[0] != log.header.release:
            raise MetrographError(f"{run} cannot be a run of “{log.header.release}”; expected: {log.header.release}-1")
        made.append((run, log, rebuilt(log, lambda: kinds)))
    new = same = differing = 0
    for run, log, text in made:
        path = book.log(run)
        if path.exists():
            there = Reader(book).log(path)
            agrees = (there.header, there.cues) == (log.header, log.cues)
            same, differing = same + agrees, differing + (not agrees)
            environment.say(f"{run} is there already" + ("" if agrees else ", and differs; it is left as it is"))
        elif dry_run or create(path, text):
            new += 1
            environment.say(f"{run}  {len(log.cues)} cues")
    environment.warn(f"{new} runs {'to write' if dry_run else 'written'}, {same} there already, {differing} differ")
    if differing:
        raise typer.Exit(1)


def on_run_time(at: int, begin: int, cuts: list[tuple[int, int]]) -> int:
    """A time of the recording on the run's time, in milliseconds.

    begin: where on the run's time the recording begins.
    cuts: where in the recording real time was left out, and how much.
    """
    return at + begin + sum(length for place, length in cuts if place <= at)


def _cut(text: str) -> tuple[int, int]:
    place, _, length = text.partition("=")
    return _time(place, "--cut"), _time(length, "--cut")


def _time(text: str, option: str) -> int:
    milliseconds = parse_time(text.strip())
    if milliseconds is None:
        raise MetrographError(f"{option} “{text}” cannot be read; expected: {EXPECTED_TIME}")
    return milliseconds
