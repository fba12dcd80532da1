"""The figures by name and by file ending. To add one, add a row."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import msgspec

from metrograph.analysis.lanes import Lanes
from metrograph.errors import MetrographError
from metrograph.views.lanes_figure import draw_lanes


class Figure(msgspec.Struct, frozen=True):
    """A kind of figure.

    endings: of the files it can be written to.
    draw: from lanes, a title and an ending to the file's bytes.
    """

    name: str
    endings: tuple[str, ...]
    draw: Callable[[Lanes, str, str], bytes]


FIGURES = {figure.name: figure for figure in (Figure("lanes", ("svg", "png", "pdf"), draw_lanes),)}


def ending_of(figure: Figure, path: Path) -> str:
    """The ending that says how to draw into this file; raises MetrographError when the figure has no such form."""
    ending = path.suffix.removeprefix(".").lower()
    if ending not in figure.endings:
        known = ", ".join(f".{each}" for each in figure.endings)
        raise MetrographError(f"{path} should end in one of {known}, to say how to draw it")
    return ending
