"""What was read, release by release."""

from __future__ import annotations

import typer

from metrograph.analysis.ledgers import readings_ledger
from metrograph.commands.environment import JsonOption, LogbookOption, command_app, environment_of, examples
from metrograph.commands.ledger import NamesArgument, Sources

app = command_app()


@app.command(epilog=examples("metrograph readings", "metrograph readings larkmoor-7.0-heron larkmoor-8.0-heron --json"))
def readings(
    ctx: typer.Context, names: NamesArgument = None, json: JsonOption = False, logbook: LogbookOption = None
) -> None:
    """Show readings by release and state, with differences.

    Values are medians of a release's runs. Only what was taken in the same state, and under the same load, is set side
    by side.
    """
    from metrograph.views.ledgers_text import render_readings

    sources = Sources(environment_of(ctx), logbook, names)
    sources.show(readings_ledger(sources.group, sources.reader.lexicon), json, render_readings)
