"""Takes a cue back."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import LogbookOption, RunOption, command_app, examples, whole_number
from metrograph.store.memory import find_run

app = command_app()


@app.command(epilog=examples("metrograph undo", "metrograph undo 14 --run larkmoor-8.0-heron-1"))
def undo(
    ctx: typer.Context,
    line: Annotated[
        int | None, typer.Argument(metavar="[LINE]", parser=whole_number, help="Of the log; else the last cue.")
    ] = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Take the last cue back, or the one on a line of the log."""
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    name = find_run(book, run)
    taken = book.take_back(name, line)
    with environment.once_written():
        for text in taken.split("\n"):
            environment.say(f"{name}  taken back: {text.rstrip()}")
