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
    """The bar, and below it a line for each piece and each thing else that was said."""
    pieces = segments(layout)
    return _bar(pieces, paper) + render_lines(_lines(layout, pieces), paper)


def _lines(layout: Layout, pieces: tuple[Segment, ...]) -> list[str]:
    said = [layout.method, layout.table, show_size(layout.disk) if layout.disk is not None else None]
    systems = {part.mount: part.filesystem for part in layout.parts}
    lines = [", ".join(word for word in said if word)]
    for number, piece in enumerate(pieces):
        ink = _FREE if piece.free else _INK[number % 2]
        system = f" {systems[piece.label]}" if piece.label in systems else ""
        lines.append(f"{ink} {piece.label}{system} {show_size(piece.size)}")
    if layout.swap is not None and layout.swap.how != "partition":
        size = f" of {show_size(layout.swap.size)}" if layout.swap.size is not None else ""
        lines.append(f"swap: {layout.swap.how}{size}")
    lines += [f"encryption: {layout.encryption}"] if layout.encryption else []
    return lines + ([f"boot loader: {layout.loader}"] if layout.loader else [])


def _bar(pieces: tuple[Segment, ...], paper: Paper) -> str:
    """The pieces to scale; every piece has a column at least, and the largest gives them."""
    columns = min(paper.width, 100) - 4
    total = sum(piece.size for piece in pieces)
    if not total or len(pieces) > columns:
        return ""
    widths = [max(round(piece.size / total * columns), 1) for piece in pieces]
    widths[widths.index(max(widths))] += columns - sum(widths)
    cells = [
        paper.ink((_FREE if piece.free else _INK[number % 2]) * size, OWN_COLOURS[number % len(OWN_COLOURS)])
        for number, (piece, size) in enumerate(zip(pieces, widths, strict=True))
    ]
    return f"  {''.join(cells)}\n"
