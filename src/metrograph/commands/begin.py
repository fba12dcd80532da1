"""Opens a run."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.commands.environment import (
    Environment,
    LogbookOption,
    command_app,
    complete_release,
    complete_rig,
    complete_run,
    environment_of,
    examples,
)
from metrograph.commands.moments import begin_time
from metrograph.errors import MetrographError
from metrograph.language.header import WAYS
from metrograph.language.suggest import suggest
from metrograph.logbook.cards import load_card
from metrograph.logbook.folder import Logbook, unknown
from metrograph.logbook.journal import begin as begin_run
from metrograph.logbook.journal import open_runs
from metrograph.model.cards import Release, Rig
from metrograph.model.cues import Header

app = command_app()


@app.command(
    epilog=examples(
        "metrograph begin larkmoor-8.0-heron --rig bench-vm",
        "metrograph begin larkmoor-8.0-heron --rig bench-vm --begun 10:04",
        "metrograph begin larkmoor-8.0-heron --rig bench-vm --like larkmoor-7.0-heron-1",
    )
)
def begin(
    ctx: typer.Context,
    release: Annotated[str, typer.Argument(metavar="RELEASE", autocompletion=complete_release)],
    rig: Annotated[
        str | None,
        typer.Option(metavar="RIG", autocompletion=complete_rig, help="May be left out where there is one only."),
    ] = None,
    begun: Annotated[
        str | None, typer.Option(metavar="TIME", help="When it began, for a record after the fact.")
    ] = None,
    like: Annotated[
        str | None,
        typer.Option(metavar="RUN", autocompletion=complete_run, help="The run whose path this one repeats."),
    ] = None,
    way: Annotated[str, typer.Option(help="fresh, upgrade (with what from), beside or inside.")] = "fresh",
    reviewer: Annotated[str | None, typer.Option(help="Who records it.")] = None,
    logbook: LogbookOption = None,
) -> None:
    """Open a run and start its clock."""
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    load_card(book, Release, release)
    rig = rig or _only_rig(book)
    load_card(book, Rig, rig)
    if like is not None and not book.log(like).is_file():
        raise unknown("run", like, book.run_names(), "“metrograph runs” lists them")
    if way.partition(" ")[0] not in WAYS:
        raise MetrographError(f"there is no way to install called “{way}”; expected: {suggest(way, WAYS)}")
    others = {"way": None if way == "fresh" else way, "reviewer": reviewer, "like": like}
    said = tuple((key, " ".join(value.split())) for key, value in others.items() if value)
    others_open = open_runs(book)
    run = begin_run(book, Header(release, rig, begin_time(environment, begun), said), environment.started())
    _tell(environment, run, rig, others_open)


def _tell(environment: Environment, run: str, rig: str, others_open: list[str]) -> None:
    environment.say(f"{run} on {rig}: the clock runs. “metrograph cue screen Boot menu” records the first screen")
    if others_open:
        environment.warn(f"still open besides: {', '.join(others_open)}; say which run a cue is for with --run")


def _only_rig(book: Logbook) -> str:
    rigs = book.cards("rigs")
    if len(rigs) != 1:
        known = f"; known: {', '.join(rigs)}" if rigs else "; “metrograph rig new ID” makes the card of one"
        raise MetrographError(f"say which rig with --rig{known}")
    return rigs[0]
