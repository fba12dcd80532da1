"""Finds every error and every doubtful place in logs and cards."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import msgspec
import typer

from metrograph.cli.environment import environment_of
from metrograph.cli.options import JsonOption, LogbookOption, command_app, examples
from metrograph.log.cues import Fault
from metrograph.present.wording.figures import counted
from metrograph.store.survey import all_files, survey_files

app = command_app()


class Findings(msgspec.Struct, frozen=True):
    """What lint found."""

    faults: tuple[Fault, ...]


@app.command(epilog=examples("metrograph lint", "metrograph lint runs/larkmoor-8.0-heron-1.metro"))
def lint(
    ctx: typer.Context,
    files: Annotated[
        list[Path] | None, typer.Argument(metavar="[FILE...]", help="Logs or cards; all unless said.")
    ] = None,
    strict: Annotated[bool, typer.Option("--strict", help="Exit with 1 on a warning, too.")] = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Report every error and warning in logs and cards.

    All in one pass, with the place and what could stand there. Exits with 1 when there is an error.
    """
    environment = environment_of(ctx)
    book = environment.logbook_or_none(logbook) if files else environment.logbook(logbook)
    paths = files or all_files(environment.logbook(logbook))
    faults = survey_files(environment.track(paths, "looking through"), book)
    if json:
        environment.show_json(Findings(faults))
    else:
        from metrograph.present.terminal.faults import render_faults

        environment.print(render_faults(faults, environment.paper()))
        errors = sum(fault.level == "error" for fault in faults)
        counts = f"{counted(errors, 'error')}, {counted(len(faults) - errors, 'warning')}"
        environment.warn(counts if faults else "no faults")
    if any(strict or fault.level == "error" for fault in faults):
        raise typer.Exit(1)
