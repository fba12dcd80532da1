"""Opens a run."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import LogbookOption, command_app, complete_release, examples
from metrograph.faces.cli.recording.opening import (
    BegunOption,
    LikeOption,
    ReviewerOption,
    RigOption,
    WayOption,
    open_run,
)

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
    rig: RigOption = None,
    begun: BegunOption = None,
    like: LikeOption = None,
    way: WayOption = "fresh",
    reviewer: ReviewerOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Open a run and start its clock."""
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    run, on = open_run(environment, book, release, rig, begun, like, way, reviewer)
    with environment.once_written():
        environment.say(f"{run} on {on}: the clock runs. “metrograph cue screen Boot menu” records the first screen")
