"""Tables and lines of text: lined up and broken by display width for a person, whole for a program."""

from __future__ import annotations

import sys
from collections.abc import Sequence

import msgspec

from metrograph.present.report.model import Cell, Column, Room, Row, Table
from metrograph.present.terminal.paper import Paper
from metrograph.present.terminal.text import abbreviate, pad, width, wrap

_GAP = 2
_NARROWEST = 6
_SHORT_HEADING = 13  # columns of a heading that still tells one release from another
_WIDEST_BAR, _NARROWEST_BAR = 30, 8
_SHADES = " ░▒▓█"


class Fitted(msgspec.Struct, frozen=True):
    """What of a table is shown. columns: their places in it; left_out: releases that are not; more: see ``Cell``."""

    columns: tuple[int, ...]
    left_out: int = 0
    more: bool = False


def fit(table: Table, paper: Paper) -> Fitted | None:
    """What of a table the paper has room for; None where it is all or nothing."""
    sides = [place for place, column in enumerate(table.columns) if column.side]
    most = room_for(table.room, paper)
    if table.room is not None and table.room.whole and len(sides) > most:
        return None
    # The latest are shown, as what is new is what a person came for; in an order, the first.
    in_order = table.room is not None and table.room.first
    hidden = set(sides[most:] if in_order else sides[:-most]) if len(sides) > most else set()
    columns = tuple(
        place for place, column in enumerate(table.columns) if place not in hidden and not (column.bar and paper.piped)
    )
    return Fitted(columns, len(hidden), _has_room_for_more(table.room, len(sides) - len(hidden), paper))


def room_for(room: Room | None, paper: Paper) -> int:
    """How many releases stand side by side with their cells whole; for a program, all."""
    if paper.piped or room is None:
        return sys.maxsize
    return max((paper.width - room.fixed) // room.side, room.least)


def _has_room_for_more(room: Room | None, sides: int, paper: Paper) -> bool:
    if room is None or not room.more:
        return False
    return paper.piped or paper.width >= room.fixed + (room.side + room.more) * sides


def render_table(table: Table, fitted: Fitted, paper: Paper) -> str:
    """The table with its headings, a line each, every line with its break."""
    columns = [table.columns[place] for place in fitted.columns]
    rows = [[_text(row.cells[place], fitted, paper) for place in fitted.columns] for row in table.rows]
    headings = [column.heading for column in columns]
    if paper.piped:
        return "".join("\t".join(cell.strip() for cell in row) + "\n" for row in (headings, *rows))
    widths = _widths(columns, rows, paper.width)
    headings = [
        abbreviate(heading, size) if heading and width(heading) > size else heading
        for heading, size in zip(headings, widths, strict=True)
    ]
    lines = [paper.ink(_line(headings, columns, widths), dim=True)]
    for row, cells in zip(rows, table.rows, strict=True):
        lines.append(_line(row, columns, widths) + _bar(cells, fitted, paper))
    return "".join(line.rstrip() + "\n" for line in lines)


def render_lines(lines: Sequence[str], paper: Paper, indent: int = 2) -> str:
    """Lines of text, broken between words for a person, whole for a program."""
    if paper.piped:
        return "".join(f"{' ' * indent}{line}\n" for line in lines)
    return "".join(f"{piece}\n" for line in lines for piece in wrap(line, paper.width, indent))


def _text(cell: Cell, fitted: Fitted, paper: Paper) -> str:
    if paper.piped and cell.exact is not None:
        return cell.exact
    shade = "" if cell.shade is None else f" {_SHADES[min(int(cell.shade * len(_SHADES)), len(_SHADES) - 1)]}"
    return cell.text + (f" {cell.more}" if cell.more and fitted.more else "") + shade


def _bar(row: Row, fitted: Fitted, paper: Paper) -> str:
    """The bar at the end of a line: its full part, and a thin line on to its end."""
    bar = next((row.cells[place].bar for place in fitted.columns if row.cells[place].bar is not None), None)
    if bar is None:
        return ""
    room = min(_WIDEST_BAR, max(paper.width - 80, _NARROWEST_BAR))
    full = round(room * bar[0])
    rest = round(room * bar[1]) - full
    return " " * _GAP + paper.ink("█" * full) + paper.ink("─" * rest, dim=True)


def _line(cells: Sequence[str], columns: Sequence[Column], widths: Sequence[int]) -> str:
    padded = [
        pad(cell, size, column.right)
        for cell, column, size in zip(cells, columns, widths, strict=True)
        if not column.bar
    ]
    line = (" " * _GAP).join(padded)
    return line if any(column.bar for column in columns) else line.rstrip()


def _widths(columns: Sequence[Column], rows: Sequence[Sequence[str]], available: int) -> list[int]:
    """Widths that fit: headings give first, down to their cells, then the widest column does."""
    table = zip([column.heading for column in columns], *rows, strict=True)
    widths = [min(max(width(cell) for cell in cells), available) for cells in table]
    cells = [max((width(row[index]) for row in rows), default=0) for index in range(len(columns))]
    # Twice: as long as headings can give, no cell has to.
    for floors in ([max(size, _SHORT_HEADING) for size in cells], [_NARROWEST] * len(columns)):
        excess = sum(widths) + _GAP * (len(widths) - 1) - available
        while excess > 0:
            giving = [index for index, column in enumerate(columns) if column.gives and widths[index] > floors[index]]
            if not giving:
                break
            # A column at a time from whichever is widest then, so that none is cut to nothing beside a wide one.
            widths[max(giving, key=lambda index: widths[index])] -= 1
            excess -= 1
    return widths
