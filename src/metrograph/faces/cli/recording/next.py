"""Writes the screen that the plan has next."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import AtOption, LogbookOption, RunOption, command_app, examples
from metrograph.log.quantities.times import format_time
from metrograph.log.writer import format_line
from metrograph.plan.plan import Step, cues_of, load_plan, next_step
from metrograph.store.clock import When
from metrograph.store.local.logbook import Logbook
from metrograph.store.memory import find_run
from metrograph.store.reading import LogReader

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
    cues = cues_of(_planned(book, name), same)
    written = book.append(name, cues, When(environment.started(), at))
    with environment.once_written():
        for cue in written.cues:
            environment.say(f"{name}  {format_time(cue.at)}  {format_line(cue)}")


def _planned(book: Logbook, name: str) -> Step:
    """The plan's next step; raises MetrographError when there is no plan or it is at its end."""
    reader = LogReader(book)
    run = reader.run(name)
    plan = load_plan(reader, book, run.like, name, run.rig)
    if plan is None:
        raise MetrographError(f"{name} has no plan; “metrograph begin RELEASE --like RUN” gives it one")
    step = next_step(plan, run)
    if step is None:
        raise MetrographError(f"the plan {plan.name} has no screen after this one")
    return step
