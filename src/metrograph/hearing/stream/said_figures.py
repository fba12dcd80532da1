"""Finds figures in what was said: sizes, lengths of time, shares and bare numbers, each with its words."""

from __future__ import annotations

import re
from collections.abc import Sequence

import msgspec

from metrograph.hearing.stream.spoken import Token


class SaidFigure(msgspec.Struct, frozen=True):
    """A figure, or a program, in what was said.

    kind: ``s`` for a size in bytes, ``d`` for a length of time in seconds, ``n`` for a number, ``p`` for a program.
    value: as a statement has it. first, last: the places of its tokens.
    """

    kind: str
    value: str
    first: int
    last: int


_SIZES = {
    "kilobytes": 1e3, "kb": 1e3,
    "megabytes": 1e6, "megabyte": 1e6, "mb": 1e6, "megs": 1e6, "meg": 1e6, "mega": 1e6,
    "mib": 2.0**20, "mebibytes": 2.0**20,
    "gigabytes": 1e9, "gigabyte": 1e9, "gb": 1e9, "gigs": 1e9, "gig": 1e9, "giga": 1e9,
    "gib": 2.0**30, "gibibytes": 2.0**30,
    "terabytes": 1e12, "terabyte": 1e12, "tb": 1e12,
}  # fmt: skip
_TIMES = {
    "seconds": 1.0, "second": 1.0, "secs": 1.0, "sec": 1.0, "s": 1.0,
    "minutes": 60.0, "minute": 60.0, "mins": 60.0, "min": 60.0,
    "hours": 3600.0, "hour": 3600.0,
}  # fmt: skip
_NUMBER = r"\d+(?:[.,]\d+)?"
_ONE = frozenset({"gig", "gigabyte", "minute", "second", "hour", "giga"})
"""Units before which “a” is a number."""
_WORDS = 9  # that a figure has at most
_IN_WORDS = {"quarter of an hour": 900.0, "half an hour": 1800.0, "half hour": 1800.0}


def figures_in(tokens: Sequence[Token], start: int) -> SaidFigure | None:
    """The figure that begins at a place; None where none does."""
    words = [token.text for token in tokens[start : start + _WORDS]]
    for read in (_glued, _hyphened, _clock, _share, _told_in_words, _with_unit):
        found = read(words)
        if found is not None:
            kind, value, count = found
            return SaidFigure(kind, value, start, start + count - 1)
    return None


_Found = tuple[str, str, int]
"""The kind of a figure, its value, and how many words it takes."""


def _glued(words: Sequence[str]) -> _Found | None:
    """A number and its unit in one word: 16gb, 34s."""
    match = re.fullmatch(rf"({_NUMBER})(gb|mb|gib|mib|kb|tb|s|g|m)", words[0])
    if match is None:
        return None
    unit, number = {"g": "gb", "m": "mb"}.get(match[2], match[2]), float(match[1].replace(",", "."))
    return ("s", f"{number * _SIZES[unit]:.0f}", 1) if unit in _SIZES else ("d", f"{number:g}", 1)


def _hyphened(words: Sequence[str]) -> _Found | None:
    """Two numbers with a hyphen between them, as recognisers write 6.18; before a unit, from the one to the other."""
    match = re.fullmatch(r"(\d{1,3})-(\d{1,3})", words[0])
    if match is None:
        return None
    if not _unit(words, 1):
        return "n", f"{match[1]}.{match[2]}", 1
    found = _with_unit([match[1], "to", match[2], *words[1:]])
    return None if found is None else (found[0], found[1], found[2] - 2)


def _clock(words: Sequence[str]) -> _Found | None:
    match = re.fullmatch(r"(\d{1,3}):(\d{2})(?::(\d{2}))?", words[0])
    if match is None:
        return None
    whole = int(match[1]) * 60 + int(match[2])
    return "d", str(whole * 60 + int(match[3]) if match[3] else whole), 1


def _share(words: Sequence[str]) -> _Found | None:
    match = re.fullmatch(r"(\d+(?:\.\d+)?)%", words[0])
    return None if match is None else ("n", f"{float(match[1]) / 100:g}", 1)


def _told_in_words(words: Sequence[str]) -> _Found | None:
    line = " ".join(words)
    for told, value in _IN_WORDS.items():
        if line == told or line.startswith(f"{told} "):
            return "d", f"{value:g}", len(told.split())
    return None


def _with_unit(words: Sequence[str]) -> _Found | None:
    """A number, maybe with a half and up to another, and the unit behind it."""
    value, used = _leading(words)
    if value is None:
        return None
    if words[used : used + 3] == ["and", "a", "half"]:
        value, used = value + 0.5, used + 3
    high: float | None = None
    second = words[used + 1] if used + 1 < len(words) else ""
    if words[used : used + 1] in (["to"], ["or"]) and re.fullmatch(_NUMBER, second) and _unit(words, used + 2):
        high, used = float(second.replace(",", ".")), used + 2
    unit = words[used] if used < len(words) else ""
    half = 0.5 if words[used + 1 : used + 4] == ["and", "a", "half"] else 0.0
    behind = used + 1 + (3 if half else 0)
    if unit in _SIZES:
        return "s", _bounds(value + half, high, _SIZES[unit], ".0f"), behind
    if unit in _TIMES:
        return _length(words, value + half, high, _TIMES[unit], behind)
    if unit in {"percent", "per"}:
        return "n", f"{value / 100:g}", used + 1 + (unit == "per")
    return "n", words[0].replace(",", ".") if used == 1 else f"{value:g}", used


def _leading(words: Sequence[str]) -> tuple[float | None, int]:
    """The number that words begin with, and how many of them it takes."""
    if re.fullmatch(_NUMBER, words[0]):
        return float(words[0].replace(",", ".")), 1
    if words[:2] in (["a", "hundred"], ["one", "hundred"]):
        return 100.0, 2
    if words[0] in {"a", "an", "one"} and words[1:2] and words[1] in _ONE:
        return 1.0, 1
    return (0.5, 2) if words[:2] in (["half", "a"], ["half", "an"]) and len(words) > 2 else (None, 0)


def _unit(words: Sequence[str], place: int) -> bool:
    return place < len(words) and (words[place] in _SIZES or words[place] in _TIMES)


def _bounds(low: float, high: float | None, factor: float, form: str) -> str:
    return (
        format(low * factor, form) if high is None else f"{format(low * factor, form)}..{format(high * factor, form)}"
    )


def _length(words: Sequence[str], value: float, high: float | None, factor: float, used: int) -> _Found:
    """A length of time, with the seconds that are said behind minutes: four minutes (and) twenty (seconds)."""
    joined = words[used : used + 1] == ["and"]
    rest = words[used + joined : used + joined + 2]
    if high is None and factor == _TIMES["minutes"] and rest and re.fullmatch(r"\d{1,2}", rest[0]):
        named = rest[1:] and rest[1] in _TIMES and _TIMES[rest[1]] == 1.0
        if named or not joined:
            return "d", f"{value * factor + int(rest[0]):g}", used + joined + 1 + bool(named)
    return "d", _bounds(value, high, factor, "g"), used


_LEAST, _MOST = 50, 50  # megabytes that are said without their unit at least, and gigabytes at most


def bare_size(value: str) -> str | None:
    """A size said without its unit, in bytes: 612 are megabytes, 1.3 gigabytes; None where it may be neither."""
    number = float(value)
    if "." in value and number < _MOST:
        return f"{number * 1e9:.0f}"
    return f"{number * 1e6:.0f}" if number >= _LEAST and "." not in value else None
