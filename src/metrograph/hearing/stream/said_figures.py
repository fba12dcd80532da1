"""Finds figures in what was said: sizes, lengths of time, shares and bare numbers, each with its words."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from functools import cache

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


class FigureWords(msgspec.Struct, frozen=True):
    """The words around figures in a language.

    sizes, times: units, in bytes and seconds. ones: before these units “a” is a number. halves: what adds a half,
    in words apart. told: lengths of time that are said without a number, in seconds. upto: what stands between two
    ends. shares: of a hundred. joins: what may stand between minutes and seconds. a: the words for one.
    """

    sizes: Mapping[str, float]
    times: Mapping[str, float]
    ones: frozenset[str]
    halves: tuple[tuple[str, ...], ...]
    told: Mapping[str, float]
    upto: frozenset[str]
    shares: frozenset[str]
    joins: frozenset[str]
    a: frozenset[str]


@cache
def figure_words(language: str) -> FigureWords:
    """The words around figures in a language, by its code of three letters."""
    from metrograph.languages.language_tables import tables

    table = tables("statements").get(language, {}).get("units", {})
    words = {name: frozenset(table.get(name, ())) for name in ("ones", "upto", "shares", "joins", "a")}
    halves = tuple(tuple(each.split()) for each in table.get("halves", ()))
    return FigureWords(
        table.get("sizes", {}), table.get("times", {}), halves=halves, told=table.get("told", {}), **words
    )


_NUMBER = r"\d+(?:[.,]\d+)?"
_WORDS = 9  # that a figure has at most


def figures_in(tokens: Sequence[Token], start: int, said: FigureWords) -> SaidFigure | None:
    """The figure that begins at a place; None where none does."""
    words = [token.text for token in tokens[start : start + _WORDS]]
    for read in (_glued, _hyphened, _clock, _share, _told_in_words, _with_unit):
        found = read(words, said)
        if found is not None:
            kind, value, count = found
            return SaidFigure(kind, value, start, start + count - 1)
    return None


_Found = tuple[str, str, int]
"""The kind of a figure, its value, and how many words it takes."""
_GLUED = {"gb": 1e9, "mb": 1e6, "gib": 2.0**30, "mib": 2.0**20, "kb": 1e3, "tb": 1e12, "g": 1e9, "m": 1e6}


def _glued(words: Sequence[str], _: FigureWords) -> _Found | None:
    """A number and its unit in one word: 16gb, 34s."""
    match = re.fullmatch(rf"({_NUMBER})(gb|mb|gib|mib|kb|tb|s|g|m)", words[0])
    if match is None:
        return None
    number = float(match[1].replace(",", "."))
    return ("s", f"{number * _GLUED[match[2]]:.0f}", 1) if match[2] in _GLUED else ("d", f"{number:g}", 1)


def _hyphened(words: Sequence[str], said: FigureWords) -> _Found | None:
    """Two numbers with a hyphen between them, as recognisers write 6.18; before a unit, from the one to the other."""
    match = re.fullmatch(r"(\d{1,3})-(\d{1,3})", words[0])
    if match is None:
        return None
    if not _is_unit(words, 1, said):
        return "n", f"{match[1]}.{match[2]}", 1
    found = _with_unit([match[1], min(said.upto), match[2], *words[1:]], said)
    return None if found is None else (found[0], found[1], found[2] - 2)


def _clock(words: Sequence[str], _: FigureWords) -> _Found | None:
    match = re.fullmatch(r"(\d{1,3}):(\d{2})(?::(\d{2}))?", words[0])
    if match is None:
        return None
    whole = int(match[1]) * 60 + int(match[2])
    return "d", str(whole * 60 + int(match[3]) if match[3] else whole), 1


def _share(words: Sequence[str], _: FigureWords) -> _Found | None:
    match = re.fullmatch(r"(\d+(?:\.\d+)?)%", words[0])
    return None if match is None else ("n", f"{float(match[1]) / 100:g}", 1)


def _told_in_words(words: Sequence[str], said: FigureWords) -> _Found | None:
    line = " ".join(words)
    for told, value in said.told.items():
        if line == told or line.startswith(f"{told} "):
            return "d", f"{value:g}", len(told.split())
    return None


def _with_unit(words: Sequence[str], said: FigureWords) -> _Found | None:
    """A number, maybe with a half and up to another, and the unit behind it."""
    value, used = _leading(words, said)
    if value is None:
        return None
    half = _half(words, used, said)
    value, used = value + 0.5 * bool(half), used + half
    high: float | None = None
    second = words[used + 1] if used + 1 < len(words) else ""
    if _at(words, used) in said.upto and re.fullmatch(_NUMBER, second) and _is_unit(words, used + 2, said):
        high, used = float(second.replace(",", ".")), used + 2
    unit = _at(words, used)
    half = _half(words, used + 1, said)
    value, behind = value + 0.5 * bool(half), used + 1 + half
    if unit in said.sizes:
        return "s", _bounds(value, high, said.sizes[unit], ".0f"), behind
    if unit in said.times:
        return _length(words, (value, high), said.times[unit], behind, said)
    if unit in said.shares:
        return "n", f"{value / 100:g}", used + 1 + (unit == "per")
    whole = value - 0.5 * bool(half)
    return "n", words[0].replace(",", ".") if used == 1 else f"{whole:g}", used


def _at(words: Sequence[str], place: int) -> str:
    return words[place] if place < len(words) else ""


def _half(words: Sequence[str], place: int, said: FigureWords) -> int:
    """How many words add a half at a place."""
    return next((len(each) for each in said.halves if tuple(words[place : place + len(each)]) == each), 0)


def _leading(words: Sequence[str], said: FigureWords) -> tuple[float | None, int]:
    """The number that words begin with, and how many of them it takes."""
    if re.fullmatch(_NUMBER, words[0]):
        return float(words[0].replace(",", ".")), 1
    if words[:2] in (["a", "hundred"], ["one", "hundred"]):
        return 100.0, 2
    if words[0] in said.a and _at(words, 1) in said.ones:
        return 1.0, 1
    return (0.5, 2) if words[:2] in (["half", "a"], ["half", "an"]) and len(words) > 2 else (None, 0)


def _is_unit(words: Sequence[str], place: int, said: FigureWords) -> bool:
    return _at(words, place) in said.sizes or _at(words, place) in said.times


def _bounds(low: float, high: float | None, factor: float, form: str) -> str:
    return (
        format(low * factor, form) if high is None else f"{format(low * factor, form)}..{format(high * factor, form)}"
    )


_MINUTE = 60.0


def _length(
    words: Sequence[str], ends: tuple[float, float | None], factor: float, used: int, said: FigureWords
) -> _Found:
    """A length of time, with the seconds that are said behind minutes: four minutes (and) twenty (seconds)."""
    value, high = ends
    joined = _at(words, used) in said.joins
    rest = words[used + joined : used + joined + 2]
    if high is None and factor == _MINUTE and rest and re.fullmatch(r"\d{1,2}", rest[0]):
        named = len(rest) > 1 and said.times.get(rest[1]) == 1.0
        if named or not joined:
            return "d", f"{value * factor + int(rest[0]):g}", used + joined + 1 + named
    return "d", _bounds(value, high, factor, "g"), used


_LEAST, _MOST = 50, 50  # megabytes that are said without their unit at least, and gigabytes at most


def bare_size(value: str) -> str | None:
    """A size said without its unit, in bytes: 612 are megabytes, 1.3 gigabytes; None where it may be neither."""
    number = float(value)
    if "." in value and number < _MOST:
        return f"{number * 1e9:.0f}"
    return f"{number * 1e6:.0f}" if number >= _LEAST and "." not in value else None
