"""A disk layout in the terminal: the disk as a bar to scale, and what stands on it."""

from __future__ import annotations

from metrograph.analysis.layouts import Segment, segments
from metrograph.language.sizes import show_size
from metrograph.model.layouts import Layout
from metrograph.views.palette import OWN_COLOURS
from metrograph.views.paper import Paper
from metrograph.views.table import render_lines

_INK, _FREE = "█▓", "·"  # neighbours differ in ink too, for those without colour


def render_layout(layout: Layout, paper: Paper) -> str:
    """The bar, below it a line for each piece in the bar's ink, and what else was said."""
    pieces = segments(layout)
    said = [layout.method, layout.table, show_size(layout.disk) if layout.disk is not None else None]
    heading = render_lines([", ".join(word for word in said if word)], paper)
    return heading + _bar(pieces, paper) + _key(layout, pieces, paper) + render_lines(_others(layout), paper)


def _inks(pieces: tuple[Segment, ...]) -> list[tuple[str, str]]:
    """For each piece the character and the colour it is drawn with."""
    return [
        (_FREE if piece.free else _INK[number % 2], OWN_COLOURS[number % len(OWN_COLOURS)])
        for number, piece in enumerate(pieces)
    ]


def _bar(pieces: tuple[Segment, ...], paper: Paper) -> str:
    """The pieces to scale; every piece has a column at least, and the largest gives them."""
    columns = min(paper.width, 100) - 4
    total = sum(piece.size for piece in pieces)
    if not total or len(pieces) > columns:
        return ""
    widths = [max(round(piece.size / total * columns), 1) for piece in pieces]
    widths[widths.index(max(widths))] += columns - sum(widths)
    cells = (paper.ink(ink * size, hue) for (ink, hue), size in zip(_inks(pieces), widths, strict=True))
    return f"  {''.join(cells)}\n"


def _key(layout: Layout, pieces: tuple[Segment, ...], paper: Paper) -> str:
    systems = {part.mount: f" {part.filesystem}" for part in layout.parts}
    return "".join(
        f"  {paper.ink(ink, hue)} {piece.label}{systems.get(piece.label, '')} {show_size(piece.size)}\n"
        for (ink, hue), piece in zip(_inks(pieces), pieces, strict=True)
    )


def _others(layout: Layout) -> list[str]:
    lines = []
    if layout.swap is not None and layout.swap.how != "partition":
        size = f" of {show_size(layout.swap.size)}" if layout.swap.size is not None else ""
        lines.append(f"swap: {layout.swap.how}{size}")
    lines += [f"encryption: {layout.encryption}"] if layout.encryption else []
    return lines + ([f"boot loader: {layout.loader}"] if layout.loader else [])
