"""Draws figures into files."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from metrograph.commands.environment import LogbookOption, command_app, complete_side, environment_of, examples
from metrograph.commands.publishing import PersonalOption, published
from metrograph.errors import NotWritableError
from metrograph.logbook.selection import Reader, shown_path

app = command_app("Draw a figure: SVG, PNG or PDF.")


@app.callback()
def _draw() -> None:
    """Keeps `lanes` a command of its own while it is the only one."""


@app.command(
    epilog=examples(
        "metrograph draw lanes larkmoor-7.0-heron larkmoor-8.0-heron -o lanes.svg",
        "metrograph draw lanes larkmoor-8.0-heron --line-up copy -o copying.png",
    )
)
def lanes(
    ctx: typer.Context,
    names: Annotated[
        list[str],
        typer.Argument(metavar="A [B...]", autocompletion=complete_side, help="Releases, runs, or logs' paths."),
    ],
    output: Annotated[Path, typer.Option("-o", "--output", metavar="FILE", help="Ends in .svg, .png or .pdf.")] = Path(
        "lanes.svg"
    ),
    line_up: Annotated[
        str | None, typer.Option(metavar="PHASE", help="The phase that begins at one place in all lanes.")
    ] = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Draw runs as lanes, time to scale.

    Phases are bands, screens are ticks, issues are numbers.
    """
    from metrograph.analysis.lanes import lay_lanes
    from metrograph.views.registry import FIGURES, ending_of

    environment = environment_of(ctx)
    figure = FIGURES["lanes"]
    ending = ending_of(figure, output)
    reader = Reader(environment.logbook_or_none(logbook))
    sides = [reader.side(name) for name in names]
    environment.warn_of(reader.faults)
    runs = [run for side in sides for run in side.runs]
    laid = published(environment, runs, lay_lanes(runs, line_up), show_personal)
    data = figure.draw(laid, " against ".join(side.name for side in sides), ending)
    write_figure(environment.folder / output, data)
    environment.say(f"{shown_path(environment.folder / output)} drawn")


def write_figure(path: Path, data: bytes) -> None:
    """Writes a figure's file; raises NotWritableError when that is not possible."""
    try:
        path.write_bytes(data)
    except OSError as error:
        raise NotWritableError(f"{path} cannot be written: {error.strerror}") from error
