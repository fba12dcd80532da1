"""Keeps a picture as evidence."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path
from typing import Annotated

import typer

from metrograph.commands.environment import AtOption, LogbookOption, RunOption, command_app, environment_of, examples
from metrograph.language.times import format_time
from metrograph.language.writer import format_words
from metrograph.logbook.clock import Instant, elapsed
from metrograph.logbook.folder import Logbook
from metrograph.logbook.journal import find_run, read_run, record
from metrograph.logbook.moments import cue_time
from metrograph.logbook.pictures import Picture, keep_picture, newest_picture
from metrograph.model.cues import Cue, Header, Log

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

    def make(log: Log) -> Cue:
        now = cue_time(log, environment.started(), at)
        taken = now if at is not None else _within(log.header, picture, now)
        return Cue(taken, "shot", None, picture.path, (("sha256", picture.sha256),))

    written = record(book, name, make, environment.started())
    environment.say(f"{name}  {format_time(written.at)}  {format_words(written)}")


def _within(header: Header, picture: Picture, now: int) -> int:
    """Milliseconds from ``begun`` to when the picture was taken, if that was between then and now."""
    wall = datetime.fromtimestamp(picture.taken).astimezone()
    taken = elapsed(header, Instant(wall, boot="", ticks=0.0))
    return taken if taken is not None and 0 <= taken <= now else now


def _last_shot(book: Logbook, run: str) -> float:
    """Seconds since 1970 of the run's last picture, or of its beginning."""
    log = read_run(book.log(run), run)
    begun = log.header.begun.timestamp() if log.header.begun else 0.0
    return begun + max((cue.at for cue in log.cues if cue.verb == "shot"), default=0) / 1000
