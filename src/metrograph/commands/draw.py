"""Draws figures into files."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import typer

from metrograph.commands.environment import (
    Environment,
    LogbookOption,
    command_app,
    complete_figure,
    complete_side,
    environment_of,
    examples,
)
from metrograph.commands.publishing import PersonalOption, published
from metrograph.logbook.files import replace_bytes
from metrograph.logbook.selection import Reader, shown_path
from metrograph.model.runs import Run

app = command_app("Draw a figure: SVG, PNG or PDF.")

OneOrMore = Annotated[
    list[str], typer.Argument(metavar="A [B...]", autocompletion=complete_side, help="Releases, runs, or logs' paths.")
]
TwoOrMore = Annotated[
    list[str],
    typer.Argument(metavar="A B [C...]", autocompletion=complete_side, help="Releases, runs, or logs' paths."),
]
OutputOption = Annotated[
    Path | None,
    typer.Option("-o", "--output", metavar="FILE", help="Ends in .svg, .png or .pdf; NAME.svg unless said."),
]


@app.command(
    epilog=examples(
        "metrograph draw lanes larkmoor-7.0-heron larkmoor-8.0-heron -o lanes.svg",
        "metrograph draw lanes larkmoor-8.0-heron --line-up copy -o copying.png",
    )
)
def lanes(
    ctx: typer.Context,
    names: OneOrMore,
    output: OutputOption = None,
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

    environment = environment_of(ctx)
    reader = Reader(environment.logbook_or_none(logbook))
    sides = [reader.side(name) for name in names]
    environment.warn_of(reader.faults)
    runs = [run for side in sides for run in side.runs]
    title = " against ".join(side.name for side in sides)
    _draw(environment, "lanes", runs, lay_lanes(runs, line_up), title, output, show_personal)


@app.command(
    epilog=examples(
        "metrograph draw strip larkmoor-7.0-heron larkmoor-8.0-heron -o strip.svg",
        "metrograph draw strip larkmoor-8.0-heron osterby-2026.1 -o strip.png",
    )
)
def strip(
    ctx: typer.Context,
    names: TwoOrMore,
    output: OutputOption = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Draw releases as lines through their screens.

    Every screen of the merged flow is a stop: filled where all pre-set values were kept, a ring where something was
    changed, a bar where a release passes without it. A bend shows what has moved.
    """
    from metrograph.analysis.merged import merged_flow
    from metrograph.analysis.pictures import strip_of
    from metrograph.commands.gathering import gather

    environment = environment_of(ctx)
    gathered = gather(environment, logbook, names)
    found = strip_of(gathered.sides, merged_flow(gathered.sides, gathered.known.rulings))
    _draw(environment, "strip", gathered.runs, found, gathered.title, output, show_personal)


@app.command(
    epilog=examples(
        "metrograph draw timetable larkmoor-8.0-heron larkmoor-9.0-beta-heron -o timetable.svg",
        "metrograph draw timetable larkmoor-8.0-heron-1 larkmoor-8.0-heron-2 -o timetable.pdf",
    )
)
def timetable(
    ctx: typer.Context,
    names: TwoOrMore,
    output: OutputOption = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Draw runs as lines that fall through the screens.

    Time goes across, the merged flow downwards. Flat is waiting, steep is quick, a rise is going back.
    """
    from metrograph.analysis.merged import merged_flow
    from metrograph.analysis.pictures import timetable_of
    from metrograph.commands.gathering import gather

    environment = environment_of(ctx)
    gathered = gather(environment, logbook, names)
    found = timetable_of(gathered.sides, merged_flow(gathered.sides, gathered.known.rulings))
    _draw(environment, "timetable", gathered.runs, found, gathered.title, output, show_personal)


@app.command(
    epilog=examples("metrograph draw trend desktop -o desktop.svg", "metrograph draw trend memory --state live")
)
def trend(
    ctx: typer.Context,
    figure: Annotated[
        str,
        typer.Argument(
            metavar="FIGURE", autocompletion=complete_figure, help="As in “metrograph trend”: desktop, memory ..."
        ),
    ],
    names: Annotated[
        list[str] | None,
        typer.Argument(metavar="[A B...]", autocompletion=complete_side, help="Releases or runs; all unless said."),
    ] = None,
    state: Annotated[
        str | None, typer.Option(metavar="STATE", help="Of a reading: live, installed or updated.")
    ] = None,
    output: OutputOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Draw a figure along the releases of each line.

    The median of a release's runs, with their least and most.
    """
    from metrograph.commands.trend import trends_of

    environment = environment_of(ctx)
    found = trends_of(environment, logbook, figure, names, state)
    title = f"{found[0].words}, release by release" if found else figure
    _draw(environment, "trend", [], found, title[0].upper() + title[1:], output, show_personal=True)


def _draw(
    environment: Environment,
    name: str,
    runs: Sequence[Run],
    laid: object,
    title: str,
    output: Path | None,
    show_personal: bool,
) -> None:
    """Draws what was laid out, as others may see it, into the file that was asked for."""
    from metrograph.views.registry import FIGURES, ending_of

    figure, output = FIGURES[name], output or Path(f"{name}.svg")
    ending = ending_of(figure, output)
    data = figure.draw(published(environment, runs, laid, show_personal), title, ending)
    replace_bytes(environment.folder / output, data)
    environment.say(f"{shown_path(environment.folder / output)} drawn")
