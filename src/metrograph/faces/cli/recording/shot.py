"""Keeps a picture as evidence."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import AtOption, LogbookOption, RunOption, command_app, examples
from metrograph.intake.source import KeptPicture, Timing, ingest
from metrograph.log.quantities.times import format_time
from metrograph.log.writer import format_words
from metrograph.store.local.checksums import keep_picture, newest_picture
from metrograph.store.local.logbook import Logbook
from metrograph.store.memory import find_run

app = command_app()


@app.command(epilog=examples("metrograph shot disk.png", "metrograph shot ~/viewer-pictures --at 4:10"))
def shot(
    ctx: typer.Context,
    path: Annotated[Path, typer.Argument(metavar="FILE", help="A picture, or a folder: its newest since the last.")],
    at: AtOption = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Keep a picture as evidence, in the logbook and in the run.

    It is copied under its checksum. Its time is that of its file where that lies within the run, and now where not.
    """
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    name = find_run(book, run)
    source = environment.folder / path
    if source.is_dir():
        source = newest_picture(source, _last_shot(book, name))
    picture = keep_picture(book, source)
    taken = ingest(book, name, KeptPicture(picture), Timing(environment.started(), at))
    with environment.once_written():
        for cue in taken.cues:
            environment.say(f"{name}  {format_time(cue.at)}  {format_words(cue)}")


def _last_shot(book: Logbook, run: str) -> float:
    """Seconds since 1970 of the run's last picture, or of its beginning."""
    log = book.check_writable(run)
    begun = log.header.begun.timestamp() if log.header.begun else 0.0
    return begun + max((cue.at for cue in log.cues if cue.verb == "shot"), default=0) / 1000
