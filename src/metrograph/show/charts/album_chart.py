"""The album: pictures of screens side by side, with what differs between two neighbours framed."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import Any

import numpy as np

from metrograph.core.bare_pictures import pixels_of
from metrograph.core.errors import MetrographError
from metrograph.show.charts.layouts.album_layout import Album, AlbumCell
from metrograph.show.charts.sheets.lettering import LABEL, SMALL, fitting
from metrograph.show.charts.sheets.paper import Paper
from metrograph.show.charts.sheets.sheet import Sheet, new_sheet, save
from metrograph.show.safe import readable
from metrograph.store.local.files import read_own

_HEAD, _GAP, _TITLE = 34.0, 14.0, 24.0  # pixels
_NAMES = 0.16  # of the width, for the titles of the rows
_SHAPE = 0.625  # height of a picture by its width, where none says otherwise
_DIFFERS = 40  # of 255: pictures are kept small and coded, which moves shades by less
_COMPARED = (160, 100)  # pixels across and down by which two pictures are compared
_SPECK = 6  # of these pixels: smaller differences are letters that were coded otherwise
_FRAME = "#c2410c"


def draw_album(album: Album, paper: Paper, ending: str) -> bytes:
    """The figure as ``svg``, ``png`` or ``pdf``."""
    folder, album, paper = Path(album.folder), readable(album), readable(paper)
    left = paper.margin + paper.width * _NAMES
    wide = (paper.width - paper.margin - left - _GAP * (len(album.names) - 1)) / max(len(album.names), 1)
    tall = wide * _SHAPE
    step = tall + _TITLE + _GAP
    with new_sheet(paper, _HEAD + step * max(len(album.rows), 1) + 20) as sheet:
        top = sheet.top + _HEAD
        for column, name in enumerate(album.names):
            x = left + column * (wide + _GAP)
            sheet.text(x, top - 14, fitting(name, LABEL, wide, bold=True), LABEL, fontweight="bold")
        if not album.rows:
            sheet.text(sheet.left, top + 20, "No pictures were kept of these runs.", SMALL, color=sheet.colours.soft)
        for place, row in enumerate(album.rows):
            y = top + place * step
            sheet.text(sheet.left, y + 8, fitting(row.title, SMALL, left - sheet.left - 12), SMALL)
            before: Any = None
            for column, cell in enumerate(row.cells):
                picture = read_picture(folder, cell)
                _draw_cell(sheet, cell, picture, before, (left + column * (wide + _GAP), y, wide, tall))
                before = picture if picture is not None else before
        return save(sheet, ending, paper.title, describe_album(album))


def describe_album(album: Album) -> str:
    """The chart in words."""
    counts = [0] * len(album.names)
    for row in album.rows:
        for place, cell in enumerate(row.cells):
            counts[place] += cell is not None and cell.picture is not None
    kept = "; ".join(f"{name} has {number}" for name, number in zip(album.names, counts, strict=True))
    return f"Pictures of {len(album.rows)} screens side by side: {kept}."


def _draw_cell(
    sheet: Sheet, cell: AlbumCell | None, picture: Any, before: Any, place: tuple[float, float, float, float]
) -> None:
    x, y, wide, tall = place
    if picture is None:
        sheet.line([x, x + wide, x + wide, x, x], [y, y, y + tall, y + tall, y], color=sheet.colours.faint, linewidth=1)
        words = "not there" if cell is None else "no picture"
        sheet.text(x + wide / 2, y + tall / 2, words, SMALL, ha="center", color=sheet.colours.soft)
    else:
        axes = sheet.figure.add_axes(
            (x / sheet.paper.width, 1 - (y + tall) / sheet.height, wide / sheet.paper.width, tall / sheet.height)
        )
        axes.imshow(picture, aspect="auto", interpolation="lanczos")
        axes.set_axis_off()
        for left, top, right, bottom in differing(before, picture) if before is not None else []:
            xs = [x + wide * share for share in (left, right, right, left, left)]
            ys = [y + tall * share for share in (top, top, bottom, bottom, top)]
            sheet.line(xs, ys, color=_FRAME, linewidth=1.2, zorder=5)
    if cell is not None:
        sheet.text(x, y + tall + 11, fitting(cell.title, SMALL, wide), SMALL)


def differing(before: Any, now: Any) -> list[tuple[float, float, float, float]]:
    """Where two pictures (height x width x 3) differ: left, top, right, bottom, as shares of the picture."""
    from scipy import ndimage  # half a second to load, and only for those who have pictures

    apart = np.abs(_small(before).astype(np.int16) - _small(now)) > _DIFFERS
    # What stands close together is one difference.
    groups, _ = ndimage.label(ndimage.binary_dilation(apart, iterations=3))
    found = []
    for number, (down, across) in enumerate(ndimage.find_objects(groups), 1):
        if (apart & (groups == number)).sum() >= _SPECK:
            width, height = _COMPARED
            found.append((across.start / width, down.start / height, across.stop / width, down.stop / height))
    return found


def _small(picture: Any) -> Any:
    from PIL import Image

    return np.asarray(Image.fromarray(picture).convert("L").resize(_COMPARED, Image.Resampling.BOX))


def picture_path(folder: Path, cell: AlbumCell | None) -> Path | None:
    """Where a picture of the logbook lies; None where there is none, or it lies elsewhere."""
    if cell is None or cell.picture is None:
        return None
    path = (folder / cell.picture).resolve()
    return path if path.parent == (folder / "shots").resolve() else None


def read_picture(folder: Path, cell: AlbumCell | None) -> Any:
    """A picture of the logbook, height x width x 3; None where there is none that can be read, or it is too large."""
    path = picture_path(folder, cell)
    with suppress(MetrographError, ValueError):
        return None if path is None else pixels_of(read_own(path, "picture"))
    return None
