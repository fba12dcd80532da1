"""What releases are made of, side by side."""

from __future__ import annotations

import typer

from metrograph.analysis.ledgers import facts_ledger
from metrograph.commands.environment import JsonOption, LogbookOption, command_app, environment_of, examples
from metrograph.commands.ledger import NamesArgument, Sources
from metrograph.commands.publishing import PersonalOption

app = command_app()


@app.command(epilog=examples("metrograph facts", "metrograph facts larkmoor-7.0-heron larkmoor-8.0-heron --json"))
def facts(
    ctx: typer.Context,
    names: NamesArgument = None,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Show facts by release: raised, replaced, dropped."""
    from metrograph.views.ledgers_text import render_facts

    sources = Sources(environment_of(ctx), logbook, names)
    sources.show(facts_ledger(sources.group, show_personal), json, render_facts)
