"""Closes a run."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated

import typer

from metrograph.analysis.doubts import lacks
from metrograph.analysis.plan import still_to_do
from metrograph.commands.environment import AtOption, LogbookOption, RunOption, command_app, environment_of, examples
from metrograph.language.times import format_time, show_duration
from metrograph.logbook.journal import find_run, record
from metrograph.logbook.moments import cue_time
from metrograph.logbook.selection import Reader
from metrograph.model.cues import Cue

app = command_app()


class How(StrEnum):
    """How a run ended."""

    done = "done"
    abandoned = "abandoned"


@app.command(epilog=examples("metrograph end", "metrograph end abandoned --at 31:40"))
def end(
    ctx: typer.Context,
    how: Annotated[How, typer.Argument(help="Whether it came to its end.")] = How.done,
    at: AtOption = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Close a run and say what the record still lacks."""
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    name = find_run(book, run)
    written = record(
        book,
        name,
        lambda log: Cue(cue_time(log, environment.started(), at), "end", None, how.value),
        environment.started(),
    )
    reader = Reader(book)
    folded = reader.run(name, book.log(name))
    clock = folded.clock
    environment.say(f"{name} ended at {format_time(written.at)}: {how.value}")
    environment.say(
        f"  on the clock {show_duration(clock.on_clock)}, hands-on {show_duration(clock.person)},"
        f" waiting {show_duration(clock.machine)}"
    )
    to_try, to_read = still_to_do(folded, book.checklist(), reader.plan(folded.like, name))
    missing = lacks(folded) + [f"the trial “{each}” was not made" for each in to_try]
    missing += [f"“{each}” was not read" for each in to_read]
    if missing:
        environment.say("Still lacking, and addable with “metrograph cue --run ... --at TIME”:")
    for sentence in missing:
        environment.say(f"  {sentence}")
    environment.warn_of(reader.faults)
