"""What releases weigh, and whether that keeps to a limit."""

from __future__ import annotations

from typing import Annotated

import msgspec
import typer

from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import environment_of
from metrograph.faces.cli.options import JsonOption, LogbookOption, NamesArgument, command_app, examples
from metrograph.faces.cli.reviewing.ledger_runs import Runs
from metrograph.faces.cli.reviewing.ledgers import opened
from metrograph.ledgers.weight import Fit, WeightLedger, fits, weight_ledger
from metrograph.log.faults import Unreadable
from metrograph.log.quantities.quantity import parse_exact
from metrograph.log.quantities.units import BYTES, choose_family, family_of
from metrograph.show.files.json import fields_of

app = command_app()


@app.command(
    epilog=examples(
        "metrograph weight", "metrograph weight larkmoor-7.0-heron larkmoor-8.0-heron --json",
        "metrograph weight --limit '3 GB'",
    )
)  # fmt: skip
def weight(
    ctx: typer.Context,
    names: NamesArgument = None,
    limit: Annotated[
        str | None, typer.Option(metavar="SIZE", help="What may be downloaded in all; sizes are shown in its units.")
    ] = None,
    json: JsonOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Show what releases weigh: image, additions, first update.

    With --limit it says what fits, and what is left. A sum of which a part is not known is at least so much.
    """
    environment = environment_of(ctx)
    most = _bytes(limit) if limit is not None else None
    runs = Runs(environment, logbook, names)
    ledger = weight_ledger(runs.group)
    if limit is not None:
        choose_family(lambda: family_of(limit))
    if json:
        environment.show_json(_document(ledger, most))
        return
    from metrograph.show.report.ledgers import fits_sections, weight_report

    called: WeightLedger = runs.named(ledger)
    report = opened(weight_report(called), "of_weight", called)
    if most is not None and limit is not None:
        report = msgspec.structs.replace(report, parts=(*fits_sections(fits(called, most), limit), *report.parts))
    environment.show(report)


def _bytes(limit: str) -> float:
    try:
        return parse_exact(limit, BYTES)
    except Unreadable as wrong:
        raise MetrographError(f"--limit: {wrong.sentence}") from wrong


def _document(ledger: WeightLedger, limit: float | None) -> dict[str, object]:
    kept: tuple[Fit, ...] = () if limit is None else fits(ledger, limit)
    return fields_of(ledger) | {"limit": limit, "fits": kept}
