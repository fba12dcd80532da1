"""What was tried, release by release."""

from __future__ import annotations

import typer

from metrograph.analysis.ledgers import checks_ledger
from metrograph.commands.environment import JsonOption, LogbookOption, command_app, environment_of, examples
from metrograph.commands.ledger import NamesArgument, Sources

app = command_app()


@app.command(epilog=examples("metrograph checks", "metrograph checks larkmoor-7.0-heron larkmoor-8.0-heron --json"))
def checks(
    ctx: typer.Context, names: NamesArgument = None, json: JsonOption = False, logbook: LogbookOption = None
) -> None:
    """Show trials by release: what got worse, what is well again."""
    from metrograph.views.ledgers_text import render_checks

    sources = Sources(environment_of(ctx), logbook, names)
    sources.show(checks_ledger(sources.group), json, render_checks)
