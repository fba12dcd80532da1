r"""The few characters that mean something to the run log, and how each is written when it means only itself.

A backslash before ``\ | : n`` makes one character of the two; before anything else it is an ordinary backslash, so
that a command with a pattern in it can be written as it was typed. Comma lists have a second, inner level: there a
backslash before ``\ ,`` does the same.
"""

from __future__ import annotations

import re

_PAIR = re.compile(r"\\([\\|:n])")
_BEFORE_PAIR = re.compile(r"\\(?=[\\|:n\n])")
_BAR = re.compile(r"(?:[^\\|]|\\.|\\\Z)*", re.DOTALL)

_LIST_PAIR = re.compile(r"\\([\\,])")
_BEFORE_LIST_PAIR = re.compile(r"\\(?=[\\,]|\Z)")
_COMMA = re.compile(r"(?:[^\\,]|\\.|\\\Z)*", re.DOTALL)


def decode(text: str) -> str:
    """What a body or field means."""
    return _PAIR.sub(lambda pair: "\n" if pair[1] == "n" else pair[1], text) if "\\" in text else text


def encode(text: str, bars: bool = True) -> str:
    """How a body or field is written, so that ``decode`` gives it back.

    bars: whether a bar would end it, as it does everywhere but in a field on a line of its own.
    """
    if "\\" in text:
        text = _BEFORE_PAIR.sub(r"\\\\", text)
    if "\n" in text:
        text = text.replace("\n", "\\n")
    return text.replace("|", "\\|") if bars and "|" in text else text


def split_bars(text: str) -> list[tuple[int, str]]:
    """The parts between unescaped bars, not yet decoded, each with the place in ``text`` where it begins."""
    return _split(text, _BAR)


def split_list(text: str) -> tuple[str, ...]:
    """The items of a comma list such as ``none, file, partition``; empty items are left out."""
    items = (_LIST_PAIR.sub(r"\1", item.strip()) for _, item in _split(text, _COMMA))
    return tuple(item for item in items if item)


def join_list(items: tuple[str, ...]) -> str:
    """The comma list of these items, which ``split_list`` gives back."""
    return ", ".join(_BEFORE_LIST_PAIR.sub(r"\\\\", item).replace(",", "\\,") for item in items)


def _split(text: str, part: re.Pattern[str]) -> list[tuple[int, str]]:
    parts, place = [], 0
    while True:
        found = part.match(text, place)
        end = found.end() if found else place
        parts.append((place, text[place:end]))
        if end >= len(text):
            return parts
        place = end + 1
