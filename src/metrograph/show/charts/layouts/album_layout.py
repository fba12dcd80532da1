"""Lays the pictures of releases side by side: a row a screen, a column a release."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import msgspec

from metrograph.compare.align.merge import Merged, merged_flow
from metrograph.compare.flow_records import Side
from metrograph.ledgers.comparison import Comparison
from metrograph.run.records import Run
from metrograph.run.route import Rulings


class AlbumCell(msgspec.Struct, frozen=True):
    """A screen of a release. picture: its path from the logbook's folder; None where none was kept."""

    title: str
    picture: str | None


class AlbumRow(msgspec.Struct, frozen=True):
    """A screen of the merged flow. cells: by release; None where a release does not have it."""

    title: str
    cells: tuple[AlbumCell | None, ...]


class Album(msgspec.Struct, frozen=True):
    """The pictures of releases. names: what the columns are; folder: where the paths of pictures begin."""

    names: tuple[str, ...]
    rows: tuple[AlbumRow, ...]
    folder: str = ""


def lay_album(sides: Sequence[Side], comparison: Comparison, rulings: Rulings) -> Album:
    """The album of some sides; a row that has no picture at all is left out."""
    merged = merged_flow(sides, rulings, comparison.selection)
    rows = [
        AlbumRow(" → ".join(row.titles), tuple(_cell(sides, merged, place, side) for side in range(len(sides))))
        for place, row in enumerate(merged.rows)
    ]
    pictured = tuple(row for row in rows if any(cell is not None and cell.picture for cell in row.cells))
    return Album(tuple(side.name for side in sides), pictured)


def with_folder(laid: Any, folder: Path | None) -> Any:
    """An album with the place of its pictures; anything else as it is. It comes after masking, which knows no paths."""
    return msgspec.structs.replace(laid, folder=str(folder)) if isinstance(laid, Album) and folder else laid


def _cell(sides: Sequence[Side], merged: Merged, row: int, side: int) -> AlbumCell | None:
    cell = merged.rows[row].cells[side]
    if cell is None:
        return None
    runs = {run.run: run for run in sides[side].runs}
    visits = [visit for visit in merged.passed[row] if visit.side == side]
    pictures = (_picture(runs[visit.run], visit.screen.start.low, visit.screen.title) for visit in visits)
    return AlbumCell(cell.title, next((path for path in pictures if path is not None), None))


def _picture(run: Run, start: float, title: str) -> str | None:
    """The first picture that was taken while a screen was in front, from its beginning to that of the next."""
    later = [screen.start.low for screen in run.screens if screen.start.low > start and screen.title != title]
    end = min(later, default=float("inf"))
    return next((shot.path for shot in run.shots if start <= shot.at.low < end), None)
