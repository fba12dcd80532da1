"""What installing asks of a person, release by release and run by run."""

from __future__ import annotations

import typer

from metrograph.commands.environment import JsonOption, LogbookOption, command_app, environment_of, examples
from metrograph.commands.ledger import NamesArgument, Sources

app = command_app()


@app.command(epilog=examples("metrograph effort", "metrograph effort larkmoor-8.0-heron-1 larkmoor-8.0-heron-2"))
def effort(
    ctx: typer.Context, names: NamesArgument = None, json: JsonOption = False, logbook: LogbookOption = None
) -> None:
    """Show screens, decisions, guesses and calls by release.

    Figures are medians of a release's runs, with the least and the most in brackets; --json has every run as well.
    """
    from metrograph.analysis.effort_ledger import effort_ledger
    from metrograph.views.effort_text import render_effort_ledger

    sources = Sources(environment_of(ctx), logbook, names)
    sources.show(effort_ledger(sources.group), json, render_effort_ledger)
