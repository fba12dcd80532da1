"""Changes a cue."""

from __future__ import annotations

from typing import Annotated

import msgspec
import typer

from metrograph.commands.cue import read_words, refuse_unknown_options
from metrograph.commands.environment import AtOption, LogbookOption, RunOption, command_app, environment_of, examples
from metrograph.errors import MetrographError
from metrograph.logbook.journal import find_run
from metrograph.logbook.mending import change
from metrograph.logbook.moments import cue_time
from metrograph.model.cues import Cue, Log

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
    line: Annotated[int, typer.Argument(metavar="LINE", min=1, help="Where the cue begins in the log, as lint says.")],
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
    said = read_words(" ".join(words), book) if words else None
    if said is None and at is None:
        raise MetrographError("say what to change: the cue's words, its time with --at, or both")
    name = find_run(book, run)

    def make(log: Log, old: Cue | None) -> Cue:
        new = said or old
        if new is None or (old is None and at is None):
            raise MetrographError(f"the cue on line {line} cannot be read; give its words and its time with --at")
        moment = cue_time(log, environment.started(), at) if at is not None or old is None else old.at
        return msgspec.structs.replace(new, at=moment)

    for text in change(book, name, line, make).splitlines():
        environment.say(f"{name}  {text}")
