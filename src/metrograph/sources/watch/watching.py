"""From frames to pages: the way that every picture source takes, one still after the other, in bounded memory."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

import msgspec

from metrograph.sources.watch.frames import Frame
from metrograph.sources.watch.lines import Line, find_lines
from metrograph.sources.watch.motion import Still, stills
from metrograph.sources.watch.page import Page, blank_page, is_blank, is_console, page_of
from metrograph.sources.watch.reader import Reader, Reading
from metrograph.sources.watch.words import language_of

_CONSOLE_READ = 3  # lines of a console that are read: what a machine says while it starts is no screen
_MOST = (
    160  # lines of a page that are read, the tallest first: a page of small print has no more, a photograph of text has
)


def pages(frames: Iterable[Frame], reader: Reader, seen: Callable[[Still, Page], None] | None = None) -> Iterator[Page]:
    """The pages of a source. seen: is given every still with its page, while its colours are at hand."""
    for number, still in enumerate(stills(frames)):
        page = read_page(still, reader, number)
        if seen is not None:
            seen(still, page)
        yield page


def read_page(still: Still, reader: Reader, number: int = 0) -> Page:
    """The page of one still."""
    if is_blank(still.grey):
        return blank_page(still, number)
    lines = find_lines(still.grey)
    if is_console(still.grey, lines):
        lines = lines[:_CONSOLE_READ]
        return msgspec.structs.replace(page_of(still, lines, reader.read(still.grey, lines), number), console=True)
    lines = sorted(sorted(lines, key=lambda line: -line.height)[:_MOST], key=lambda line: (line.top, line.left))
    return page_of(still, lines, _read(still, lines, reader), number)


def _read(still: Still, lines: list[Line], reader: Reader) -> list[Reading]:
    """What the lines say; once more where they turn out to be in another language."""
    readings = reader.read(still.grey, lines)
    language = language_of(reading.text for reading in readings if reading.sure > 0.6)
    if language is None or language == reader.language:
        return readings
    reader.language = language
    return reader.read(still.grey, lines)
