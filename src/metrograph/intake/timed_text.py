"""Reads text whose parts have times: captions in blocks (WebVTT, SubRip), lines with a time before them."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.log.quantities.times import milliseconds_of

# As in ``times``, but for the comma that SubRip has before thousandths.
TIME = r"([0-9]{1,6}):([0-5][0-9])(?::([0-5][0-9]))?(?:[.,]([0-9]{1,3}))?"
LEADING = re.compile(rf"\s*[\[(]?{TIME}[\])]?(?:\s*[-–—:]\s+|\s+|\Z)(.*)")
TAG = re.compile(r"<[^<>]{0,100}>")
_ARROW = re.compile(rf"\s*{TIME}\s*-->(?:\s*{TIME})?")
_LARGEST = 64 << 20  # bytes


class CaptionBlock(msgspec.Struct, frozen=True):
    """A block of captions. at, end: milliseconds; lines: its text; last: the number of its last line, from 1."""

    at: int
    end: int
    lines: tuple[str, ...]
    last: int


def text_of(data: bytes, name: str, what: str) -> str:
    """The text of a file; raises MetrographError when it is larger than such files are, or not UTF-8.

    what: that it holds, as in “notes are not”.
    """
    if len(data) > _LARGEST:
        raise MetrographError(f"{name} is larger than {_LARGEST >> 20} MiB; {what} are not")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise MetrographError(f"{name}:{line}: this is not UTF-8; save the file anew in that encoding") from error


def has_captions(lines: Sequence[str]) -> bool:
    """Whether there is a line with the times of a block."""
    return any(map(_ARROW.match, lines))


def caption_blocks(lines: Sequence[str]) -> Iterator[CaptionBlock]:
    """The blocks of captions: a line of times, then text up to an empty line. A line of blanks ends nothing."""
    at = end = 0
    said: list[str] | None = None
    for number, line in enumerate([*lines, ""], 1):
        arrow = _ARROW.match(line)
        if said is not None and (arrow or not line):
            yield CaptionBlock(at, end, tuple(said), number - 1)
            said = None
        if arrow is not None:
            at = milliseconds_of(*arrow.groups()[:4])
            end = at if arrow[5] is None else milliseconds_of(*arrow.groups()[4:])
            said = []
        elif said is not None:
            said.append(line)
