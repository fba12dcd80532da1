"""Text for a terminal: measured in columns, lined up in tables, shortened, with colours or without."""

from __future__ import annotations

import re
import sys
from collections.abc import Sequence

import msgspec
from rich.cells import cell_len, set_cell_size
from rich.color import ColorSystem
from rich.style import Style

from metrograph.show.report.model import Cell, Column, Room, Row, Table
from metrograph.show.safe import in_ascii


class Medium(msgspec.Struct, frozen=True):
    """How something is going to be shown.

    width: columns.
    colours: how many the terminal has; None for no colour at all.
    plain: only ASCII can be shown.
    piped: a program reads it: full texts, tabs between columns.
    """

    width: int = 80
    colours: ColorSystem | None = None
    plain: bool = False
    piped: bool = False

    def ink(self, text: str, colour: str | None = None, bold: bool = False, dim: bool = False) -> str:
        """The text in a colour or weight, where the paper has such; otherwise as it is."""
        if self.colours is None or not text:
            return text
        return Style(color=colour, bold=bold or None, dim=dim or None).render(text, color_system=self.colours)

    def heading(self, text: str) -> str:
        """A line that opens a section."""
        return self.ink(text, bold=True)

    def finish(self, text: str) -> str:
        """What is printed in the end: in ASCII where the terminal has nothing else."""
        return in_ascii(text) if self.plain else text


# Terminals disagree how wide pictures are that are joined to one or coloured; apart they are two columns everywhere.
_JOINS = re.compile("\u200d(?=[\u2600-\u27bf\U0001f000-\U0001faff])|\ufe0f|[\U0001f3fb-\U0001f3ff]")

_AMPLE = 8  # characters a column; more than one only where they join or take no room


def width(text: str) -> int:
    """How many columns of a terminal it takes."""
    return cell_len(text)


def shorten(text: str, columns: int, dots: str = "…") -> str:
    """The text in at most so many columns, its middle left out where it is too long."""
    if len(text) > _AMPLE * (columns + 1):  # of a text without end, nobody measures the middle
        text = text[: _AMPLE // 2 * (columns + 1)] + text[-_AMPLE // 2 * (columns + 1) :]
    if width(text) <= columns:
        return text
    if columns <= width(dots):
        return dots[:columns]
    room = columns - width(dots)
    tail = _last(text, room // 2)
    return set_cell_size(text, room - width(tail)).rstrip() + dots + tail


def cut_off(text: str, columns: int, dots: str = "…") -> str:
    """The text in at most so many columns, its end left out where it is too long."""
    text = text[: _AMPLE * (columns + 1)]
    if width(text) <= columns:
        return text
    return set_cell_size(text, max(columns - width(dots), 0)).rstrip() + dots[:columns]


def abbreviate(name: str, columns: int) -> str:
    """A name of several parts in at most so many columns: its words lose letters, its numbers stay."""
    for letters in range(8, 0, -1):
        short = re.sub(rf"([^\W\d_]{{{letters}}})[^\W\d_]+", r"\1", name)
        if width(short) <= columns:
            return short
    return shorten(name, columns)


def pad(text: str, columns: int, right: bool = False) -> str:
    """The text shortened or filled with blanks to exactly so many columns; to the right when it is a number."""
    short = shorten(_JOINS.sub("", text), columns)
    blanks = " " * (columns - width(short))
    return blanks + short if right else short + blanks


def wrap(text: str, columns: int, indent: int) -> list[str]:
    """The text broken between words into lines of at most so many columns.

    indent: blanks before the first line; the lines that follow stand two further in.
    """
    lines, line = [], " " * indent
    for word in text.split():
        piece = shorten(word, columns - indent - 2)
        if line.strip() and width(line) + 1 + width(piece) > columns:
            lines.append(line)
            line = " " * (indent + 2)
        line += (" " if line.strip() else "") + piece
    return [*lines, line]


def _last(text: str, columns: int) -> str:
    start = len(text)
    while start and width(text[start - 1 :]) <= columns:
        start -= 1
    return text[start:].lstrip()


_GAP = 2  # columns between two columns of a table
_NARROWEST = 6  # columns: less of a text says nothing any more
_SHORT_HEADING = 13  # columns of a heading that still tells one release from another
_WIDEST_BAR, _NARROWEST_BAR = 30, 8  # columns: a longer bar is no easier to compare, a shorter one is no bar
_SHADES = " ░▒▓█"


class Fitted(msgspec.Struct, frozen=True):
    """The part of a table that is shown. columns: their places; left_out: releases that are not; more: see ``Cell``."""

    columns: tuple[int, ...]
    left_out: int = 0
    more: bool = False


def fit(table: Table, paper: Medium) -> Fitted | None:
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


def room_for(room: Room | None, paper: Medium) -> int:
    """How many releases stand side by side with their cells whole; for a program, all."""
    if paper.piped or room is None:
        return sys.maxsize
    return max((paper.width - room.fixed) // room.side, room.least)


def _has_room_for_more(room: Room | None, sides: int, paper: Medium) -> bool:
    if room is None or not room.more:
        return False
    return paper.piped or paper.width >= room.fixed + (room.side + room.more) * sides


def render_table(table: Table, fitted: Fitted, paper: Medium) -> str:
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


def render_lines(lines: Sequence[str], paper: Medium, indent: int = 2) -> str:
    """Lines of text, broken between words for a person, whole for a program."""
    if paper.piped:
        return "".join(f"{' ' * indent}{line}\n" for line in lines)
    return "".join(f"{piece}\n" for line in lines for piece in wrap(line, paper.width, indent))


def _text(cell: Cell, fitted: Fitted, paper: Medium) -> str:
    if paper.piped and cell.exact is not None:
        return cell.exact
    shade = "" if cell.shade is None else f" {_SHADES[min(int(cell.shade * len(_SHADES)), len(_SHADES) - 1)]}"
    return cell.text + (f" {cell.more}" if cell.more and fitted.more else "") + shade


def _bar(row: Row, fitted: Fitted, paper: Medium) -> str:
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
