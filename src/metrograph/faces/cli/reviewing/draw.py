"""Draws charts into files. Those made from releases side by side are rows; to add a chart, add one."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from itertools import islice
from pathlib import Path
from typing import Annotated, Any

import msgspec
import typer

from metrograph.faces.cli.environment import Environment, environment_of
from metrograph.faces.cli.masking import masked
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
    command_app,
    examples,
)
from metrograph.faces.cli.reviewing.sides import Compared, read_compared
from metrograph.ledgers.comparison import Comparison, compare
from metrograph.show.charts.registry import paper_for
from metrograph.show.charts.sheets.paper import WIDE, Paper
from metrograph.store.local.files import is_stream
from metrograph.words.names import named

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
    width: WidthOption = WIDE,
    dark: DarkOption = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Draw releases as lanes, time to scale.

    A lane stands at the medians of a release's runs, which lie below it, thin. Milestones are joined from lane to lane,
    issues are numbers.
    """
    from metrograph.show.charts.layouts.board import lay_board

    environment = environment_of(ctx)
    _check(output)
    compared = read_compared(environment, logbook, names, least=1)
    comparison = compare(compared.sides, compared.background, compared.baseline)
    laid = lay_board(compared.sides, comparison, each_run, line_up)
    _draw_compared(environment, "lanes", compared, comparison, laid, _Form(output, width, dark, show_personal), logbook)


def is_dark(environment: Environment, said: bool | None) -> bool:
    """Whether a figure is light on dark: as it was said, or as the person has set it."""
    return environment.personal().theme == "dark" if said is None else said


def _check(output: Path | None) -> None:
    """Raises MetrographError when no figure can be drawn into such a file, before anything else is done."""
    from metrograph.show.charts.registry import ending_of

    if output is not None and not is_stream(output):
        ending_of(output)


class _Form(msgspec.Struct, frozen=True):
    """Into which file a figure is drawn, and how."""

    output: Path | None
    width: int
    dark: bool | None
    show_personal: bool = False


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
        from metrograph.show.charts.registry import CHARTS

        environment = environment_of(ctx)
        _check(output)
        compared = read_compared(environment, logbook, names)
        comparison = compare(compared.sides, compared.background, compared.baseline)
        lay_out = CHARTS[row.chart].lay_out
        laid = lay_out(compared.sides, comparison, compared.background.rulings) if lay_out else None
        form = _Form(output, width, dark, show_personal)
        _draw_compared(environment, row.chart, compared, comparison, laid, form, logbook)

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
    from metrograph.faces.cli.reviewing.trend import below_lines, trends_of
    from metrograph.words.openings import of_trends

    environment = environment_of(ctx)
    _check(output)
    runs, along = trends_of(environment, logbook, figure, names, state)
    called = below_lines(runs.named(along))
    title = f"{along[0].words}, release by release" if along else figure
    _draw_told(
        environment,
        "trend",
        called,
        title[0].upper() + title[1:],
        islice(of_trends(called), 2),
        _Form(output, width, dark),
    )


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
    from metrograph.faces.cli.reviewing.ledger_runs import Runs
    from metrograph.faces.cli.reviewing.ledgers import kinship_of
    from metrograph.words.openings import of_kinship

    environment = environment_of(ctx)
    _check(output)
    runs = Runs(environment, logbook, names)
    called = runs.named(kinship_of(runs))
    _draw_told(environment, "kinship", called, "Kinship of installers", of_kinship(called), _Form(output, width, dark))


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
    from metrograph.faces.cli.reviewing.shortlist import choose
    from metrograph.words.shortlist import of_shortlist, titled

    environment = environment_of(ctx)
    _check(output)
    chosen = choose(environment, logbook, names, reader)
    made = named(masked(environment, chosen.digests, chosen.made, show_personal), chosen.names)
    _draw_told(environment, "shortlist", made, titled(made), islice(of_shortlist(made), 2), _Form(output, width, dark))


def _draw_compared(
    environment: Environment,
    name: str,
    compared: Compared,
    comparison: Comparison,
    laid: Any,
    form: _Form,
    logbook: Path | None,
) -> None:
    """Draws what was laid out of a comparison, as others may see it."""
    from metrograph.show.charts.layouts.album import with_folder
    from metrograph.show.charts.registry import CHARTS

    book = environment.logbook_or_none(logbook)
    _, human = compared.names
    shown = masked(environment, compared.runs, named(laid, human), form.show_personal)
    told = masked(environment, compared.runs, named(comparison, human), form.show_personal)
    form_of = form.width, is_dark(environment, form.dark)
    paper = paper_for(name, CHARTS[name].caption, told, compared.title, form_of)
    _draw(environment, name, with_folder(shown, book.path if book else None), paper, form.output)


def _draw_told(environment: Environment, name: str, laid: Any, title: str, answer: Iterable[str], form: _Form) -> None:
    """Draws what has a title and an answer of its own."""
    from metrograph.show.charts.registry import CHARTS

    paper = Paper(title, tuple(answer), CHARTS[name].caption, form.width, is_dark(environment, form.dark))
    _draw(environment, name, laid, paper, form.output)


def _draw(environment: Environment, name: str, laid: Any, paper: Paper, output: Path | None) -> None:
    from metrograph.show.charts.registry import CHARTS, ending_of

    path = output or Path(f"{name}.svg")
    ending = "svg" if is_stream(path) else ending_of(path)
    environment.write(path, CHARTS[name].draw(laid, paper, ending), "drawn")
