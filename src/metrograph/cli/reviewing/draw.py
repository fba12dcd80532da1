"""Draws charts into files. Those made from releases side by side are rows; to add a chart, add one."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Annotated, Any

import msgspec
import typer

from metrograph.cli.environment import Environment, environment_of
from metrograph.cli.masking import masked
from metrograph.cli.options import (
    FigureArgument,
    LineUpOption,
    LogbookOption,
    NamesArgument,
    OneOrMore,
    PersonalOption,
    StateOption,
    TwoOrMore,
    command_app,
    examples,
)
from metrograph.cli.reviewing.sides import read_compared
from metrograph.ledgers.digests.sides import read_side
from metrograph.present.wording.names import named, names_of
from metrograph.run.records import Run
from metrograph.store.local.cards import load_releases
from metrograph.store.local.outputs import is_stream
from metrograph.store.reading import LogReader

app = command_app("Draw a figure: SVG, PNG or PDF.")

OutputOption = Annotated[
    Path | None,
    typer.Option(
        "-o",
        "--output",
        metavar="FILE",
        help="Ends in .svg, .png or .pdf; - for SVG; NAME.svg unless said.",
    ),
]


@app.command(
    epilog=examples(
        "metrograph draw lanes larkmoor-7.0-heron larkmoor-8.0-heron -o lanes.svg",
        "metrograph draw lanes larkmoor-8.0-heron --line-up copy -o copying.png",
    )
)
def lanes(
    ctx: typer.Context,
    names: OneOrMore,
    output: OutputOption = None,
    line_up: LineUpOption = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Draw runs as lanes, time to scale.

    Phases are bands, screens are ticks, issues are numbers.
    """
    from metrograph.present.charts.layouts.lanes import lay_lanes

    environment = environment_of(ctx)
    book = environment.logbook_or_none(logbook)
    reader = LogReader(book)
    sides = [read_side(reader, book, name) for name in names]
    environment.warn_of(reader.faults)
    runs = [run for side in sides for run in side.runs]
    common, human = names_of([side.name for side in sides], load_releases(book), [run.run for run in runs])
    title = f"{common} {' against '.join(human.get(side.name, side.name) for side in sides)}".strip()
    _draw(environment, "lanes", runs, named(lay_lanes(runs, line_up), human), title, output, show_personal)


class _SideBySide(msgspec.Struct, frozen=True):
    """A chart of releases side by side. help: its first line, then what else there is to say."""

    chart: str
    help: str
    examples: tuple[str, ...]


_SIDE_BY_SIDE = (
    _SideBySide(
        "strip",
        "Draw releases as lines through their screens.\n\nEvery screen of the merged flow is a stop: filled where all"
        " pre-set values were kept, a ring where something was changed, a bar where a release passes without it. A bend"
        " shows what has moved.",
        (
            "metrograph draw strip larkmoor-7.0-heron larkmoor-8.0-heron -o strip.svg",
            "metrograph draw strip larkmoor-8.0-heron osterby-2026.1 -o strip.png",
        ),
    ),
    _SideBySide(
        "timetable",
        "Draw runs as lines that fall through the screens.\n\nTime goes across, the merged flow downwards. Flat is"
        " waiting,"
        " steep is quick, a rise is going back.",
        (
            "metrograph draw timetable larkmoor-8.0-heron larkmoor-9.0-beta-heron -o timetable.svg",
            "metrograph draw timetable larkmoor-8.0-heron-1 larkmoor-8.0-heron-2 -o timetable.pdf",
        ),
    ),
    _SideBySide(
        "album",
        "Draw the pictures of screens side by side.\n\nA row for every screen of the merged flow that has a picture;"
        " what differs from the release to the left is framed. For runs that were watched, or kept with shot.",
        (
            "metrograph draw album larkmoor-8.0-heron larkmoor-9.0-heron -o album.png",
            "metrograph draw album larkmoor-9.0-heron-1 larkmoor-9.0-heron-2 -o album.svg",
        ),
    ),
)


def _add(row: _SideBySide) -> Callable[..., None]:
    """Hangs the command of a row on the group."""

    @app.command(row.chart, help=row.help, epilog=examples(*row.examples))
    def draw_sides(
        ctx: typer.Context,
        names: TwoOrMore,
        output: OutputOption = None,
        show_personal: PersonalOption = False,
        logbook: LogbookOption = None,
    ) -> None:
        from metrograph.present.charts.registry import CHARTS

        environment = environment_of(ctx)
        compared = read_compared(environment, logbook, names)
        lay_out = CHARTS[row.chart].lay_out
        laid = lay_out(compared.sides, compared.background.rulings, None) if lay_out else None
        _, human = compared.names
        _draw(environment, row.chart, compared.runs, named(laid, human), compared.title, output, show_personal, logbook)

    return draw_sides


for _row in _SIDE_BY_SIDE:
    _add(_row)


@app.command(
    epilog=examples("metrograph draw trend desktop -o desktop.svg", "metrograph draw trend memory --state live")
)
def trend(
    ctx: typer.Context,
    figure: FigureArgument,
    names: NamesArgument = None,
    state: StateOption = None,
    output: OutputOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Draw a figure along the releases of each line.

    The median of a release's runs, with their least and most.
    """
    from metrograph.cli.reviewing.trend import below_lines, trends_of

    environment = environment_of(ctx)
    runs, along = trends_of(environment, logbook, figure, names, state)
    title = f"{along[0].words}, release by release" if along else figure
    _draw(
        environment,
        "trend",
        [],
        below_lines(runs.named(along)),
        title[0].upper() + title[1:],
        output,
        show_personal=True,
    )


def _draw(
    environment: Environment,
    name: str,
    runs: Sequence[Run],
    laid: Any,
    title: str,
    output: Path | None,
    show_personal: bool,
    logbook: Path | None = None,
) -> None:
    """Draws what was laid out, as others may see it, into the file that was asked for."""
    from metrograph.present.charts.layouts.album import with_folder
    from metrograph.present.charts.registry import CHARTS, ending_of

    path = output or Path(f"{name}.svg")
    ending = "svg" if is_stream(path) else ending_of(path)
    book = environment.logbook_or_none(logbook)
    shown = with_folder(masked(environment, runs, laid, show_personal), book.path if book else None)
    chart = CHARTS[name].draw(shown, title, ending)
    environment.write(path, chart, "drawn")
