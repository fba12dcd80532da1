"""What is published, against what was measured."""

from __future__ import annotations

import typer

from metrograph.analysis.ledgers import claims_ledger
from metrograph.commands.environment import JsonOption, LogbookOption, command_app, environment_of, examples
from metrograph.commands.ledger import NamesArgument, Sources

app = command_app()


@app.command(epilog=examples("metrograph claims", "metrograph claims larkmoor-7.0-heron larkmoor-8.0-heron --json"))
def claims(
    ctx: typer.Context, names: NamesArgument = None, json: JsonOption = False, logbook: LogbookOption = None
) -> None:
    """Hold what is published of releases against what was measured.

    Memory and disk are those of the installed system at rest, before its first update; times are medians of its runs.
    """
    from metrograph.views.ledgers_text import render_claims

    sources = Sources(environment_of(ctx), logbook, names)
    sources.show(claims_ledger(sources.group), json, render_claims)
