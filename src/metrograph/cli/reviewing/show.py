"""Shows one run."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.cli.environment import environment_of
from metrograph.cli.masking import masked
from metrograph.cli.options import JsonOption, LogbookOption, PersonalOption, command_app, complete_run, examples
from metrograph.errors import MetrographError
from metrograph.store.reading import LogReader
from metrograph.store.selection import select

app = command_app()


@app.command(epilog=examples("metrograph show larkmoor-8.0-heron-1", "metrograph show --json notes/first.metro"))
def show(
    ctx: typer.Context,
    run: Annotated[str, typer.Argument(metavar="RUN", autocompletion=complete_run, help="A run, or a log's path.")],
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Show one run: timeline, screens, choices, issues, readings."""
    environment = environment_of(ctx)
    book = environment.logbook_or_none(logbook)
    selected = select(book, run)
    if len(selected.runs) > 1:
        raise MetrographError(
            f"{run} has several runs: {', '.join(selected.runs)}; name one, or “metrograph compare” them"
        )
    reader = LogReader(book)
    folded = reader.run(selected.runs[0], selected.store)
    environment.warn_of(reader.faults)
    folded = masked(environment, [folded], folded, show_personal)
    if json:
        environment.show_json(folded)
        return
    from metrograph.present.charts.layouts.lanes import lay_lanes
    from metrograph.present.report.model import Drawing
    from metrograph.present.report.run import run_report

    environment.show(run_report(folded, Drawing("lanes", lay_lanes([folded]), folded.run)))
