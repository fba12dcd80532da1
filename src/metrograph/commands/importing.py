"""Takes in what was recorded elsewhere."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import msgspec
import typer

from metrograph.commands.environment import LogbookOption, RunOption, command_app, environment_of, examples
from metrograph.errors import MetrographError
from metrograph.exchange.notes import read_notes, to_cue
from metrograph.language.times import EXPECTED_TIME, format_time, parse_time
from metrograph.language.writer import format_line
from metrograph.logbook.files import read_bytes
from metrograph.logbook.journal import find_run, record_all
from metrograph.logbook.selection import shown_path
from metrograph.model.cues import Cue, Log

app = command_app("Take in what was recorded elsewhere.")


@app.callback()
def _import() -> None:
    """Keeps `notes` a command of its own while it is the only one."""


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
