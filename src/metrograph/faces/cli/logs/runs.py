"""Lists the runs of a logbook."""

from __future__ import annotations

import typer

from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.masking import masked
from metrograph.faces.cli.options import JsonOption, LogbookOption, PersonalOption, command_app, examples
from metrograph.store.reading import LogReader

app = command_app()


@app.command(epilog=examples("metrograph runs", "metrograph runs --json"))
def runs(
    ctx: typer.Context,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """List the runs in the logbook, a line each."""
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    reader = LogReader(book)
    every = [reader.run(name) for name in environment.track(book.run_names(), "reading logs")]
    environment.warn_of(reader.faults)
    every = list(masked(environment, every, tuple(every), show_personal))
    if json:
        fields = ("run", "release", "rig", "begun", "ended", "way", "clock", "milestones", "attempts")
        environment.show_json([{field: getattr(run, field) for field in fields} for run in every], "runs")
        return
    from metrograph.show.report.lists import runs_report

    paper = environment.paper()
    environment.show(runs_report(every, None if paper.piped else paper.width))
