"""The screen of a terminal, which passes over whatever it is sent that no terminal would understand."""

from __future__ import annotations

from contextlib import suppress
from unicodedata import combining

import pyte
from pyte.screens import Char

_MARKS = 4  # above and below one letter: more are no writing


class TerminalStream(pyte.Stream):
    """Takes output apart; a sequence with wrong numbers, or too many, is dropped, and the next is read."""

    def _send_to_parser(self, data: str) -> bool | None:
        with suppress(Exception):  # whatever a sequence makes of the screen's methods
            return super()._send_to_parser(data)
        return self._taking_plain_text


class TerminalScreen(pyte.Screen):
    """A screen of cells that hold a letter each; what is written costs no more than what it is long."""

    def draw(self, data: str) -> None:
        """Writes letters from the cursor on, with no more marks on each than a letter has."""
        if not data.isascii():
            self.dirty.add(max(self.cursor.y - 1, 0))  # a mark may belong to the end of the row above
            data = self._with_few_marks(data)
        super().draw(data)

    def _with_few_marks(self, data: str) -> str:
        before = self.buffer[self.cursor.y][self.cursor.x - 1] if self.cursor.x else None
        marks, kept = len(before.data) if before else _MARKS, []
        for sign in data:
            marks = marks + 1 if combining(sign) else 0
            if marks <= _MARKS:
                kept.append(sign)
        return "".join(kept)

    def resize(self, lines: int | None = None, columns: int | None = None) -> None:
        """Takes another size; what lies outside it is gone."""
        columns, lines, cut = columns or self.columns, lines or self.lines, set(self.dirty)
        for number, row in self.buffer.items():
            outside = [at for at in row if at >= columns]
            for column in outside:
                del row[column]
            cut |= {number} if outside else set()
        self.columns, fewer = columns, lines < self.lines
        super().resize(lines, columns)
        if not fewer:  # else rows have moved up
            self.dirty.clear()
            self.dirty.update(cut)
        self.cursor.x = min(self.cursor.x, columns)
        self.set_margins()

    def row(self, number: int) -> list[Char]:
        """The cells of a row up to the last on which anything can be seen."""
        row = self.buffer[number]
        seen = (at for at, cell in row.items() if cell.data != " " or cell.bg != "default" or cell.reverse)
        return [row[column] for column in range(min(max(seen, default=-1) + 1, self.columns))]
