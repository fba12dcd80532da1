"""A disk in the terminal: a bar to scale, and what stands on it."""

from __future__ import annotations

from metrograph.present.palette import OWN_COLOURS
from metrograph.present.terminal.paper import Paper
from metrograph.present.terminal.table import render_lines
from metrograph.present.wording.disks import disk_title, other_lines, segment_lines
from metrograph.run.disk.layouts import Layout, Segment, segments

_INK, _FREE, _UNKNOWN = "█▓", "·", "?"  # neighbours differ in ink too, for those without colour
_WIDEST = 100  # columns of the bar with its margins


def render_disk(layout: Layout, paper: Paper) -> str:
    """The bar, below it a line for each piece in the bar's ink, and what else was said."""
    pieces = segments(layout)
    key = "".join(
        f"  {paper.ink(ink, hue)} {line}\n"
        for (ink, hue), line in zip(_inks(pieces), segment_lines(layout), strict=True)
    )
    return (
        render_lines([disk_title(layout)], paper) + _bar(pieces, paper) + key + render_lines(other_lines(layout), paper)
    )


def _inks(pieces: tuple[Segment, ...]) -> list[tuple[str, str]]:
    """For each piece the character and the colour it is drawn with."""
    return [(_ink(piece, number), OWN_COLOURS[number % len(OWN_COLOURS)]) for number, piece in enumerate(pieces)]


def _ink(piece: Segment, number: int) -> str:
    return _FREE if piece.free else _INK[number % 2] if piece.known else _UNKNOWN


def _bar(pieces: tuple[Segment, ...], paper: Paper) -> str:
    """The pieces to scale, where all have a size; every piece has a column at least, and the largest gives them."""
    columns = min(paper.width, _WIDEST) - 4
    sizes = [piece.size for piece in pieces if piece.size is not None]
    if not sum(sizes) or len(sizes) < len(pieces) or len(pieces) > columns:
        return ""
    widths = [max(round(size / sum(sizes) * columns), 1) for size in sizes]
    widths[widths.index(max(widths))] += columns - sum(widths)
    cells = (paper.ink(ink * size, hue) for (ink, hue), size in zip(_inks(pieces), widths, strict=True))
    return f"  {''.join(cells)}\n"
