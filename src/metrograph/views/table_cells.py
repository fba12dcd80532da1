"""Cells that several tables share."""

from __future__ import annotations

from metrograph.language.times import show_duration
from metrograph.model.comparison import Cell


def screen_time(cell: Cell) -> str:
    """The time that a release spent on a screen, and whether all pre-set values were kept there."""
    changed = any(choice.how != "kept" for choice in cell.choices)
    mark = " ○" if changed else " ●" if cell.choices else ""
    return show_duration(cell.on_clock) + mark
