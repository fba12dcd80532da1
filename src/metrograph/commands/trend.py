"""One figure along the releases of a distribution."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated

import typer

from metrograph.commands.environment import (
    Environment,
    JsonOption,
    LogbookOption,
    command_app,
    complete_figure,
    environment_of,
    examples,
)
from metrograph.commands.ledger import NamesArgument, Sources
from metrograph.logbook.folder import unknown
from metrograph.model.kinship import Trend

app = command_app()


@app.command(
    epilog=examples(
        "metrograph trend desktop", "metrograph trend memory --state live", "metrograph trend updates --json"
    )
)
def trend(
    ctx: typer.Context,
    figure: Annotated[
        str,
        typer.Argument(metavar="FIGURE", autocompletion=complete_figure, help="desktop, hands-on, screens, memory ..."),
    ],
    names: NamesArgument = None,
    state: Annotated[
        str | None, typer.Option(metavar="STATE", help="Of a reading: live, installed or updated.")
    ] = None,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Follow a figure along the releases of each line.

    A figure is a moment (first-question, installed, desktop, updated), a time (on-clock, hands-on, waiting, lost,
    longest-leave), a count (screens, decisions, kept, chosen, typed, right, wrong, returns, calls, attempts, issues,
    asked-first), or anything that was read, such as memory or updates.
    """
    from metrograph.views.effort_text import render_trends

    environment = environment_of(ctx)
    found = trends_of(environment, logbook, figure, names, state)
    if json:
        environment.show_json(found)
    else:
        environment.show(render_trends(found, environment.paper()))


def trends_of(
    environment: Environment, logbook: Path | None, figure: str, names: Sequence[str] | None, state: str | None
) -> tuple[Trend, ...]:
    """The trends that were asked for; raises MetrographError when there is no such figure or state."""
    from metrograph.analysis.trend import names_of, trends

    sources = Sources(environment, logbook, names)
    if state is not None and state not in ("live", "installed", "updated"):
        raise unknown("state", state, ["live", "installed", "updated"])
    known = names_of(sources.group)
    if figure not in known:
        raise unknown("figure", figure, known, "“metrograph trend --help” lists them; readings go by their names")
    return trends(sources.group, figure, sources.reader.lexicon, state)
