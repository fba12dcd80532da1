"""Makes text from logs fit to be shown: whatever a terminal would obey is shown as what it is."""

from __future__ import annotations

import re
from typing import TypeVar

from metrograph.core.unseen import UNSEEN, name_of_sign
from metrograph.core.visitor import map_texts

_PICTURES = {"\n": "↵", "\t": "⇥", "\x1b": "␛"}
_PLAIN = str.maketrans(
    {
        "█": "#", "░": ".", "▞": "X", "╱": "x", "┊": "|", "≈": "~", "∙": ":", "╷": "'", "╵": "'", "▾": "v", "─": "-",
        "┬": "+",
        "●": "*", "○": "o", "…": "~", "—": "-", "–": "-", "→": "->", "“": '"', "”": '"', "≥": ">=", "≤": "<=",
        "↑": "^", "↓": "v", "≠": "!=", "■": "#", "┼": "+", "•": "*",
        "▓": "=", "▒": ":", "·": "-", "−": "-", "±": "+/-", "×": "x", "↷": ">", "↵": " ", "⇥": " ", "␛": "^[",
    }
)  # fmt: skip
T = TypeVar("T")


def visible(text: str) -> str:
    """The text with every control character shown as what it is: ``␛`` for the escape, ``<U+202E>`` for the others."""
    if text.isprintable():
        return text
    return re.sub(UNSEEN, lambda match: _PICTURES.get(match[0]) or name_of_sign(match[0]), text)


def readable(record: T, longest: int | None = None) -> T:
    """A result with all text in it made visible, so that nobody who writes it can forget to.

    longest: columns of a text above which its middle is left out; None for texts of any length.
    """

    def clean(text: str) -> str:
        safe = visible(text)
        return safe if longest is None or len(safe) <= longest else _shortened(safe, longest)

    return map_texts(record, clean)


def _shortened(text: str, longest: int) -> str:
    from metrograph.show.terminal.text import shorten  # measures columns with what a cue need not load

    return shorten(text, longest)


def in_ascii(text: str) -> str:
    """The text for a terminal that has nothing but ASCII; what has no sign there becomes a question mark."""
    return text.translate(_PLAIN).encode("ascii", "replace").decode()
