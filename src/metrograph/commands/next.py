"""Writes the screen that the plan has next."""

from __future__ import annotations

from typing import Annotated

import msgspec
import typer

from metrograph.analysis.plan import Step, cues_of, next_step
from metrograph.commands.environment import AtOption, LogbookOption, RunOption, command_app, environment_of, examples
from metrograph.errors import MetrographError
from metrograph.language.times import format_time
from metrograph.language.writer import format_line
from metrograph.logbook.folder import Logbook
from metrograph.logbook.journal import find_run, record
from metrograph.logbook.moments import cue_time
from metrograph.logbook.selection import Reader
from metrograph.model.cues import Cue, Log

app = command_app()


@app.command("next", epilog=examples("metrograph next", "metrograph next --same"))
def next_(
    ctx: typer.Context,
    same: Annotated[bool, typer.Option("--same", help="With the answers of last time, too.")] = False,
    at: AtOption = None,
    run: RunOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Write the screen that the plan has next.

    The plan is the run or release that “begin --like” named. With --same, what was kept and chosen on that
    screen last time is written as well; what was typed is not.
    """
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    name = find_run(book, run)
    for cue in cues_of(_planned(book, name), same):

        def make(log: Log, cue: Cue = cue) -> Cue:
            return msgspec.structs.replace(cue, at=cue_time(log, environment.started(), at))

        written = record(book, name, make, environment.started())
        environment.say(f"{name}  {format_time(written.at)}  {format_line(written)}")


def _planned(book: Logbook, name: str) -> Step:
    """The plan's next step; raises MetrographError when there is no plan or it is at its end."""
    reader = Reader(book)
    run = reader.run(name, book.log(name))
    plan = reader.plan(run.like, name)
    if plan is None:
        raise MetrographError(f"{name} has no plan; “metrograph begin RELEASE --like RUN” gives it one")
    step = next_step(plan, run)
    if step is None:
        raise MetrographError(f"the plan {plan.name} has no screen after this one")
    return step
