"""Changes a cue that was written, or takes it out."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import AtOption, LogbookOption, RunOption, command_app, examples, whole_number
from metrograph.faces.cli.recording.cue import read_words, refuse_unknown_options
from metrograph.store.clock import When
from metrograph.store.memory import find_run

app = command_app()


@app.command(
    context_settings={"ignore_unknown_options": True},
    epilog=examples(
        "metrograph mend 14 screen Language",
        "metrograph mend 14 --at 2:10",
        "metrograph mend 16 'choose swap = file | was none' --run larkmoor-8.0-heron-1",
    ),
)
def mend(
    ctx: typer.Context,
    line: Annotated[
        int, typer.Argument(metavar="LINE", parser=whole_number, help="Where the cue begins in the log, as lint says.")
    ],
    words: Annotated[list[str] | None, typer.Argument(metavar="[WORDS...]", help="The cue as it should be.")] = None,
    at: AtOption = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Change the words or the time of a cue in the log.

    What is not given stays: the time without --at, the words without any. Everything else in the log stays as it is.
    """
    environment = environment_of(ctx)
    refuse_unknown_options(words or [])
    book = environment.logbook(logbook)
    typed = read_words(" ".join(words), book) if words else None
    if typed is None and at is None:
        raise MetrographError("say what to change: the cue's words, its time with --at, or both")
    name = find_run(book, run)
    when = None if at is None else When(environment.started(), at)
    written = book.change(name, line, typed, when)
    with environment.once_written():
        for text in written.splitlines():
            environment.say(f"{name}  {text}")
