"""Says how a run stands."""

from __future__ import annotations

import typer

from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.masking import masked
from metrograph.faces.cli.options import JsonOption, LogbookOption, PersonalOption, RunOption, command_app, examples
from metrograph.plan.plan import load_plan
from metrograph.plan.status import status as status_of
from metrograph.run.folding.fold import fold
from metrograph.store.clock import elapsed
from metrograph.store.memory import find_run
from metrograph.store.reading import LogReader

app = command_app()


@app.command(epilog=examples("metrograph status", "metrograph status --run larkmoor-8.0-heron-1 --json"))
def status(
    ctx: typer.Context,
    run: RunOption = None,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Show how the open run stands: clocks, screen, issues, next."""
    environment = environment_of(ctx)
    book = environment.logbook(logbook)
    name = find_run(book, run)
    reader = LogReader(book)
    log = reader.log(name)
    now = elapsed(log.header, environment.present()) or 0
    folded = fold(log, name, reader.lexicon, until=now)
    environment.warn_of(reader.faults)
    last = max((cue.at for cue in log.cues), default=0)
    plan = load_plan(reader, book, folded.like, name, folded.rig)
    result = status_of(folded, last, now, plan, reader.settings.checklist)
    result = masked(environment, [folded], result, show_personal)
    if json:
        environment.show_json(result)
        return
    from metrograph.show.report.lists import status_report

    environment.show(status_report(result))
