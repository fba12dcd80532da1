"""Writes the screen that the plan has next."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.analysis.plan import next_screen
from metrograph.commands.environment import AtOption, LogbookOption, RunOption, command_app, environment_of, examples
from metrograph.commands.moments import cue_time
from metrograph.errors import MetrographError
from metrograph.language.escapes import join_list
from metrograph.language.times import format_time
from metrograph.language.writer import format_line
from metrograph.logbook.folder import Logbook
from metrograph.logbook.journal import find_run, record
from metrograph.logbook.selection import Reader
from metrograph.model.cues import Cue, Log
from metrograph.model.runs import Choice, Screen

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

    The plan is the run that “begin --like RUN” named. With --same, what was kept and chosen on that screen last time is
    written as well; what was typed is not.
    """
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    name = find_run(book, run)
    screen = _planned(book, name)
    choices = [choice for choice in screen.choices if choice.how != "typed"] if same else []
    for cue in [_screen_cue(screen), *map(_choice_cue, choices)]:

        def make(log: Log, cue: Cue = cue) -> Cue:
            moment = cue_time(environment, log, at)
            return Cue(moment, cue.verb, cue.name, cue.text, cue.fields)

        written = record(book, name, make)
        environment.say(f"{name}  {format_time(written.at)}  {format_line(written)}")


def _planned(book: Logbook, name: str) -> Screen:
    """The plan's next screen; raises MetrographError when there is no plan or it is at its end."""
    reader = Reader(book)
    run = reader.run(name, book.log(name))
    if not run.like or not book.log(run.like).is_file():
        raise MetrographError(f"{name} has no plan; “metrograph begin RELEASE --like RUN” gives it one")
    screen = next_screen(reader.run(run.like, book.log(run.like)), run)
    if screen is None:
        raise MetrographError(f"the plan {run.like} has no screen after this one")
    return screen


def _screen_cue(screen: Screen) -> Cue:
    return Cue(0, "screen", None, screen.title, (("kind", screen.kind),))


def _choice_cue(choice: Choice) -> Cue:
    fields = (("was", choice.preset),) if choice.how == "chosen" and choice.preset is not None else ()
    offered = (("offered", join_list(choice.offered)),) if choice.offered else ()
    return Cue(0, "keep" if choice.how == "kept" else "choose", choice.key, choice.value or "", (*fields, *offered))
