"""One figure along the releases of a distribution."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import msgspec
import typer

from metrograph.archive.answers import followed_in
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import (
    ArchiveOption,
    FigureArgument,
    JsonOption,
    LogbookOption,
    NamesArgument,
    StateOption,
    command_app,
    examples,
)
from metrograph.faces.cli.reviewing.ledger_runs import Runs
from metrograph.faces.cli.reviewing.ledgers import opened
from metrograph.faces.cli.sharing.others import asked, beside_others
from metrograph.ledgers.trend import Trend, names_of, trends
from metrograph.run.noted import STATES
from metrograph.store.names import unknown

app = command_app()


@app.command(
    epilog=examples(
        "metrograph trend desktop", "metrograph trend memory --state live", "metrograph trend updates --json"
    )
)
def trend(
    ctx: typer.Context,
    figure: FigureArgument,
    names: NamesArgument = None,
    state: StateOption = None,
    archive: ArchiveOption = None,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Follow a figure along the releases of each line.

    A figure is a moment (first-question, installed, desktop, updated), a time (on-clock, hands-on, waiting, lost,
    longest-leave), a count (screens, decisions, kept, chosen, typed, right, wrong, returns, calls, attempts, issues,
    questions, asked-first), or anything that was read, such as memory or updates.
    """
    from metrograph.show.report.effort import trends_report

    environment = environment_of(ctx)
    runs, along = trends_of(environment, logbook, figure, names, state)
    releases = runs.group.releases
    said = asked(environment, archive, lambda place, own: followed_in(place, figure, releases, own))
    if json:
        document = {"trends": along} | ({} if said is None else {"others": said})
        environment.show_json(document)
    else:
        called = runs.named(along)
        report = opened(trends_report(below_lines(called)), "of_trends", called)
        environment.show(report if said is None else beside_others(report, runs.named(said)))


def below_lines(trends: Sequence[Trend]) -> tuple[Trend, ...]:
    """Trends whose releases go by what is left of their names below that of their line."""

    def short(trend: Trend) -> Trend:
        names = tuple(name.removeprefix(f"{trend.line} ") for name in trend.releases)
        return msgspec.structs.replace(trend, releases=names)

    return tuple(map(short, trends))


def trends_of(
    environment: Environment, logbook: Path | None, figure: str, names: Sequence[str] | None, state: str | None
) -> tuple[Runs, tuple[Trend, ...]]:
    """The trends that were asked for, and the runs they are made from.

    Raises MetrographError when there is no such figure or state.
    """
    runs = Runs(environment, logbook, names)
    if state is not None and state not in STATES:
        raise unknown("state", state, list(STATES))
    known = names_of(runs.group)
    if figure not in known:
        raise unknown("figure", figure, known, "“metrograph trend --help” lists them; readings go by their names")
    return runs, trends(runs.group, figure, runs.reader.lexicon, state)
