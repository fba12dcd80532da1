"""Makes a logbook."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from metrograph.cli.environment import environment_of
from metrograph.cli.options import command_app, examples
from metrograph.store.local.logbook import make_logbook

app = command_app()


@app.command(epilog=examples("metrograph init", "metrograph init ~/reviews"))
def init(
    ctx: typer.Context,
    folder: Annotated[Path | None, typer.Argument(metavar="[DIR]", help="The folder; this one unless said.")] = None,
) -> None:
    """Make a logbook, a folder for cards and logs."""
    environment = environment_of(ctx)
    path = environment.folder / (folder or "")
    made = make_logbook(path)
    environment.say(f"{path} is a logbook now" if made else f"{path} is a logbook already; nothing was changed")
