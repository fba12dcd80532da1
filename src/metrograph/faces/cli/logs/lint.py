"""Finds every error and every doubtful place in logs and cards."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import msgspec
import typer

from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import JsonOption, LogbookOption, command_app, examples
from metrograph.log.cues import Fault
from metrograph.store.local.logbook import Logbook
from metrograph.store.survey import all_files, survey_files
from metrograph.words.figures import counted

app = command_app()


class Findings(msgspec.Struct, frozen=True):
    """What lint found."""

    faults: tuple[Fault, ...]


@app.command(
    epilog=examples("metrograph lint", "metrograph lint larkmoor-8.0-heron-1", "metrograph lint rigs/bench-vm.toml")
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
    environment = environment_of(ctx)
    book = environment.logbook_or_none(logbook) if files else environment.logbook(logbook)
    paths = [_found(path, book) for path in files] if files else all_files(environment.logbook(logbook))
    faults = survey_files(environment.track(paths, "looking through"), book)
    if json:
        environment.show_json(Findings(faults))
    else:
        from metrograph.show.terminal.writer import render_faults

        environment.print(render_faults(faults, environment.paper()))
        errors = sum(fault.level == "error" for fault in faults)
        counts = f"{counted(errors, 'error')}, {counted(len(faults) - errors, 'warning')}"
        environment.warn(counts if faults else "no faults")
    if any(strict or fault.level == "error" for fault in faults):
        raise typer.Exit(1)


def _found(named: Path, book: Logbook | None) -> Path:
    """The file that was named, or the log of the run that was."""
    name = str(named)
    is_run = book is not None and not named.exists() and name in book.run_names()
    return Path(book.label(name)) if book is not None and is_run else named
