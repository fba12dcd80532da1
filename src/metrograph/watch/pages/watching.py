"""From frames to pages: the way that every picture source takes, one still after the other, in bounded memory."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

import msgspec

from metrograph.watch.inputs.frames import Frame
from metrograph.watch.pages.lines import Line, find_lines
from metrograph.watch.pages.marks import marks_before
from metrograph.watch.pages.motion import Still, stills
from metrograph.watch.pages.page import Page, blank_page, is_blank, is_console, page_of
from metrograph.watch.pages.text_reader import LineReader, ReadLine
from metrograph.watch.pages.words import language_of

_CONSOLE_READ = 3  # lines of a console that are read: what a machine says while it starts is no screen
_MOST = 160  # lines of a page that are read, the tallest first: a page of small print has fewer
_READ_WELL = 0.6  # from here on, small words are taken for those of a language


class FoundPage(msgspec.Struct, frozen=True):
    """A page as it was found. still: its picture; None where it came as text."""

    page: Page
    still: Still | None = None


Going = Callable[[int], bool]
"""Is told how far a source is, in milliseconds; whether to go on."""


def found_in_frames(frames: Iterable[Frame], reader: LineReader, going: Going) -> Iterator[FoundPage]:
    """The pages of a source of pictures; it ends when it is not to go on."""
    for still in stills(_while(frames, going)):
        yield FoundPage(read_page(still, reader), still)


def _while(frames: Iterable[Frame], going: Going) -> Iterator[Frame]:
    for frame in frames:
        if not going(frame.at):
            return
        yield frame


def read_page(still: Still, reader: LineReader) -> Page:
    """The page of one still."""
    if is_blank(still.grey):
        return blank_page(still)
    lines = find_lines(still.grey)
    if is_console(still.grey, lines):
        lines = lines[:_CONSOLE_READ]
        return msgspec.structs.replace(page_of(still, lines, reader.read(still.grey, lines)), console=True)
    if not lines:
        return blank_page(still)
    lines = sorted(sorted(lines, key=lambda line: -line.height)[:_MOST], key=lambda line: (line.top, line.left))
    lines, marks = marks_before(still.grey, lines)
    return page_of(still, lines, _read(still, lines, reader), marks)


def _read(still: Still, lines: list[Line], reader: LineReader) -> list[ReadLine]:
    """What the lines say; once more where they turn out to be in another language."""
    readings = reader.read(still.grey, lines)
    language = language_of(reading.text for reading in readings if reading.sure > _READ_WELL)
    if language is None or language == reader.language:
        return readings
    reader.language = language
    return reader.read(still.grey, lines)
