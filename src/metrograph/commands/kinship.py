"""How alike the installers of releases are."""

from __future__ import annotations

import typer

from metrograph.commands.environment import JsonOption, LogbookOption, command_app, environment_of, examples
from metrograph.commands.ledger import NamesArgument, Sources

app = command_app()


@app.command(epilog=examples("metrograph kinship", "metrograph kinship larkmoor-8.0-heron larkmoor-8.0-wren --json"))
def kinship(
    ctx: typer.Context, names: NamesArgument = None, json: JsonOption = False, logbook: LogbookOption = None
) -> None:
    """Show how alike installers are, from 0 to 1.

    Screens and their order count, time and answers do not. Kin stand beside each other, so that the same installer in
    another coat is found across editions and distributions.
    """
    from metrograph.analysis.kinship import kinship as kinship_of
    from metrograph.views.kinship_text import render_kinship

    environment = environment_of(ctx)
    sources = Sources(environment, logbook, names)
    found = kinship_of(
        sources.group.runs, sources.reader.rulings, lambda ways: environment.track(ways, "comparing ways")
    )
    sources.show(found, json, render_kinship)
