"""Shows one run."""

from __future__ import annotations

from typing import Annotated

import msgspec
import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.masking import masked
from metrograph.faces.cli.options import JsonOption, LogbookOption, PersonalOption, command_app, complete_run, examples
from metrograph.ledgers.digests.groups import begun
from metrograph.store.local.cards import load_releases
from metrograph.store.memory import select
from metrograph.store.names import split_run
from metrograph.store.reading import LogReader

app = command_app()
LATEST = "latest"


@app.command(epilog=examples("metrograph show larkmoor-8.0-heron-1", "metrograph show --json notes/first.metro"))
def show(
    ctx: typer.Context,
    run: Annotated[
        str,
        typer.Argument(
            metavar="RUN",
            autocompletion=complete_run,
            help="A run, a release for its latest run, “latest”, or a log's path.",
        ),
    ],
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Show one run: timeline, screens, choices, issues, readings."""
    environment = environment_of(ctx)
    book = environment.logbook_or_none(logbook)
    reader = LogReader(book)
    if run == LATEST:
        folded = max(map(reader.run, environment.logbook(logbook).run_names()), key=begun, default=None)
        if folded is None:
            raise MetrographError("no run has begun yet; “metrograph begin RELEASE --rig RIG” begins one")
    else:
        selected = select(book, run)
        # Of a release, its latest run; the others are named.
        folded = max((reader.run(name, selected.store) for name in selected.runs), key=begun)
        if selected.runs[1:]:
            others = ", ".join(name for name in selected.runs if name != folded.run)
            environment.warn(f"{folded.run} is the latest of {run}; the others are {others}")
    environment.warn_of(reader.faults)
    folded = masked(environment, [folded], folded, show_personal)
    if json:
        environment.show_json(folded)
        return
    from metrograph.show.charts.layouts.lanes import lay_lanes
    from metrograph.show.report.model import Drawing
    from metrograph.show.report.run import run_report
    from metrograph.words.names import full_name, named

    release, number = split_run(folded.run)
    cards = load_releases(book)
    whole = f"{full_name(folded.release or release, cards.get(folded.release))}, run {number}" if number else folded.run
    called = msgspec.structs.replace(folded, run=whole)
    lane = named(lay_lanes([folded]), {folded.run: f"run {number}"}) if number else lay_lanes([folded])
    environment.show(run_report(called, Drawing("runs", lane, folded.run)))
