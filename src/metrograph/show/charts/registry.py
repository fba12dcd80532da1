"""The charts by name. To add one, add a row: how it is laid out, drawn, and told in words; all else follows it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import msgspec

from metrograph.compare.flow_records import Side
from metrograph.core.errors import MetrographError
from metrograph.core.pool import copies
from metrograph.ledgers.comparison import Comparison
from metrograph.run.route import Rulings
from metrograph.show.charts.album_chart import describe_album, draw_album
from metrograph.show.charts.kinship_chart import describe_kinship, draw_kinship
from metrograph.show.charts.lanes_chart import describe_lanes, draw_lanes
from metrograph.show.charts.layouts.album_layout import lay_album
from metrograph.show.charts.layouts.board_layout import lay_board
from metrograph.show.charts.layouts.lead_layout import lay_lead
from metrograph.show.charts.layouts.strip_layout import lay_strip
from metrograph.show.charts.layouts.timetable_layout import lay_timetable
from metrograph.show.charts.lead_chart import describe_lead, draw_lead
from metrograph.show.charts.sheets.paper import WIDE, Paper
from metrograph.show.charts.sheets.sheet import ENDINGS
from metrograph.show.charts.shortlist_chart import describe_shortlist, draw_shortlist
from metrograph.show.charts.strip_chart import describe_strip, draw_strip
from metrograph.show.charts.timetable_chart import describe_timetable, draw_timetable
from metrograph.show.charts.trend_chart import describe_trends, draw_trend
from metrograph.words.answers.comparison_answers import above, made_from

LayOut = Callable[[Sequence[Side], Comparison, Rulings], Any]


class Chart(msgspec.Struct, frozen=True):
    """A kind of chart.

    lay_out: from sides, what comes out when they are laid beside each other, and what a person has decided about
        screens; None where it is made from something else.
    draw: from what was laid out, a paper and an ending to the file's bytes.
    describe: what was laid out, in words.
    caption: how to read it.
    """

    name: str
    title: str
    caption: str
    lay_out: LayOut | None
    draw: Callable[[Any, Paper, str], bytes]
    describe: Callable[[Any], str]


CHARTS = {
    chart.name: chart
    for chart in (
        Chart(
            "lanes", "Timelines", "Time on the clock from power-on, to scale.",
            lambda sides, comparison, _: lay_board(sides, comparison), draw_lanes, describe_lanes,
        ),
        Chart(
            "strip", "Screens in their order", "Each release in its own order of screens, hung from its restart.",
            lay_strip, draw_strip, describe_strip,
        ),
        Chart(
            "lead", "Sooner and later", "Read along the installation of the one that the others are held against.",
            lambda sides, comparison, _: lay_lead(sides, comparison), draw_lead, describe_lead,
        ),
        Chart(
            "timetable", "Timetable", "Flat is waiting, steep is quick, a rise is going back.",
            lay_timetable, draw_timetable, describe_timetable,
        ),
        Chart(
            "album", "Album", "Screens as they were seen; what differs from the release to the left is framed.",
            lay_album, draw_album, describe_album,
        ),
        Chart(
            "kinship", "Kinship", "How alike installers are, time aside, from 0 to 1; kin stand beside each other.",
            None, draw_kinship, describe_kinship,
        ),
        Chart(
            "shortlist", "Shortlist", "What each is worth to the reader, of 100, and how often it has each rank.",
            None, draw_shortlist, describe_shortlist,
        ),
        Chart(
            "trend", "Trend", "At the days on which releases came out; a dot is a run, a line the medians.",
            None, draw_trend, describe_trends,
        ),
    )
}  # fmt: skip


_MANY = 20_000  # bytes of what was laid out: drawing it takes longer than starting another process


def draw_all(figures: Sequence[tuple[str, Any, Paper]]) -> list[bytes]:
    """Charts by name as SVG, each of what was laid out for it; many and large ones on all cores."""
    sizes = {id(laid): len(msgspec.json.encode(laid)) for _, laid, _ in figures}
    if sum(sizes.values()) < _MANY:
        return [_draw_one(figure) for figure in figures]
    return list(copies(_draw_one, figures))


def _draw_one(figure: tuple[str, Any, Paper]) -> bytes:
    name, laid, paper = figure
    return CHARTS[name].draw(laid, paper, "svg")


def ending_of(path: Path) -> str:
    """The ending that says how to draw into this file; raises MetrographError when there is no such form."""
    ending = path.suffix.removeprefix(".").lower()
    if ending not in ENDINGS:
        known = ", ".join(f".{ending}" for ending in ENDINGS)
        raise MetrographError(f"{path} should end in one of {known}, to say how to draw it")
    return ending


def paper_for(
    chart: str,
    caption: str,
    comparison: Comparison,
    title: str,
    form: tuple[int, bool] = (WIDE, False),
    bare: bool = False,
) -> Paper:
    """What a figure of a comparison is drawn on: its title, what is to be seen in it, how it is read, and of what.

    form: its width in pixels, and whether it is dark; bare: without what stands beside it already.
    """
    below = f"{caption} {made_from(chart, comparison)}".strip()
    return Paper(title, above(chart, comparison), below, *form, bare)
