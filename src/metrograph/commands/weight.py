"""What releases weigh."""

from __future__ import annotations

import typer

from metrograph.analysis.ledgers import weight_ledger
from metrograph.commands.environment import JsonOption, LogbookOption, command_app, environment_of, examples
from metrograph.commands.ledger import NamesArgument, Sources

app = command_app()


@app.command(epilog=examples("metrograph weight", "metrograph weight larkmoor-7.0-heron larkmoor-8.0-heron --json"))
def weight(
    ctx: typer.Context, names: NamesArgument = None, json: JsonOption = False, logbook: LogbookOption = None
) -> None:
    """Show what releases weigh: image, additions, first update."""
    from metrograph.views.ledgers_text import render_weight

    sources = Sources(environment_of(ctx), logbook, names)
    sources.show(weight_ledger(sources.group), json, render_weight)
