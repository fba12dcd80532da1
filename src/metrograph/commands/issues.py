"""What became of each issue, release by release."""

from __future__ import annotations

import typer

from metrograph.commands.environment import JsonOption, LogbookOption, command_app, environment_of, examples
from metrograph.commands.ledger import NamesArgument, Sources

app = command_app()


@app.command(
    epilog=examples("metrograph issues", "metrograph issues larkmoor-8.0-heron larkmoor-9.0-beta-heron --json")
)
def issues(
    ctx: typer.Context, names: NamesArgument = None, json: JsonOption = False, logbook: LogbookOption = None
) -> None:
    """Show issues by release: new, still there, gone, back again.

    An issue is gone only where a run came by the same place without it, on the same kind of rig when it shows on some
    only. Where nobody came by, it is not retested.
    """
    from metrograph.analysis.issues import issues_ledger
    from metrograph.logbook.cards import load_rigs
    from metrograph.views.issues_text import render_issues

    sources = Sources(environment_of(ctx), logbook, names)
    ledger = issues_ledger(sources.group, load_rigs(sources.reader.logbook), sources.reader.rulings)
    sources.show(ledger, json, render_issues)
