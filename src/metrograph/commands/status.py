"""Says how a run stands."""

from __future__ import annotations

import typer

from metrograph.analysis.fold import fold
from metrograph.analysis.status import status as status_of
from metrograph.commands.environment import JsonOption, LogbookOption, RunOption, command_app, environment_of, examples
from metrograph.logbook.clock import elapsed
from metrograph.logbook.journal import find_run
from metrograph.logbook.selection import Reader

app = command_app()


@app.command(epilog=examples("metrograph status", "metrograph status --run larkmoor-8.0-heron-1 --json"))
def status(ctx: typer.Context, run: RunOption = None, json: JsonOption = False, logbook: LogbookOption = None) -> None:
    """Show how the open run stands: clocks, screen, issues, next."""
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    name = find_run(book, run)
    reader = Reader(book)
    log = reader.log(book.log(name))
    now = elapsed(log.header, environment.present()) or 0
    folded = fold(log, name, reader.lexicon, until=now)
    environment.warn_of(reader.faults)
    last = max((cue.at for cue in log.cues), default=0)
    result = status_of(folded, last, now, reader.plan(folded.like, name), book.checklist())
    if json:
        environment.show_json(result)
        return
    from metrograph.views.lists import render_status

    environment.show(render_status(result, environment.paper()))
