r"""The few characters that mean something to the run log, and how each is written when it means only itself.

A backslash before ``\ | : n`` makes one character of the two; before anything else it is an ordinary backslash, so
that a command with a pattern in it can be written as it was typed. Comma lists have a second, inner level: there a
backslash before ``\ ,`` does the same.
"""

from __future__ import annotations

import re

_PAIR = r"\\([\\|:n])"
_BEFORE_PAIR = r"\\(?=[\\|:n\n])"
_BAR = r"(?s:(?:[^\\|]|\\.|\\\Z)*)"

_LIST_PAIR = r"\\([\\,])"
_BEFORE_LIST_PAIR = r"\\(?=[\\,]|\Z)"
_COMMA = r"(?s:(?:[^\\,]|\\.|\\\Z)*)"


def decode(text: str) -> str:
    """A text with its escapes resolved: ``\\|`` is a bar."""
    return re.sub(_PAIR, lambda pair: "\n" if pair[1] == "n" else pair[1], text) if "\\" in text else text


def encode(text: str, bars: bool = True) -> str:
    """How a body or field is written, so that ``decode`` gives it back.

    bars: whether a bar would end it, as it does everywhere but in a field on a line of its own.
    """
    if "\\" in text:
        text = re.sub(_BEFORE_PAIR, r"\\\\", text)
    if "\n" in text:
        text = text.replace("\n", "\\n")
    return text.replace("|", "\\|") if bars and "|" in text else text


def split_bars(text: str) -> list[tuple[int, str]]:
    """The parts between unescaped bars, not yet decoded, each with the place in ``text`` where it begins."""
    return _split(text, _BAR)


def split_list(text: str) -> tuple[str, ...]:
    """The items of a comma list such as ``none, file, partition``; empty items are left out."""
    if "\\" not in text:
        return tuple(item for part in text.split(",") if (item := part.strip()))
    items = (re.sub(_LIST_PAIR, r"\1", item.strip()) for _, item in _split(text, _COMMA))
    return tuple(item for item in items if item)


def join_list(items: tuple[str, ...]) -> str:
    """The comma list of these items, which ``split_list`` gives back."""
    return ", ".join(re.sub(_BEFORE_LIST_PAIR, r"\\\\", item).replace(",", "\\,") for item in items)


def _split(text: str, part: str) -> list[tuple[int, str]]:
    pattern = re.compile(part)
    parts, place = [], 0
    while True:
        match = pattern.match(text, place)
        end = match.end() if match else place
        parts.append((place, text[place:end]))
        if end >= len(text):
            return parts
        place = end + 1
