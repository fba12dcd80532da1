"""Small words that sentences are made with: lists, numbers, and verbs that agree with them."""

from __future__ import annotations

from collections.abc import Sequence

NOTHING = "—"
"""Stands where there is nothing to show."""

_NAMED = 3  # things that are named one by one; of more, two and how many
_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


def listed(items: Sequence[str], last: str = " and ") -> str:
    """A list in words: ``a, b and c``."""
    return last.join([", ".join(items[:-1]), items[-1]] if len(items) > 1 else items)


def few(items: Sequence[str], last: str = " and ") -> str:
    """As many as a reader takes in, and how many others there are: ``a, b and 3 others``."""
    return listed(items if len(items) <= _NAMED else [*items[: _NAMED - 1], f"{len(items) - _NAMED + 1} others"], last)


def are(items: Sequence[object]) -> str:
    """The verb that agrees with so many: is, or are."""
    return "are" if len(items) > 1 else "is"


def number(count: int) -> str:
    """A small number as a word."""
    return _NUMBERS[count] if count < len(_NUMBERS) else str(count)
