"""Commands that show runs as they are, one by one or in a list, and find what is wrong in them."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import JsonOption, LogbookOption, PersonalOption, complete_run, examples, single

APPS: dict[str, typer.Typer] = {}


@single(APPS, "runs", epilog=examples("metrograph runs", "metrograph runs --json"))
def runs(
    ctx: typer.Context,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """List the runs in the logbook, a line each."""
    from metrograph.services.run_reading import runs_result

    environment = environment_of(ctx)
    environment.give(runs_result(environment, logbook, show_personal), json)


@single(
    APPS, "show", epilog=examples("metrograph show larkmoor-8.0-heron-1", "metrograph show --json notes/first.metro")
)
def show(
    ctx: typer.Context,
    run: Annotated[
        str,
        typer.Argument(
            metavar="RUN",
            autocompletion=complete_run,
            help="A run, a release for its latest run, “latest”, or a log's path.",
        ),
    ],
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Show one run: timeline, screens, choices, issues, readings."""
    from metrograph.services.run_reading import run_result

    environment = environment_of(ctx)
    environment.give(run_result(environment, logbook, run, show_personal), json)


@single(
    APPS,
    "lint",
    epilog=examples("metrograph lint", "metrograph lint larkmoor-8.0-heron-1", "metrograph lint rigs/bench-vm.toml"),
)
def lint(
    ctx: typer.Context,
    files: Annotated[
        list[Path] | None, typer.Argument(metavar="[FILE...]", help="Logs or cards, or runs by name; all unless said.")
    ] = None,
    strict: Annotated[bool, typer.Option("--strict", help="Exit with 1 on a warning, too.")] = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Report every error and warning in logs and cards.

    All in one pass, with the place and what could stand there. Exits with 1 when there is an error.
    """
    from metrograph.services.run_reading import survey

    environment = environment_of(ctx)
    found = survey(environment, logbook, files)
    if json:
        environment.show_json(found)
    else:
        environment.tell_faults(found, leave=False)
    if found.errors or (strict and found.faults):
        raise typer.Exit(1)
