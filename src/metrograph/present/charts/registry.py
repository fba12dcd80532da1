"""The charts by name. To add one, add a row: how it is laid out, drawn, and told in words; all else follows it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import msgspec

from metrograph.compare.records import Side
from metrograph.errors import MetrographError
from metrograph.measures.selection import Selection
from metrograph.present.charts.album import describe_album, draw_album
from metrograph.present.charts.lanes import describe_lanes, draw_lanes
from metrograph.present.charts.layouts.album import lay_album
from metrograph.present.charts.layouts.lanes import lay_lanes
from metrograph.present.charts.layouts.strip import lay_strip
from metrograph.present.charts.layouts.timetable import lay_timetable
from metrograph.present.charts.sheet import ENDINGS
from metrograph.present.charts.strip import describe_strip, draw_strip
from metrograph.present.charts.timetable import describe_timetable, draw_timetable
from metrograph.present.charts.trend import describe_trends, draw_trend
from metrograph.run.rulings import Rulings

LayOut = Callable[[Sequence[Side], Rulings, Selection | None], Any]


class Chart(msgspec.Struct, frozen=True):
    """A kind of chart.

    lay_out: from sides, what a person has decided about screens, and which runs count, None for those of the sides;
        None where it is made from something else.
    draw: from what was laid out, a title and an ending to the file's bytes.
    describe: what was laid out, in words.
    caption: how to read it.
    """

    name: str
    title: str
    caption: str
    lay_out: LayOut | None
    draw: Callable[[Any, str, str], bytes]
    describe: Callable[[Any], str]


CHARTS = {
    chart.name: chart
    for chart in (
        Chart(
            "lanes", "Timelines", "Time to scale, a lane a run; full: hands-on, pale: waiting.",
            lambda sides, *_: lay_lanes([run for side in sides for run in side.runs]), draw_lanes, describe_lanes,
        ),
        Chart(
            "strip", "Stops", "Every screen of the merged flow is a stop, every release a line through the stops.",
            lay_strip, draw_strip, describe_strip,
        ),
        Chart(
            "timetable", "Timetable", "Time across, screens downwards; flat is waiting, a rise is going back.",
            lay_timetable, draw_timetable, describe_timetable,
        ),
        Chart(
            "album", "Album", "Screens as they were seen; what differs from the release to the left is framed.",
            lay_album, draw_album, describe_album,
        ),
        Chart(
            "trend", "Trend", "Dot: median of a release's runs; bar: their least to their most.",
            None, draw_trend, describe_trends,
        ),
    )
}  # fmt: skip


def ending_of(path: Path) -> str:
    """The ending that says how to draw into this file; raises MetrographError when there is no such form."""
    ending = path.suffix.removeprefix(".").lower()
    if ending not in ENDINGS:
        known = ", ".join(f".{ending}" for ending in ENDINGS)
        raise MetrographError(f"{path} should end in one of {known}, to say how to draw it")
    return ending
