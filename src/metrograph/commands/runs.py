"""Lists the runs of a logbook."""

from __future__ import annotations

import typer

from metrograph.commands.environment import JsonOption, LogbookOption, command_app, environment_of, examples
from metrograph.logbook.selection import Reader

app = command_app()


@app.command(epilog=examples("metrograph runs", "metrograph runs --json"))
def runs(ctx: typer.Context, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """List the runs in the logbook, a line each."""
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    reader = Reader(book)
    found = [reader.run(name, book.log(name)) for name in environment.track(book.run_names(), "reading logs")]
    environment.warn_of(reader.faults)
    if json:
        fields = ("run", "release", "rig", "begun", "ended", "way", "clock", "milestones", "attempts")
        environment.show_json([{field: getattr(run, field) for field in fields} for run in found])
        return
    from metrograph.views.lists import render_runs

    environment.show(render_runs(found, environment.paper()))
