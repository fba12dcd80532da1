"""Commands that draw figures into files. Those made from releases side by side are rows; to add one, add a row."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Annotated

import msgspec
import typer

from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.options import (
    FigureArgument,
    ForOption,
    LineUpOption,
    LogbookOption,
    NamesArgument,
    OneOrMore,
    PersonalOption,
    ReleasesArgument,
    StateOption,
    TwoOrMore,
    WholeOption,
    command_app,
    examples,
)
from metrograph.show.charts.sheets.paper import WIDE
from metrograph.store.local.files import is_stream

APPS: dict[str, typer.Typer] = {}
app = APPS["draw"] = command_app("Draw a figure: SVG, PNG or PDF.")

OutputOption = Annotated[
    Path | None,
    typer.Option(
        "-o",
        "--output",
        metavar="FILE",
        help="Ends in .svg, .png or .pdf; - for SVG; NAME.svg unless said.",
    ),
]


WidthOption = Annotated[
    int, typer.Option("--width", metavar="PIXELS", min=400, max=4000, help="1280 for a screen, 600 for a column.")
]


DarkOption = Annotated[
    bool | None, typer.Option("--dark/--light", help="Light on dark, or dark on light; else as your settings say.")
]


EachRunOption = Annotated[bool, typer.Option("--runs", help="A lane for every run.")]


@app.command(
    epilog=examples(
        "metrograph draw lanes larkmoor-7.0-heron larkmoor-8.0-heron -o lanes.svg",
        "metrograph draw lanes larkmoor-8.0-heron larkmoor-9.0-heron -o column.png --width 600",
        "metrograph draw lanes larkmoor-8.0-heron --line-up copy -o copying.png",
    )
)
def lanes(
    ctx: typer.Context,
    names: OneOrMore,
    output: OutputOption = None,
    each_run: EachRunOption = False,
    line_up: LineUpOption = None,
    whole: WholeOption = False,
    width: WidthOption = WIDE,
    dark: DarkOption = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Draw releases as lanes, time to scale.

    A lane stands at the medians of a release's runs, which lie below it, thin. Milestones are joined from lane to lane,
    issues are numbers.
    """
    from metrograph.services.comparing import ComparisonRequest
    from metrograph.services.outward.publishing import FigureForm, figure_of

    environment = environment_of(ctx)
    figure = FigureForm(width, dark, _ending(output), whole)
    asked = ComparisonRequest(logbook, tuple(names), show_personal=show_personal, least=1)
    _write(environment, output, "lanes", figure_of(environment, asked, "lanes", figure, each_run, line_up))


class _SideBySide(msgspec.Struct, frozen=True):
    """A chart of releases side by side. help: its first line, then what else there is to say."""

    chart: str
    help: str
    examples: tuple[str, ...]


_SIDE_BY_SIDE = (
    _SideBySide(
        "strip",
        "Draw releases as columns of their screens.\n\nEach in its own order, hung from its restart. A stop is as high"
        " as the root of its time: filled where all pre-set values were kept, a ring where something was changed."
        " Ribbons join the same screen; where they cross, it has moved.",
        (
            "metrograph draw strip larkmoor-7.0-heron larkmoor-8.0-heron -o strip.svg",
            "metrograph draw strip larkmoor-8.0-heron osterby-2026.1 -o strip.png",
        ),
    ),
    _SideBySide(
        "lead",
        "Draw where a release gains and loses against another.\n\nAlong the installation of the one before it, or of"
        " the first where several are named after it: above the line where it has got as far sooner, below it later.",
        (
            "metrograph draw lead larkmoor-8.0-heron larkmoor-9.0-beta-heron -o lead.svg",
            "metrograph draw lead larkmoor-8.0-heron larkmoor-9.0-heron -o lead.png --dark",
        ),
    ),
    _SideBySide(
        "timetable",
        "Draw runs as lines that fall through their screens.\n\nTime goes across, each release's own screens downwards."
        " Flat is waiting, steep is quick, a rise is going back. At most four releases.",
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
        width: WidthOption = WIDE,
        dark: DarkOption = None,
        show_personal: PersonalOption = False,
        logbook: LogbookOption = None,
    ) -> None:
        from metrograph.services.comparing import ComparisonRequest
        from metrograph.services.outward.publishing import FigureForm, figure_of

        environment = environment_of(ctx)
        figure = FigureForm(width, dark, _ending(output))
        asked = ComparisonRequest(logbook, tuple(names), show_personal=show_personal)
        _write(environment, output, row.chart, figure_of(environment, asked, row.chart, figure))

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
    width: WidthOption = WIDE,
    dark: DarkOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Draw a figure along the releases of each line.

    At the days on which they came out; a dot for every run, a line through the medians.
    """
    from metrograph.services.following import FollowedRuns
    from metrograph.services.outward.publishing import FigureForm, trend_figure

    environment = environment_of(ctx)
    form = FigureForm(width, dark, _ending(output))
    _write(environment, output, "trend", trend_figure(FollowedRuns(environment, logbook, names), figure, state, form))


@app.command(
    epilog=examples(
        "metrograph draw kinship -o kinship.svg", "metrograph draw kinship larkmoor-8.0-heron osterby-2026.1 -o k.png"
    )
)
def kinship(
    ctx: typer.Context,
    names: NamesArgument = None,
    output: OutputOption = None,
    width: WidthOption = WIDE,
    dark: DarkOption = None,
    logbook: LogbookOption = None,
) -> None:
    """Draw how alike installers are, as a matrix.

    Kin stand beside each other, and a family has a bracket.
    """
    from metrograph.services.following import FollowedRuns
    from metrograph.services.outward.publishing import FigureForm, kinship_figure

    environment = environment_of(ctx)
    form = FigureForm(width, dark, _ending(output))
    _write(environment, output, "kinship", kinship_figure(FollowedRuns(environment, logbook, names), form))


@app.command(
    epilog=examples(
        "metrograph draw shortlist --for hand-out -o shortlist.svg",
        "metrograph draw shortlist --for workshop -o column.png --width 600",
    )
)
def shortlist(
    ctx: typer.Context,
    names: ReleasesArgument = None,
    reader: ForOption = None,
    output: OutputOption = None,
    width: WidthOption = WIDE,
    dark: DarkOption = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Draw what releases are worth to a reader, and how sure their order is.

    Each release is a bar of its wishes, hatched where it is not known, beside it how often it has each rank.
    """
    from metrograph.services.choosing import ShortlistRequest
    from metrograph.services.outward.publishing import FigureForm, shortlist_figure

    environment = environment_of(ctx)
    form = FigureForm(width, dark, _ending(output))
    wanted = ShortlistRequest(logbook, tuple(names or ()), reader, show_personal=show_personal)
    _write(environment, output, "shortlist", shortlist_figure(environment, wanted, form))


def _ending(output: Path | None) -> str:
    """What kind of file is drawn; raises MetrographError for one that cannot be, before anything else is done."""
    from metrograph.show.charts.registry import ending_of

    return "svg" if output is None or is_stream(output) else ending_of(output)


def _write(environment: Environment, output: Path | None, name: str, data: bytes) -> None:
    environment.write(output or Path(f"{name}.svg"), data, "drawn")
