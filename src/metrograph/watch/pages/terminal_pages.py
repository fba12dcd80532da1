"""From a terminal's output to pages: its cells as lines in their places, whenever they have stood for a moment."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from itertools import groupby

from pyte.screens import Char

from metrograph.watch.inputs.terminal_sources import Output
from metrograph.watch.pages.page import Page, Text, cleaned
from metrograph.watch.pages.terminal_screen import TerminalScreen, TerminalStream
from metrograph.watch.pages.watching import FoundPage, Going
from metrograph.watch.reading.words import button_of

_CALM = 450  # milliseconds that a screen has to stand, as with pictures
_WIDE, _TALL = 8, 16  # pixels of a cell: pages of text are measured as pages of pictures are
_AT_ONCE = 1 << 16  # letters that are drawn at once: a screen holds a few thousand
_END = "\r\n"
# Lines without anything that moves the cursor otherwise, from the beginning of one to the end of another.
_WHOLE_LINES = re.compile(r"(?<=\r\n)((?:[^\x00-\x1f\x7f-\x9f]*\r\n)+)")
_APART = 2  # blanks between two lines that stand side by side
_FRAME = re.compile(r"[\u2500-\u259f\u25a0-\u25ff|+*#=_~\-]{2,}|[\u2500-\u257f\u2588-\u2593]")
_ASKS = re.compile(r".*(?:[?:>\])]|\by/n\b.*)\s*$", re.IGNORECASE)
_FULL = 0.25  # of the cells that have a ground of their own: so much of a screen is drawn on by full-screen programs
_PLAIN = 0  # the shade of the ground that nobody chose
Colour3 = tuple[int, int, int]
_COLOURS: dict[str, Colour3] = {
    "default": (0, 0, 0), "black": (0, 0, 0), "red": (170, 0, 0), "green": (0, 170, 0), "brown": (170, 85, 0),
    "blue": (0, 0, 170), "magenta": (170, 0, 170), "cyan": (0, 170, 170), "white": (170, 170, 170),
    "brightblack": (85, 85, 85), "brightred": (255, 85, 85), "brightgreen": (85, 255, 85),
    "brightbrown": (255, 255, 85), "brightblue": (85, 85, 255), "brightmagenta": (255, 85, 255),
    "bfightmagenta": (255, 85, 255), "brightcyan": (85, 255, 255), "brightwhite": (255, 255, 255),
}  # fmt: skip
"""The colours of a text console (VGA), by the names that the terminal's reader gives them, one with its slip."""
_INK = "white"  # what is written in where nobody chose
_BRIGHTNESS = (0.299, 0.587, 0.114)  # the shares of the colours, as ITU-R BT.601 has them
_MIDDLE = 128  # shades below which text is taken to be lighter than its ground


class Terminal:
    """A screen of cells with what is written on it."""

    def __init__(self) -> None:
        self.screen = TerminalScreen(80, 24)
        self._stream = TerminalStream(self.screen)
        # Serial lines draw frames by switching to another set of letters, also where all else is UTF-8.
        self._stream.use_utf8 = False
        self._waiting: list[str] = []
        self._letters = 0
        self._size = (80, 24)  # columns and rows that it is to have
        self._rows: dict[int, _TerminalRow] = {}  # as they stood when they were last looked at

    def take(self, output: Output) -> None:
        """Takes what the terminal is sent."""
        if output.size is not None and output.size != self._size:
            self._draw()
            self._size = output.size
        if output.text:
            self._waiting.append(output.text)
            self._letters += len(output.text)
            if self._letters > _AT_ONCE:
                self._draw()

    def _draw(self) -> None:
        """Draws what was sent. Of lines that scroll by, those that would leave the screen again are left out."""
        if not self._waiting:
            return  # of sizes that follow one another the last is what counts
        self._fit()
        # Twice the screen: from its top, lines are written over what stands there, which leaves only with the second.
        rows = 2 * self.screen.lines + 1
        for part in _WHOLE_LINES.split("".join(self._waiting)):
            # Where only a part of the screen scrolls, lines may be written over and over instead.
            scrolls = self.screen.margins is None and part.count(_END) > rows
            self._stream.feed(_END.join(part.rsplit(_END, rows)[1:]) if scrolls and part.endswith(_END) else part)
        self._waiting, self._letters = [], 0

    def _fit(self) -> None:
        if self._size != (self.screen.columns, self.screen.lines):
            self.screen.resize(self._size[1], self._size[0])

    def show(self) -> tuple[str, ...]:
        """Its rows as they stand."""
        return tuple(row.text for row in self.rows())

    def rows(self) -> list[_TerminalRow]:
        """Its rows; only those that were written on are looked at anew."""
        self._draw()
        self._fit()
        for number in self.screen.dirty:
            self._rows.pop(number, None)
        self.screen.dirty.clear()
        for number in range(self.screen.lines):
            if number not in self._rows:
                self._rows[number] = _TerminalRow(self.screen.row(number))
        return [self._rows[number] for number in range(self.screen.lines)]

    @property
    def full_screen(self) -> bool:
        """Whether a program has drawn on much of it."""
        cells = sum(row.grounds for row in self.rows())
        return cells > _FULL * self.screen.columns * self.screen.lines


class _TerminalRow:
    """One row of a screen, as it stood when it was looked at."""

    def __init__(self, cells: list[Char]) -> None:
        self.text = "".join(cell.data for cell in cells)
        self.grounds = sum(cell.bg != "default" or cell.reverse for cell in cells)  # cells with a ground of their own
        self._cells = cells

    def pieces(self, number: int) -> Iterator[Text]:
        """Its words in their places. Those on another ground are another line: a button, a marked row."""
        for _, run in groupby(enumerate(self._cells), key=lambda cell: _ground_of(cell[1])):
            numbered = list(run)
            text = "".join(cell.data for _, cell in numbered)
            yield from _pieces(text, numbered[0][0], number, _ground_of(numbered[0][1]))


def found_in_text(outputs: Iterable[Output], going: Going) -> Iterator[FoundPage]:
    """A page whenever the terminal has stood for a moment, or the recording ends."""
    terminal, changed_at = Terminal(), 0
    shown: tuple[str, ...] = ()
    for output in outputs:
        if not going(output.at):
            break
        if output.at - changed_at >= _CALM and terminal.show() != shown:
            shown = terminal.show()
            yield FoundPage(_page(terminal, changed_at))
        terminal.take(output)
        if output.text:
            changed_at = output.at
    if terminal.show() != shown:
        yield FoundPage(_page(terminal, changed_at))


def _page(terminal: Terminal, start: int) -> Page:
    size = (terminal.screen.columns * _WIDE, terminal.screen.lines * _TALL)
    full = terminal.full_screen
    texts = tuple(_texts(terminal) if full else _prompt(terminal))
    return Page(
        start, start + _CALM, size, texts, blank=not texts, changed=(0, 0, *size), asks=not full and bool(texts)
    )


def _texts(terminal: Terminal) -> list[Text]:
    """The lines of a screen that a full-screen program has drawn."""
    return [text for number, row in enumerate(terminal.rows()) for text in row.pieces(number)]


def _ground_of(cell: Char) -> Colour3:
    """The colour behind a cell, as a console shows it."""
    name = (cell.fg if cell.fg != "default" else _INK) if cell.reverse else cell.bg
    if name in _COLOURS:
        return _COLOURS[name]
    return int(name[:2], 16), int(name[2:4], 16), int(name[4:], 16)


def _pieces(text: str, column: int, row: int, ground: Colour3) -> Iterator[Text]:
    text = _FRAME.sub(lambda match: " " * len(match[0]), text)
    shade = round(sum(part * channel for part, channel in zip(_BRIGHTNESS, ground, strict=True)))
    for match in re.finditer(rf"\S+(?: {{1,{_APART - 1}}}\S+)*", text):
        words = cleaned(match[0])
        left, top = (column + match.start()) * _WIDE, row * _TALL
        yield Text(
            left, top, left + len(words) * _WIDE, top + _TALL, words, 1.0, shade < _MIDDLE, shade, _TALL, 255,
            button_of(words), colour=ground,
        )  # fmt: skip


def _prompt(terminal: Terminal) -> list[Text]:
    """The question in the last line, of a program that asks line by line; nothing while it does not ask."""
    rows = [row.rstrip() for row in terminal.show()]
    last = rows[terminal.screen.cursor.y] if terminal.screen.cursor.y < len(rows) else ""
    words = last[: terminal.screen.cursor.x].strip() or last.strip()
    if not words or not _ASKS.match(words):
        return []
    question = re.sub(r"\s*[\[(][^\])]*[\])]\s*[:?>]?\s*$", "", words).rstrip(" :>") or words
    return [Text(0, 0, len(question) * _WIDE, _TALL, question, 1.0, False, _PLAIN, _TALL, 255, None)]
