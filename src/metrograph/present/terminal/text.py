"""Text measured in the columns it takes on a terminal, and shortened in the middle."""

from __future__ import annotations

import re

from rich.cells import cell_len, set_cell_size

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
