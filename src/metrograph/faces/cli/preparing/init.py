"""Makes a logbook."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import command_app, examples
from metrograph.store.local.logbook import logbook_above, make_logbook

app = command_app()


@app.command(epilog=examples("metrograph init", "metrograph init ~/reviews"))
def init(
    ctx: typer.Context,
    folder: Annotated[Path | None, typer.Argument(metavar="[DIR]", help="The folder; this one unless said.")] = None,
    within: Annotated[bool, typer.Option("--within", help="Also in a folder of another logbook.")] = False,
) -> None:
    """Make a logbook, a folder for cards and logs."""
    environment = environment_of(ctx)
    path = environment.folder / (folder or "")
    outer = logbook_above(path.resolve().parent)
    if outer is not None and not within and logbook_above(path) != path:
        _ask(environment, path, outer)
    made = make_logbook(path)
    environment.say(f"{path} is a logbook now" if made else f"{path} is a logbook already; nothing was changed")


def _ask(environment: Environment, path: Path, outer: Path) -> None:
    """Asks at a terminal whether a logbook within another one is meant; commands in it see that one only."""
    what = f"{path} lies in the logbook {outer}"
    if not environment.is_interactive():
        raise MetrographError(f"{what}; nothing was made. “metrograph init --within” makes one there all the same")
    if not typer.confirm(f"{what}. Make another one in it?", default=False):
        raise MetrographError("nothing was made")
