"""Quantities as people say them: numbers, ranges, guesses and words, each with its unit, read in one place.

``163 MB``, ``1,3 GB``, ``about 600``, ``5..10 min``, ``under 500 MB``, ``2 of 10``, ``a few``. What was not understood
is refused with what could stand there; nothing is ever taken for a number because its unit was not known.
"""

from __future__ import annotations

import re
from functools import lru_cache

import msgspec

from metrograph.log.faults import Unreadable, near_misses
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.times import clock_seconds
from metrograph.log.quantities.units import (
    ABOUT,
    BYTES,
    COUNT,
    EXAMPLES,
    LOOSE,
    SECONDS,
    SIZES,
    TIMES,
    canonical,
    factor_of,
    is_size,
)

EXPECTED = "a number with its unit, a range such as 5..10 min, about 600, under 500 MB, or words such as “a few”"
EXPECTED_LENGTH = "how long: 4:10, 5 min, 8:00..12:00, about 5:00, or ? when nobody knows"
EXPECTED_SIZE = "a size with its unit, such as 25 GiB (binary) or 300 MB (decimal)"

_CLOCK = r"[0-9]{1,6}:[0-5][0-9](?::[0-5][0-9])?(?:\.[0-9]{1,3})?"
_NUMBER = r"[+-]?[0-9](?:[0-9.,]*[0-9])?"
_FIGURE = rf"(?:{_CLOCK}|{_NUMBER})"
_ABOUT = r"~|≈|(?:about|around|roughly|circa|ca\.|approximately|some)\b"
_BELOW = r"<=?|≤|(?:under|less than|fewer than|below|at most|up to|no more than)\b"
_ABOVE = r">=?|≥|(?:over|more than|above|at least|no less than)\b"
_SIGN = re.compile(rf"(?:(?P<about>{_ABOUT})|(?P<below>{_BELOW})|(?P<above>{_ABOVE}))\s*(?P<rest>.+)", re.IGNORECASE)
_BETWEEN = re.compile(
    rf"(?:between )?(?P<low>{_FIGURE}) ?(?P<first>[^\s0-9.–-][^0-9–]*?)? ?(?:\.\.|–|(?<=[0-9])-|\bto\b|\band\b) ?"
    rf"(?P<high>{_FIGURE}) ?(?P<unit>[^0-9 ].*)?",
    re.IGNORECASE,
)
_SHARE = re.compile(rf"(?P<part>{_NUMBER}) (?P<unit>(?:of|out of) [0-9]{{1,9}})", re.IGNORECASE)
_PIECES = re.compile(r"(?:[0-9]+(?:\.[0-9]+)? ?[A-Za-z]+ ?){2,}")
_SINGLE = re.compile(rf"(?P<figure>{_FIGURE}) ?(?P<unit>[^0-9 ].*)?")
_UNKNOWN = Range(0.0, None)
_NUMBERS = {
    "a quarter of": 0.25, "half": 0.5, "three quarters of": 0.75, "quarter": 0.25, "three quarters": 0.75,
    "one": 1.0, "two": 2.0, "three": 3.0, "four": 4.0, "five": 5.0, "six": 6.0, "seven": 7.0, "eight": 8.0,
    "nine": 9.0, "ten": 10.0, "eleven": 11.0, "twelve": 12.0,
}  # fmt: skip
_WORDS = "|".join(sorted(_NUMBERS, key=len, reverse=True))
_AND_PART = r"(?: and (?:a )?(?:half|quarter|three quarters)(?: an?)?)?"
_SPOKEN = re.compile(
    rf"\b(?P<number>(?:{_WORDS})(?: an?)?{_AND_PART}) (?P<unit>[A-Za-z]+)",
    re.IGNORECASE,
)
_OF_WHOLE = re.compile(
    rf"(?P<part>[^0-9]*{_FIGURE} ?[A-Za-z]+) (?:of|out of) (?P<whole>{_FIGURE} ?[A-Za-z]+)", re.IGNORECASE
)
_THOUSANDS = re.compile(
    r"[^0-9]*(?P<number>[1-9][0-9]{0,2}(?:,[0-9]{3})+|[1-9][0-9]{0,2}(?:\.[0-9]{3}){2,})(?P<unit> ?[^0-9.,].*)?"
)
_COUNTED = frozenset(
    {"packages", "updates", "programs", "files", "processes", "items", "entries", "fonts", "languages"}
)
"""What is counted in whole numbers, however a reading is called."""


class Quantity(msgspec.Struct, frozen=True):
    """An amount as it was said.

    amount: in ``unit``; None where only words were said.
    unit: ``bytes``, ``s``, ``%``, empty for a count, ``of 10`` for a share, or one of a person's own, as it was said.
    text: as it was said.
    total: of how much it is, in the same unit: ``527 MB of 3 GB``; None where that was not said.
    """

    amount: Range | None
    unit: str
    text: str
    total: float | None = None


@lru_cache(4096)  # the same sizes and counts come up in every run
def parse_quantity(text: str, wanted: str | None = None, name: str = "", width: float = ABOUT) -> Quantity:
    """A quantity as it was said; raises Unreadable with what is wrong and what could stand there.

    wanted: the unit that it has to be kept in; None for any.
    name: of what is counted, which may stand as the unit of its count: ``16 updates``.
    width: how far an “about” reaches; see ``ABOUT``.
    """
    plain = " ".join(text.split())
    if plain == "?":
        return Quantity(_UNKNOWN, wanted or COUNT, plain)
    told = in_figures(plain)
    if not re.search(r"[0-9]", told):
        return _words(plain, wanted)
    if of_whole := _OF_WHOLE.fullmatch(told):
        return _part_of(plain, of_whole["part"], of_whole["whole"], wanted, width)
    amount, said = _read(_as_count(told, wanted, name), width)
    unit = canonical(said)
    if name and unit.casefold() == name.casefold():
        unit = COUNT
    if wanted is not None and unit != wanted:
        raise _other_unit(plain, said, wanted)
    return Quantity(amount, unit, plain)


def in_figures(plain: str) -> str:
    """Halves, quarters and small numbers before a unit in figures: ``half a gigabyte`` is ``0.5 gigabyte``."""
    spoken = _SPOKEN.search(plain)
    if spoken is None or not _is_unit(spoken["unit"]):
        return plain
    whole, _, part = spoken["number"].casefold().removesuffix(" a").removesuffix(" an").partition(" and ")
    value = _NUMBERS[whole] + (_NUMBERS[part.removeprefix("a ")] if part else 0)
    return f"{plain[: spoken.start('number')]}{value:g}{plain[spoken.end('number') :]}"


def _is_unit(word: str) -> bool:
    """Whether a word is a unit of size or time, or something that is counted."""
    return is_size(word) or word.casefold() in TIMES or word.casefold() in _COUNTED


def _part_of(plain: str, part: str, whole: str, wanted: str | None, width: float) -> Quantity:
    """A figure and its total, both in one unit: ``527 MB of 3 GB``."""
    of, total = parse_quantity(part, wanted, width=width), parse_quantity(whole, wanted)
    if of.unit != total.unit or total.amount is None or not total.amount.exact:
        raise Unreadable(f"“{plain}” is no part of a whole", plain, "both in units of one kind: 527 MB of 3 GB")
    return Quantity(of.amount, of.unit, plain, total.amount.low)


def _as_count(plain: str, wanted: str | None, name: str) -> str:
    """A count with a sign between its thousands without it: nobody counts parts of packages."""
    counted = _THOUSANDS.fullmatch(plain)
    if counted is None:
        return plain
    unit = canonical((counted["unit"] or "").strip())
    a_count = wanted == COUNT or (
        wanted is None and bool(unit) and (unit.casefold() == name.casefold() or unit in _COUNTED)
    )
    return plain.replace(counted["number"], re.sub("[.,]", "", counted["number"])) if a_count else plain


def parse_exact(text: str, unit: str) -> float:
    """One number in a unit, neither a range nor a guess; raises Unreadable."""
    amount = parse_quantity(text, unit).amount
    if amount is None or not amount.exact:
        raise Unreadable(f"“{text}” has to be exact here", text, EXPECTED_SIZE if unit == BYTES else "one number")
    return amount.low


def parse_length(text: str, width: float = ABOUT) -> Range:
    """How long something was, in seconds; open upwards when nobody knows; raises Unreadable."""
    amount = parse_quantity(text, SECONDS, width=width).amount
    if amount is None or amount.low < 0:
        raise Unreadable(f"“{text}” is no length of time", text, EXPECTED_LENGTH)
    return amount


def loose_unit(text: str) -> tuple[str, str] | None:
    """The loose unit at the end of a text and the unit it is taken for; None when there is none."""
    match = re.search(r"[0-9] ?([A-Za-z]{1,5})$", text.strip())
    unit = match[1] if match else ""
    return (unit, LOOSE[unit]) if unit in LOOSE else None


def _words(plain: str, wanted: str | None) -> Quantity:
    if not plain:
        raise Unreadable("this is empty", plain, EXPECTED)
    return Quantity(None, wanted or COUNT, plain)


def _read(plain: str, width: float) -> tuple[Range, str]:
    """The amount in its kept unit, and the unit as it was said."""
    sign = _SIGN.fullmatch(plain)
    if sign is None:
        return _range(plain)
    amount, said = _range(sign["rest"])
    if sign["about"]:
        return amount.guessed(width), said
    return (Range(0.0, amount.high) if sign["below"] else Range(amount.low, None)), said


def _range(plain: str) -> tuple[Range, str]:
    """A figure, or two with what lies between them."""
    between = _BETWEEN.fullmatch(plain)
    if between is None:
        value, said = _single(plain)
        return Range(value, value), said
    said = between["unit"] or between["first"] or ""
    low, high = _scaled(between["low"], between["first"] or said), _scaled(between["high"], said)
    if canonical(between["first"] or said) != canonical(said) or high < low:
        raise Unreadable(f"“{plain}” is no range", plain, "the smaller first, both in one unit: 500..600 MB")
    return Range(low, high), _unit_of(between["low"], said)


def _single(plain: str) -> tuple[float, str]:
    """One figure with its unit."""
    if share := _SHARE.fullmatch(plain):
        return _number(share["part"]), " ".join(share["unit"].lower().replace("out of", "of").split())
    if _PIECES.fullmatch(plain) and (pieces := re.findall(r"([0-9.]+) ?([A-Za-z]+)", plain)):
        return _pieces(plain, pieces), SECONDS
    match = _SINGLE.fullmatch(plain)
    if match is None:
        raise Unreadable(f"“{plain}” cannot be read as a quantity", plain, EXPECTED)
    said = match["unit"] or ""
    return _scaled(match["figure"], said), _unit_of(match["figure"], said)


def _pieces(plain: str, pieces: list[tuple[str, str]]) -> float:
    """A time in pieces: ``1 h 20 min``."""
    unknown = next((unit for _, unit in pieces if unit.casefold() not in TIMES), None)
    if unknown is not None:
        raise Unreadable(f"“{plain}” cannot be read as a quantity", unknown, EXPECTED)
    return round(sum(_number(number) * factor_of(unit) for number, unit in pieces), 3)


def _unit_of(figure: str, said: str) -> str:
    """What was said as a unit; a time with colons needs none."""
    if ":" in figure and said:
        raise Unreadable(f"“{figure} {said}” has two units", said, figure)
    return SECONDS if ":" in figure else said


def _scaled(figure: str, said: str) -> float:
    """A figure in its kept unit: whole bytes, or thousandths of anything else."""
    if ":" in figure:
        return clock_seconds(figure)
    value = _number(figure) * factor_of(said)
    return float(round(value)) if is_size(said) else round(value, 9)


_MOST_DIGITS = 40  # of a number that somebody says; what has more is an attack on whoever reads it


def _number(text: str) -> float:
    """A number with a decimal point or a decimal comma; raises Unreadable where it could be read in two ways."""
    plain = text.replace(" ", "")
    sign, digits = (plain[:1], plain[1:]) if plain[:1] in {"+", "-"} else ("", plain)
    if len(digits) > _MOST_DIGITS:
        shown = text[:_MOST_DIGITS]
        raise Unreadable(f"“{shown}…” is more than is ever measured", text, f"{_MOST_DIGITS} digits at most")
    if re.fullmatch(r"[1-9][0-9]{0,2},[0-9]{3}", digits):
        two = digits.replace(",", "."), digits.replace(",", "")
        raise Unreadable(f"“{text}” could be {two[0]} or {two[1]}", text, f"{two[0]} or {two[1]}")
    if re.fullmatch(r"[0-9]+(?:[.,][0-9]+)?", digits):
        return float(sign + digits.replace(",", "."))
    for thousands, point in ((",", "."), (".", ",")):
        if re.fullmatch(rf"[0-9]{{1,3}}(?:\{thousands}[0-9]{{3}})+(?:\{point}[0-9]+)?", digits):
            return float(sign + digits.replace(thousands, "").replace(point, "."))
    raise Unreadable(f"“{text}” is no number", text, "a number such as 600, 1.3 or 1,3")


def _other_unit(plain: str, said: str, wanted: str) -> Unreadable:
    """What is said of a figure in a unit that it is not kept in."""
    expected = EXAMPLES.get(wanted, wanted)
    if not said:
        return Unreadable(f"“{plain}” does not say in what", plain, f"a unit after it: {expected}")
    near = SIZES if wanted == BYTES else TIMES if wanted == SECONDS else ()
    meant = near_misses(said.casefold(), [name for name in near if len(name) > 1])
    return Unreadable(f"“{said}” is not what this is measured in", said, " or ".join(meant) or expected)


class Share(msgspec.Struct, frozen=True):
    """How much of how much: 7 of 10."""

    part: float
    whole: float


def parse_share(text: str) -> Share | None:
    """A share such as ``7 of 10`` or ``7.5/10``; None where it is none, or more than the whole."""
    match = re.fullmatch(rf"({_NUMBER}) ?(?:of|out of|/) ?([0-9]{{1,6}})", " ".join(text.split()), re.IGNORECASE)
    if match is None:
        return None
    try:
        part, whole = _number(match[1]), float(match[2])
    except Unreadable:
        return None
    return Share(part, whole) if 0 <= part <= whole and whole else None
