"""The whole story of a comparison, to be published."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated
from urllib.parse import quote

import msgspec
import typer

from metrograph.analysis.compare import compare
from metrograph.analysis.digests import digest
from metrograph.analysis.lanes import Lanes, lay_lanes
from metrograph.analysis.ledgers import Group, claims_ledger, facts_ledger
from metrograph.analysis.merged import merged_flow
from metrograph.analysis.pictures import strip_of, timetable_of
from metrograph.commands.draw import TwoOrMore
from metrograph.commands.environment import (
    LogbookOption,
    command_app,
    complete_side,
    environment_of,
    examples,
)
from metrograph.commands.gathering import Gathered, gather
from metrograph.commands.publishing import PersonalOption, counted
from metrograph.errors import MetrographError
from metrograph.logbook.files import replace_bytes
from metrograph.logbook.selection import shown_path
from metrograph.model.comparison import Comparison, Side
from metrograph.model.ledgers import ClaimLedger, FactLedger
from metrograph.model.pictures import Strip, Timetable
from metrograph.views.lanes_figure import draw_lanes
from metrograph.views.report_html import Picture, render_page
from metrograph.views.report_markdown import render_report_markdown
from metrograph.views.strip_figure import draw_strip, told_strip
from metrograph.views.timetable_figure import draw_timetable, told_timetable

app = command_app()
_MOST = 6  # releases that are drawn side by side; of more, the baseline and the latest
_MOST_RUNS = 12  # that are drawn as a timetable


@app.command(
    epilog=examples(
        "metrograph report larkmoor-8.0-heron larkmoor-9.0-beta-heron -o beta.html",
        "metrograph report larkmoor-7.0-heron larkmoor-8.0-heron -o heron.md",
    )
)
def report(
    ctx: typer.Context,
    names: TwoOrMore,
    output: Annotated[Path, typer.Option("-o", "--output", metavar="FILE", help="Ends in .html or .md.")] = Path(
        "report.html"
    ),
    baseline: Annotated[
        str | None,
        typer.Option(
            metavar="NAME", autocompletion=complete_side, help="The one to hold others against, not the first."
        ),
    ] = None,
    show_personal: PersonalOption = False,
    logbook: LogbookOption = None,
) -> None:
    """Write a comparison as one page, or as Markdown.

    The page needs no network: open it from the disk or put it anywhere. Beside a Markdown file its figures are written.
    """
    environment = environment_of(ctx)
    ending = output.suffix.lower()
    if ending not in {".html", ".md"}:
        raise MetrographError(f"{output} should end in .html or .md, to say how to write it")
    gathered = gather(environment, logbook, names, baseline)
    found = _lay_out(gathered, show_personal)
    told, hidden = counted(environment, gathered.runs, found, show_personal)
    path = environment.folder / output
    text = _page(told, gathered.title, hidden) if ending == ".html" else _markdown(told, gathered.title, hidden, path)
    replace_bytes(path, text.encode())
    environment.say(f"{shown_path(path)} written")


class Laid(msgspec.Struct, frozen=True):
    """All that a report shows."""

    comparison: Comparison
    lanes: Lanes
    facts: FactLedger
    claims: ClaimLedger
    strip: Strip
    timetable: Timetable


def _lay_out(gathered: Gathered, show_personal: bool) -> Laid:
    """Compares the sides, and lays them out as pictures, of many the baseline and the latest."""
    comparison = compare(gathered.sides, gathered.known, gathered.baseline)
    few = chosen(gathered.sides, gathered.baseline)
    merged = merged_flow(few, gathered.known.rulings)
    short = [Side(side.name, side.runs[-max(_MOST_RUNS // len(few), 1) :]) for side in few]
    digests = {side.name: [digest(run) for run in side.runs] for side in gathered.sides}
    group = Group(digests, ("",) * len(digests), gathered.known.cards)
    ledgers = facts_ledger(group, show_personal), claims_ledger(group)
    timetable = timetable_of(short, merged_flow(short, gathered.known.rulings))
    return Laid(comparison, lay_lanes(gathered.runs), *ledgers, strip_of(few, merged), timetable)


def chosen(sides: Sequence[Side], baseline: str) -> list[Side]:
    """The sides that are drawn side by side."""
    latest = {side.name for side in sides[-_MOST:]}
    latest -= {sides[-_MOST].name} if len(sides) > _MOST and baseline not in latest else set()
    return [side for side in sides if side.name in latest or side.name == baseline]


def _pictures(laid: Laid, title: str) -> list[Picture]:
    """The strip and the timetable, drawn."""
    return [
        Picture(
            "Stops", "strip", "Every screen of the merged flow is a stop, every release a line through the stops.",
            draw_strip(laid.strip, title, "svg"), told_strip(laid.strip),
        ),
        Picture(
            "Timetable", "timetable", "Time across, screens downwards; flat is waiting, a rise is going back.",
            draw_timetable(laid.timetable, title, "svg"), told_timetable(laid.timetable),
        ),
    ]  # fmt: skip


def _page(laid: Laid, title: str, hidden: int) -> str:
    return render_page(laid.comparison, laid.lanes, (laid.facts, laid.claims), _pictures(laid, title), hidden)


def _markdown(laid: Laid, title: str, hidden: int, path: Path) -> str:
    """The text; its figures are written beside it under its name."""
    figures = [("Timelines", "lanes", draw_lanes(laid.lanes, title, "svg"))]
    figures += [(each.title, each.name, each.svg) for each in _pictures(laid, title)]
    links = []
    for words, name, data in figures:
        beside = path.with_name(f"{path.stem}-{name}.svg")
        replace_bytes(beside, data)
        links.append((words, quote(beside.name)))
    return render_report_markdown(laid.comparison, (laid.facts, laid.claims), links, hidden)
