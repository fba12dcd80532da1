"""Shows one run."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.commands.environment import (
    JsonOption,
    LogbookOption,
    command_app,
    complete_run,
    environment_of,
    examples,
)
from metrograph.commands.publishing import PersonalOption, published
from metrograph.errors import MetrographError
from metrograph.logbook.selection import Reader, select

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
    if len(selected.logs) > 1:
        names = ", ".join(name for name, _ in selected.logs)
        raise MetrographError(f"{run} has several runs: {names}; name one, or “metrograph compare” them")
    reader = Reader(book)
    folded = reader.run(*selected.logs[0])
    environment.warn_of(reader.faults)
    folded = published(environment, [folded], folded, show_personal)
    if json:
        environment.show_json(folded)
        return
    from metrograph.views.run_text import render_run

    environment.show(render_run(folded, environment.paper()))
