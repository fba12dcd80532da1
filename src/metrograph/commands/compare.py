"""Sets releases or runs side by side."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.commands.environment import (
    JsonOption,
    LogbookOption,
    command_app,
    complete_side,
    environment_of,
    examples,
)
from metrograph.commands.publishing import PersonalOption, published
from metrograph.errors import MetrographError
from metrograph.logbook.cards import load_rigs
from metrograph.logbook.selection import Reader

app = command_app()


@app.command(
    epilog=examples(
        "metrograph compare larkmoor-7.0-heron larkmoor-8.0-heron",
        "metrograph compare larkmoor-8.0-heron-1 larkmoor-8.0-heron-2 --line-up desktop",
    )
)
def compare(
    ctx: typer.Context,
    names: Annotated[
        list[str],
        typer.Argument(
            metavar="A B [C...]",
            autocompletion=complete_side,
            help="Releases, runs, or logs' paths; the first is the baseline.",
        ),
    ],
    line_up: Annotated[
        str | None, typer.Option(metavar="PHASE", help="The phase that begins at one place in all lanes.")
    ] = None,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Compare installer flows across releases or runs.

    Shows reasons for care, timelines to scale, the aligned screens, what changed, times, issues and readings.
    """
    from metrograph.analysis.compare import compare as compare_sides
    from metrograph.analysis.lanes import lay_lanes

    environment = environment_of(ctx)
    if len(names) < 2:
        raise MetrographError("name two or more to compare: releases, runs, or logs' paths")
    book = environment.logbook_or_none(logbook)
    reader = Reader(book)
    sides = [reader.side(name) for name in names]
    runs = [run for side in sides for run in side.runs]
    environment.warn_of(reader.faults)
    results = compare_sides(sides, load_rigs(book)), lay_lanes(runs, line_up)
    comparison, lanes = published(environment, runs, results, show_personal)
    if json:
        environment.show_json(comparison)
        return
    from metrograph.views.compare_text import render_comparison

    environment.show(render_comparison(comparison, lanes, environment.paper()))
