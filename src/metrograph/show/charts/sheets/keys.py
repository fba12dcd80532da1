"""The keys below a figure: what its hues and marks mean, in rows that fit its width."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from metrograph.show.charts.sheets.lettering import SMALL, fitting, measure
from metrograph.show.charts.sheets.paper import NARROW, Paper
from metrograph.show.charts.sheets.sheet import Sheet

_ROW = 20.0  # pixels from row to row
_LONGEST = 140.0  # pixels of a phase's name


def key_room(paper: Paper) -> float:
    """Pixels that keys take beyond the two rows of a wide sheet."""
    return _ROW * (0 if not paper.narrow else 3 if paper.width >= NARROW else 5)


def phase_key(sheet: Sheet, hues: Mapping[str, str], y: float, left: float) -> float:
    """Every phase with its two fills; gives where the next row begins."""
    x = left
    for phase, hue in hues.items():
        name = fitting(phase, SMALL, _LONGEST)
        wide = 24 + measure(name, SMALL) + 18
        if x + wide > sheet.right and x > left:
            x, y = left, y + _ROW
        sheet.bar((x, y - 6, x + 9, y + 6), sheet.fill(hue))
        sheet.bar((x + 9, y - 6, x + 18, y + 6), sheet.fill(hue, waiting=True))
        sheet.text(x + 24, y, name, SMALL)
        x += wide
    return y + _ROW


def row_of_keys(sheet: Sheet, words: Sequence[str], y: float, left: float) -> float:
    """Sentences about marks, beside each other; gives where the next row begins."""
    x = left
    for text in words:
        wide = measure(text, SMALL) + 22
        if x + wide > sheet.right + 22 and x > left:
            x, y = left, y + _ROW
        sheet.text(x, y, fitting(text, SMALL, sheet.right - left), SMALL, color=sheet.colours.soft)
        x += wide
    return y + _ROW
