"""Makes text from logs fit to be shown: whatever a terminal would obey is shown as what it is."""

from __future__ import annotations

import re
from typing import TypeVar

import msgspec

from metrograph.model.ranges import Range

# Control characters, and those that turn the direction of writing around what follows them.
_UNSAFE = "[\x00-\x1f\x7f-\x9f\u061c\u200e\u200f\u2028-\u202e\u2066-\u2069\ufeff\ud800-\udfff]"
_PICTURES = {"\n": "↵", "\t": "⇥", "\x1b": "␛"}
_PLAIN = str.maketrans(
    {
        "█": "#", "░": ".", "▞": "X", "╱": "x", "┊": "|", "≈": "~", "╷": "'", "╵": "'", "▾": "v", "─": "-", "┬": "+",
        "●": "*", "○": "o", "…": "~", "—": "-", "–": "-", "→": "->", "“": '"', "”": '"', "≥": ">=", "≤": "<=",
        "▓": "=", "▒": ":", "·": "-", "−": "-", "±": "+/-", "×": "x", "↷": ">", "↵": " ", "⇥": " ", "␛": "^[",
    }
)  # fmt: skip
T = TypeVar("T")


def visible(text: str) -> str:
    """The text with every control character shown as what it is: ``␛`` for the escape, ``<U+202E>`` for the others."""
    if text.isprintable():
        return text
    return re.sub(_UNSAFE, lambda found: _PICTURES.get(found[0]) or f"<U+{ord(found[0]):04X}>", text)


def readable(record: T, longest: int | None = None) -> T:
    """A result with all text in it made visible, so that no view can forget to.

    longest: columns of a text above which its middle is left out; None for texts of any length.
    """
    if isinstance(record, str):
        text = visible(record)
        return text if longest is None or len(text) <= longest else _shortened(text, longest)  # type: ignore[return-value]
    if record is None or isinstance(record, int | float | Range):
        return record  # half of all there is, and no text in it
    if isinstance(record, msgspec.Struct):
        fields = {name: readable(getattr(record, name), longest) for name in record.__struct_fields__}
        return msgspec.structs.replace(record, **fields)
    if isinstance(record, tuple):
        return tuple(readable(each, longest) for each in record)  # type: ignore[return-value]
    if isinstance(record, dict):
        return {readable(key, longest): readable(value, longest) for key, value in record.items()}  # type: ignore[return-value]
    return record


def _shortened(text: str, longest: int) -> str:
    from metrograph.views.text import shorten  # measures columns with what a cue need not load

    return shorten(text, longest)


def in_ascii(text: str) -> str:
    """The text for a terminal that has nothing but ASCII; what has no likeness there becomes a question mark."""
    return text.translate(_PLAIN).encode("ascii", "replace").decode()
