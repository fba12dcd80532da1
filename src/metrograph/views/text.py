"""Text from logs made fit to be shown: nothing that a terminal would obey, measured in columns, shortened in the middle."""

from __future__ import annotations

import re
from typing import TypeVar

import msgspec
from rich.cells import cell_len, set_cell_size

# Control characters, and those that turn the direction of writing around what follows them.
_UNSAFE = re.compile("[\x00-\x1f\x7f-\x9f\u061c\u200e\u200f\u2028-\u202e\u2066-\u2069\ufeff\ud800-\udfff]")
_PICTURES = {"\n": "↵", "\t": "⇥", "\x1b": "␛"}
T = TypeVar("T")


def visible(text: str) -> str:
    """The text with every control character shown as what it is: ``␛`` for the escape, ``<U+202E>`` for the others."""
    return _UNSAFE.sub(lambda found: _PICTURES.get(found[0]) or f"<U+{ord(found[0]):04X}>", text)


def readable(record: T) -> T:
    """A result with all text in it made visible, so that no view can forget to."""
    if isinstance(record, str):
        return visible(record)  # type: ignore[return-value]
    if isinstance(record, msgspec.Struct):
        fields = {name: readable(getattr(record, name)) for name in record.__struct_fields__}
        return msgspec.structs.replace(record, **fields)
    if isinstance(record, tuple):
        return tuple(readable(each) for each in record)  # type: ignore[return-value]
    if isinstance(record, dict):
        return {readable(key): readable(value) for key, value in record.items()}  # type: ignore[return-value]
    return record


def width(text: str) -> int:
    """How many columns of a terminal it takes."""
    return cell_len(text)


def shorten(text: str, columns: int, dots: str = "…") -> str:
    """The text in at most so many columns, its middle left out where it is too long."""
    if width(text) <= columns:
        return text
    if columns <= width(dots):
        return dots[:columns]
    room = columns - width(dots)
    tail = _last(text, room // 2)
    return set_cell_size(text, room - width(tail)).rstrip() + dots + tail


def pad(text: str, columns: int, right: bool = False) -> str:
    """The text shortened or filled with blanks to exactly so many columns; to the right when it is a number."""
    short = shorten(text, columns)
    blanks = " " * (columns - width(short))
    return blanks + short if right else short + blanks


def _last(text: str, columns: int) -> str:
    start = len(text)
    while start and width(text[start - 1 :]) <= columns:
        start -= 1
    return text[start:].lstrip()
