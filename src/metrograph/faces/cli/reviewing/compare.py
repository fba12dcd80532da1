"""Sets releases or runs side by side."""

from __future__ import annotations

from typing import Annotated

import typer

from metrograph.archive.answers import Others
from metrograph.compare.align.merge import Merged
from metrograph.compare.records import Affects
from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.masking import masked
from metrograph.faces.cli.options import (
    ArchiveOption,
    BaselineOption,
    JsonOption,
    LineUpOption,
    LogbookOption,
    OnlyRigOption,
    PersonalOption,
    command_app,
    complete_side,
    examples,
)
from metrograph.faces.cli.reviewing.sides import Compared, latest_of, read_compared
from metrograph.faces.cli.sharing.others import others_of
from metrograph.ledgers.comparison import Comparison
from metrograph.store.names import unknown

app = command_app()


@app.command(
    epilog=examples(
        "metrograph compare larkmoor-7.0-heron larkmoor-8.0-heron",
        "metrograph compare larkmoor-8.0-heron-1 larkmoor-8.0-heron-2 --line-up desktop",
        "metrograph compare larkmoor-8.0-heron larkmoor-9.0-beta-heron --why Disk",
    )
)
def compare(
    ctx: typer.Context,
    names: Annotated[
        list[str] | None,
        typer.Argument(
            metavar="[A B C...]",
            autocompletion=complete_side,
            help="Releases, runs, or logs' paths; the two latest of a line unless said.",
        ),
    ] = None,
    baseline: BaselineOption = None,
    only_rig: OnlyRigOption = None,
    why: Annotated[
        str | None, typer.Option(metavar="ROW", help="Tell what led to a row of screens: its number or a title.")
    ] = None,
    strict: Annotated[bool, typer.Option("--strict", help="Exit with 1 when times cannot be compared.")] = False,
    everything: Annotated[bool, typer.Option("--all", help="Show everything, not only what matters most.")] = False,
    line_up: LineUpOption = None,
    show_personal: PersonalOption = False,
    json: JsonOption = False,
    archive: ArchiveOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Compare installer flows across releases or runs.

    Says first what matters most, then what calls for care, timelines to scale, the ten changes that matter most, and
    trouble. With --all also the aligned screens, all changes, times, effort, what may be concluded from few runs,
    readings, trials, software and verdicts.
    """
    from metrograph.ledgers.comparison import compare as compare_sides
    from metrograph.show.charts.layouts.board import as_lanes, lay_board
    from metrograph.show.charts.layouts.lanes import lay_lanes

    environment = environment_of(ctx)
    compared = read_compared(environment, logbook, names or latest_of(environment, logbook), baseline, only_rig)
    if why is not None:
        _tell_why(environment, compared, why, show_personal, json)
        return
    result = compare_sides(compared.sides, compared.background, compared.baseline)
    # One lane a release is enough to see what differs; every run is told where all is asked for.
    one_each = line_up is None and not everything and not json
    laid = as_lanes(lay_board(compared.sides, result)) if one_each else lay_lanes(compared.runs, line_up)
    comparison, lanes = masked(environment, compared.runs, (result, laid), show_personal)
    said = others_of(environment, archive, compared, comparison)
    if json:
        from metrograph.show.files.json import comparison_document

        environment.show_json(comparison_document(comparison) | ({"others": said} if said is not None else {}))
    else:
        show_comparison(environment, comparison, lanes, compared.names, everything, said)
    if strict:
        _leave_if_incomparable(environment, comparison)


def show_comparison(
    environment: Environment,
    comparison: Comparison,
    lanes: object,
    names: tuple[str, dict[str, str]],
    everything: bool = False,
    others: Others | None = None,
) -> None:
    """Prints a comparison, with as many releases side by side as the terminal has room for.

    names: what the releases are called; see ``names_of``. everything: not only what matters most.
    others: what they say to the latest release.
    """
    from metrograph.show.report.comparing.comparison import ROOM, brief_report, comparison_report
    from metrograph.show.report.comparing.material import Material
    from metrograph.show.report.model import Drawing
    from metrograph.show.terminal.text import room_for
    from metrograph.words.names import named

    common, human = names
    drawings = (Drawing("runs", named(lanes, human)),)
    material = Material(named(comparison, human), drawings, common=common, others=others)
    report = comparison_report if everything else brief_report
    environment.show(report(material, room_for(ROOM, environment.paper())))


def _leave_if_incomparable(environment: Environment, comparison: Comparison) -> None:
    """Exits with 1 when something differs that takes the ground from comparing times."""
    reasons = [caveat.what for caveat in comparison.caveats if caveat.affects is Affects.TIMES]
    if reasons:
        environment.warn(f"times cannot be compared: {', '.join(reasons)} differ or are open")
        raise typer.Exit(1)


def _tell_why(environment: Environment, compared: Compared, row: str, show_personal: bool, json: bool) -> None:
    """Tells what led to one row, and nothing else."""
    from metrograph.compare.align.explain import why
    from metrograph.compare.align.merge import merged_flow
    from metrograph.show.report.comparing.changes import why_report
    from metrograph.words.names import named

    rulings = compared.background.rulings
    merged = merged_flow(compared.sides, rulings)
    reasons = why(compared.sides, merged, _row_of(row, merged), rulings)
    shown = masked(environment, compared.runs, reasons, show_personal)
    if json:
        environment.show_json(shown)
    else:
        environment.show(why_report(named(shown, compared.names[1])))


def _row_of(name: str, merged: Merged) -> int:
    """The index of a row by its number or one of its titles; raises MetrographError when there is no such row."""
    titles = {title.casefold(): index for index, row in enumerate(merged.rows) for title in row.titles}
    if name.isdecimal() and 0 < int(name) <= len(merged.rows):
        return int(name) - 1
    if name.casefold() in titles:
        return titles[name.casefold()]
    if not merged.rows:
        raise MetrographError("none of these runs has a screen, so there are no rows")
    known = [title for row in merged.rows for title in row.titles]
    raise unknown("row", name, known, f"rows go from 1 to {len(merged.rows)}; “metrograph compare” numbers them")
