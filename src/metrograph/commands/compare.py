"""Sets releases or runs side by side."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.analysis.merged import Merged
from metrograph.commands.environment import (
    Environment,
    JsonOption,
    LogbookOption,
    command_app,
    complete_side,
    environment_of,
    examples,
)
from metrograph.commands.gathering import Gathered, gather
from metrograph.commands.publishing import PersonalOption, published
from metrograph.errors import MetrographError
from metrograph.logbook.folder import unknown
from metrograph.model.comparison import Comparison

app = command_app()


@app.command(
    epilog=examples(
        "metrograph compare larkmoor-7.0-heron larkmoor-8.0-heron",
        "metrograph compare larkmoor-8.0-heron-1 larkmoor-8.0-heron-2 --line-up desktop",
        "metrograph compare larkmoor-8.0-heron larkmoor-9.0-beta-heron --why Disk",
    )
)
def compare(
    ctx: typer.Context,
    names: Annotated[
        list[str],
        typer.Argument(
            metavar="A B [C...]",
            autocompletion=complete_side,
            help="Releases, runs, or logs' paths; shown oldest first.",
        ),
    ],
    baseline: Annotated[
        str | None,
        typer.Option(
            metavar="NAME", autocompletion=complete_side, help="The one to hold others against, not the first."
        ),
    ] = None,
    why: Annotated[
        str | None, typer.Option(metavar="ROW", help="Tell what led to a row of screens: its number or a title.")
    ] = None,
    strict: Annotated[bool, typer.Option("--strict", help="Exit with 1 when times cannot be compared.")] = False,
    line_up: Annotated[
        str | None, typer.Option(metavar="PHASE", help="The phase that begins at one place in all lanes.")
    ] = None,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Compare installer flows across releases or runs.

    Says first what changed most, then what calls for care, timelines to scale, the aligned screens, all changes, times,
    effort, what may be concluded from few runs, issues and readings.
    """
    from metrograph.analysis.compare import compare as compare_sides
    from metrograph.analysis.lanes import lay_lanes

    environment = environment_of(ctx)
    gathered = gather(environment, logbook, names, baseline)
    if why is not None:
        _tell_why(environment, gathered, why, show_personal, json)
        return
    found = compare_sides(gathered.sides, gathered.known, gathered.baseline)
    comparison, lanes = published(environment, gathered.runs, (found, lay_lanes(gathered.runs, line_up)), show_personal)
    if json:
        environment.show_json(comparison)
    else:
        from metrograph.views.compare_text import render_comparison

        environment.show(render_comparison(comparison, lanes, environment.paper()))
    if strict:
        _leave_if_incomparable(environment, comparison)


def _leave_if_incomparable(environment: Environment, comparison: Comparison) -> None:
    """Exits with 1 when something differs that takes the ground from comparing times."""
    reasons = [each.what for each in comparison.care if each.grounds == "times"]
    if reasons:
        environment.warn(f"times cannot be compared: {', '.join(reasons)} differ or are open")
        raise typer.Exit(1)


def _tell_why(environment: Environment, gathered: Gathered, row: str, show_personal: bool, json: bool) -> None:
    """Tells what led to one row, and nothing else."""
    from metrograph.analysis.merged import merged_flow
    from metrograph.analysis.reasons import why
    from metrograph.views.why_text import render_why

    merged = merged_flow(gathered.sides, gathered.known.rulings)
    found = why(gathered.sides, merged, _row_of(row, merged), gathered.known.rulings)
    told = published(environment, gathered.runs, found, show_personal)
    if json:
        environment.show_json(told)
    else:
        environment.show(render_why(told, environment.paper()))


def _row_of(name: str, merged: Merged) -> int:
    """The index of a row by its number or one of its titles; raises MetrographError when there is no such row."""
    titles = {title.casefold(): index for index, row in enumerate(merged.rows) for title in row.titles}
    if name.isdecimal() and 0 < int(name) <= len(merged.rows):
        return int(name) - 1
    if name.casefold() in titles:
        return titles[name.casefold()]
    if not merged.rows:
        raise MetrographError("none of these runs has a screen, so there are no rows")
    known = [title for row in merged.rows for title in row.titles]
    raise unknown("row", name, known, f"rows go from 1 to {len(merged.rows)}; “metrograph compare” numbers them")
