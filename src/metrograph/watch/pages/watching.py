"""From frames to pages: the way that every picture source takes, one still after the other, in bounded memory."""

from __future__ import annotations

from collections.abc import Callable, Generator, Iterable, Iterator
from statistics import median

import msgspec
import numpy as np

from metrograph.watch.inputs.frames import Frame, Grey
from metrograph.watch.pages.lookout import Lookout
from metrograph.watch.pages.page import Page, blank_page, is_blank, is_console, page_of
from metrograph.watch.reading.lines import Line, find_lines
from metrograph.watch.reading.marks import marks_before
from metrograph.watch.reading.motion import BLOCK, Still, stills
from metrograph.watch.reading.screen_language import ScreenLanguage
from metrograph.watch.reading.text_reader import LineReader, ReadLine

_CONSOLE_READ = 3  # lines of a console that are read: what a machine says while it starts is no screen
_MOST = 160  # lines of a page that are read, the tallest first: a page of small print has fewer
_USUAL_TALL = 12  # pixels of the taller letters of a line: as in the pictures that all lengths here were measured in
_CLOSE = (0.85, 1.15)  # of a factor: so near to the usual size pictures are read as they come
_LEAST_FACTOR, _MOST_FACTOR = 0.3, 2.0  # smaller and larger ones say that something else than text was found
_SAME_FACTOR = 0.15  # part by which a factor has to change to be worth another look
_SCALE_LINES, _SCALE_ENOUGH = 5, 60  # lines of a page that tell of its size; lines after which it is known
_READ_WELL = 0.6  # from here on, small words are taken for those of a language


class FoundPage(msgspec.Struct, frozen=True):
    """A page as it was found. still: its picture; None where it came as text."""

    page: Page
    still: Still | None = None


Going = Callable[[int], bool]
"""Is told how far a source is, in milliseconds; whether to go on."""


def found_in_frames(frames: Iterable[Frame], reader: LineReader, going: Going) -> Iterator[FoundPage]:
    """The pages of a source of pictures; it ends when it is not to go on."""
    scale, spoken = TextScale(), ScreenLanguage(reader.engine)
    for still in stills(scale.fitted(frame) for frame in _while(frames, going)):
        yield _found(still, reader, spoken, scale)


def found_live(frames: Generator[Frame], reader: LineReader, going: Going) -> Iterator[FoundPage]:
    """The pages of a machine that is watched; when it is not to go on, those that were seen until then."""
    scale, spoken = TextScale(), ScreenLanguage(reader.engine)
    with Lookout(frames, scale.fitted) as lookout:
        for still in lookout:
            if not going(lookout.at if still is None else still.at):
                lookout.stop()
            if still is not None:
                yield _found(still, reader, spoken, scale)


def _found(still: Still, reader: LineReader, spoken: ScreenLanguage, scale: TextScale) -> FoundPage:
    """A still with its page, in the size that is read best."""
    still = scale.fitted_still(still)
    page = read_page(still, reader, spoken)
    if scale.learn(still, page):
        still = scale.fitted_still(still)
        page = read_page(still, reader, spoken)
    return FoundPage(page, still)


class TextScale:
    """Brings pictures to the size in which their text is as large as all lengths of pages and screens are meant for.

    Screens differ in their number of pixels and in how large they draw, so that it is learnt from the text itself, anew
    for every size of picture: a film of a restart has several.
    """

    def __init__(self) -> None:
        self._factors: dict[tuple[int, ...], float] = {}  # by the shape of pictures as they come
        self._talls: dict[tuple[int, ...], list[int]] = {}  # of lines as they come
        self._native: dict[tuple[int, ...], tuple[int, ...]] = {}  # from the shape as fitted to that as it came

    def fitted(self, frame: Frame) -> Frame:
        """A frame in the size that is read best, as far as that is known."""
        factor = self._factors.get(frame.grey.shape, 1.0)
        if factor == 1.0:
            return frame
        grey = _resized(frame.grey, factor)
        self._native[grey.shape] = frame.grey.shape
        return msgspec.structs.replace(frame, grey=grey, colour=lambda: _resized(frame.colour(), factor))

    def learn(self, still: Still, page: Page) -> bool:
        """Learns from a page how large text is; whether that changes the size of its pictures."""
        native = self._native.get(still.grey.shape, still.grey.shape)
        factor = self._factors.get(native, 1.0)
        lines = [text.tall for text in page.said]
        known = self._talls.setdefault(native, [])
        if len(lines) < _SCALE_LINES or len(known) >= _SCALE_ENOUGH:
            return False
        known += [round(tall / factor) for tall in lines]
        wanted = _USUAL_TALL / max(median(known), 1)
        wanted = 1.0 if _CLOSE[0] <= wanted <= _CLOSE[1] else min(max(wanted, _LEAST_FACTOR), _MOST_FACTOR)
        if abs(wanted / factor - 1) < _SAME_FACTOR:
            return False
        self._factors[native] = wanted
        return True

    def fitted_still(self, still: Still) -> Still:
        """A still in the size that is read best; brought to it, it differs everywhere from the one before."""
        native = self._native.get(still.grey.shape, still.grey.shape)
        factor = self._factors.get(native, 1.0) * native[0] / still.grey.shape[0]
        if abs(factor - 1) < _SAME_FACTOR:
            return still
        grey = _resized(still.grey, factor)
        self._native[grey.shape] = native
        shape = tuple(-(-side // BLOCK) for side in grey.shape)
        return msgspec.structs.replace(
            still, grey=grey, colour=_resized(still.colour, factor), changed=np.ones(shape, bool),
            restless=np.zeros(shape, bool),
        )  # fmt: skip


def _resized(picture: Grey, factor: float) -> Grey:
    """A picture in shades or colours, in another size."""
    from PIL import Image

    height, width = picture.shape[:2]
    image = Image.fromarray(picture).resize((round(width * factor), round(height * factor)), Image.Resampling.BICUBIC)
    return np.asarray(image)


def _while(frames: Iterable[Frame], going: Going) -> Iterator[Frame]:
    for frame in frames:
        if not going(frame.at):
            return
        yield frame


def read_page(still: Still, reader: LineReader, spoken: ScreenLanguage) -> Page:
    """The page of one still. spoken: guesses its language."""
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
    return page_of(still, lines, _read(still, lines, reader, spoken), marks)


def _read(still: Still, lines: list[Line], reader: LineReader, spoken: ScreenLanguage) -> list[ReadLine]:
    """What the lines say; once more where they turn out to be in another language."""
    readings = reader.read(still.grey, lines)
    language = spoken.by_reading(still.grey, lines, readings, reader.language)
    if language != reader.language:
        reader.language = language
        readings = reader.read(still.grey, lines)
    language = spoken.after((reading for reading in readings if reading.sure > _READ_WELL), reader.language)
    if language == reader.language:
        return readings
    reader.language = language
    return reader.read(still.grey, lines)
