"""Opens a run's log in the person's editor, and looks through it afterwards."""

from __future__ import annotations

import shlex
import subprocess

import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import LogbookOption, RunArgument, command_app, examples
from metrograph.store.memory import find_run
from metrograph.words.figures import counted

app = command_app()


@app.command(epilog=examples("metrograph edit", "metrograph edit larkmoor-8.0-heron-1"))
def edit(ctx: typer.Context, run: RunArgument = None, logbook: LogbookOption = None) -> None:
    """Open a run's log in $VISUAL or $EDITOR, then lint it.

    Without a name, the open run. Cues that come meanwhile are kept: an editor that asks before it saves over them is
    answered with no, and the log read anew.
    """
    from metrograph.show.terminal.writer import render_faults
    from metrograph.store.survey import survey_files

    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    path = book.log(find_run(book, run))
    words = _editor(environment)
    try:
        done = subprocess.run([*words, str(path)], check=False)  # noqa: S603 - the person's own editor
    except OSError as error:
        raise MetrographError(
            f"{words[0]} cannot be started: {error.strerror}; VISUAL or EDITOR names another"
        ) from error
    if done.returncode:
        raise MetrographError(f"{words[0]} left with {done.returncode}; the log was not looked at")
    faults = survey_files([path], book)
    environment.print(render_faults(faults, environment.paper()))
    errors = sum(fault.level == "error" for fault in faults)
    environment.warn(
        f"{counted(errors, 'error')}, {counted(len(faults) - errors, 'warning')}" if faults else "no faults"
    )
    if errors:
        raise typer.Exit(1)


def _editor(environment: Environment) -> list[str]:
    """The editor's command."""
    named = environment.variables.get("VISUAL") or environment.variables.get("EDITOR") or "vi"
    words = shlex.split(named)
    if not words:
        raise MetrographError("VISUAL or EDITOR names no editor")
    return words
