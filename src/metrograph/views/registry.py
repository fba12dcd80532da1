"""The figures by name and by file ending. To add one, add a row."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import msgspec

from metrograph.errors import MetrographError
from metrograph.views.lanes_figure import draw_lanes
from metrograph.views.sheet import ENDINGS
from metrograph.views.strip_figure import draw_strip
from metrograph.views.timetable_figure import draw_timetable
from metrograph.views.trend_figure import draw_trend


class Figure(msgspec.Struct, frozen=True):
    """A kind of figure.

    draw: from what was laid out, a title and an ending to the file's bytes.
    endings: of the files it can be written to.
    """

    name: str
    draw: Callable[[Any, str, str], bytes]
    endings: tuple[str, ...] = ENDINGS


FIGURES = {
    figure.name: figure
    for figure in (
        Figure("lanes", draw_lanes),
        Figure("strip", draw_strip),
        Figure("timetable", draw_timetable),
        Figure("trend", draw_trend),
    )
}


def ending_of(figure: Figure, path: Path) -> str:
    """The ending that says how to draw into this file; raises MetrographError when the figure has no such form."""
    ending = path.suffix.removeprefix(".").lower()
    if ending not in figure.endings:
        known = ", ".join(f".{each}" for each in figure.endings)
        raise MetrographError(f"{path} should end in one of {known}, to say how to draw it")
    return ending
