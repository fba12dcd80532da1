"""Tables and lines of text: lined up and broken by display width for a person, whole for a program."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from metrograph.views.paper import Paper
from metrograph.views.text import abbreviate, pad, width, wrap

_GAP = 2
_NARROWEST = 6
_SHORT_HEADING = 13  # columns of a heading that still tells one release from another


class Column(msgspec.Struct, frozen=True):
    """One column. right: for numbers. gives: whether it may be shortened when the table is too wide."""

    heading: str
    right: bool = False
    gives: bool = False


def render_table(columns: Sequence[Column], rows: Sequence[Sequence[str]], paper: Paper) -> str:
    """The table with its headings, a line each, every line with its break."""
    headings = [column.heading for column in columns]
    if paper.piped:
        return "".join("\t".join(cell.strip() for cell in row) + "\n" for row in (headings, *rows))
    widths = _fit(columns, rows, paper.width)
    headings = [
        abbreviate(heading, size) if heading and width(heading) > size else heading
        for heading, size in zip(headings, widths, strict=True)
    ]
    lines = [paper.ink(_line(headings, columns, widths), dim=True)]
    lines += [_line(row, columns, widths) for row in rows]
    return "".join(line.rstrip() + "\n" for line in lines)


def render_lines(lines: Sequence[str], paper: Paper, indent: int = 2) -> str:
    """Lines of text, broken between words for a person, whole for a program."""
    if paper.piped:
        return "".join(f"{' ' * indent}{line}\n" for line in lines)
    return "".join(f"{piece}\n" for line in lines for piece in wrap(line, paper.width, indent))


def _line(cells: Sequence[str], columns: Sequence[Column], widths: Sequence[int]) -> str:
    padded = (pad(cell, size, column.right) for cell, column, size in zip(cells, columns, widths, strict=True))
    return (" " * _GAP).join(padded).rstrip()


def _fit(columns: Sequence[Column], rows: Sequence[Sequence[str]], available: int) -> list[int]:
    """Widths that fit: headings give first, down to their cells, then the widest column does."""
    table = zip([column.heading for column in columns], *rows, strict=True)
    widths = [min(max(width(cell) for cell in cells), available) for cells in table]
    cells = [max((width(row[index]) for row in rows), default=0) for index in range(len(columns))]
    for floors in ([max(size, _SHORT_HEADING) for size in cells], [_NARROWEST] * len(columns)):
        excess = sum(widths) + _GAP * (len(widths) - 1) - available
        while excess > 0:
            giving = [index for index, column in enumerate(columns) if column.gives and widths[index] > floors[index]]
            if not giving:
                break
            widths[max(giving, key=lambda index: widths[index])] -= 1
            excess -= 1
    return widths
