"""Closes a run."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated

import typer

from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import AtOption, LogbookOption, RunOption, command_app, examples
from metrograph.log.cues import Cue
from metrograph.log.quantities.times import format_time, show_duration
from metrograph.plan.plan import load_plan, still_to_do
from metrograph.run.records import Run
from metrograph.store.clock import When
from metrograph.store.local.logbook import Logbook
from metrograph.store.memory import find_run
from metrograph.store.reading import LogReader
from metrograph.words.runs import lacking, todo

app = command_app()


class How(StrEnum):
    """How a run ended."""

    done = "done"
    abandoned = "abandoned"


@app.command(epilog=examples("metrograph end", "metrograph end abandoned --at 31:40"))
def end(
    ctx: typer.Context,
    how: Annotated[How, typer.Argument(metavar="[done|abandoned]", help="Whether it came to its end.")] = How.done,
    at: AtOption = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Close a run and say what the record still lacks."""
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    name = find_run(book, run)
    written = book.append(name, [Cue(0, "end", None, how.value)], When(environment.started(), at))
    with environment.once_written():
        reader = LogReader(book)
        folded = reader.run(name)
        clock = folded.clock
        environment.say(f"{name} ended at {format_time(written.cues[0].at)}: {how.value}")
        environment.say(
            f"  on the clock {show_duration(clock.on_clock)}, hands-on {show_duration(clock.person)},"
            f" waiting {show_duration(clock.machine)}"
        )
        _tell_lacks(environment, reader, book, folded)
        environment.warn_of(reader.faults)


def _tell_lacks(environment: Environment, reader: LogReader, book: Logbook, run: Run) -> None:
    """Says what the record would need to be compared."""
    plan = load_plan(reader, book, run.like, run.run, run.rig)
    missing = lacking(run, still_to_do(run, reader.settings.checklist, plan))
    if missing:
        environment.say("Still lacking, and addable with “metrograph cue --run ... --at TIME”:")
    for sentence in missing:
        environment.say(f"  {sentence}")
    if run.todos:
        environment.say("Left to do:")
    for left in run.todos:
        environment.say(f"  {todo(left.text, left.reader)}")
