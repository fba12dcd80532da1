"""Units by all the names that people give them, and sizes as they are shown to a person or written to a file."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Literal

BYTES, SECONDS, PERCENT, COUNT = "bytes", "s", "%", ""
"""The units in which figures are kept; all others are kept as they were said."""

ABOUT = 0.2
"""How far to either side an “about” reaches, as a part of the figure, unless a reader sets it otherwise."""

Family = Literal["binary", "decimal"]
"""Sizes that count by 1024, KiB and MiB, and those that count by 1000, kB and MB."""

_STEPS = (
    ("K", "kilo", "kibi"), ("M", "mega", "mebi"), ("G", "giga", "gibi"), ("T", "tera", "tebi"), ("P", "peta", "pebi"),
    ("E", "exa", "exbi"),
)  # fmt: skip
LOOSE = {"K": "KiB", "M": "MiB", "G": "GiB", "T": "TiB", "meg": "MiB", "megs": "MiB", "gig": "GiB", "gigs": "GiB"}
"""Units that do not say which family is meant, and what is assumed."""


def _sizes() -> dict[str, float]:
    """Every name of a size, in small letters, with its bytes."""
    names = dict.fromkeys(("b", "byte", "bytes"), 1.0)
    for power, (letter, decimal, binary) in enumerate(_STEPS, 1):
        small = letter.lower()
        for name in (f"{small}b", f"{small}byte", f"{small}bytes", f"{decimal}byte", f"{decimal}bytes"):
            names[name] = 1000.0**power
        for name in (f"{small}ib", f"{binary}byte", f"{binary}bytes"):
            names[name] = 1024.0**power
    return names | {loose.lower(): names[unit.lower()] for loose, unit in LOOSE.items()}


SIZES = _sizes()
TIMES = {
    **dict.fromkeys(("s", "sec", "secs", "second", "seconds"), 1.0),
    **dict.fromkeys(("min", "mins", "minute", "minutes"), 60.0),
    **dict.fromkeys(("h", "hr", "hrs", "hour", "hours"), 3600.0),
    **dict.fromkeys(("d", "day", "days"), 86_400.0),
    **dict.fromkeys(("ms", "millisecond", "milliseconds"), 0.001),
}
_PERCENTS = frozenset({"%", "percent", "per cent", "pct"})

EXAMPLES = {BYTES: "bytes, MiB, MB and the like", SECONDS: "s, min, h, or a time such as 1:10", PERCENT: "%",
            COUNT: "a bare number"}  # fmt: skip
"""What may stand after a figure that is kept in each unit."""


def canonical(said: str) -> str:
    """The unit that a figure is kept in, from what was said after it."""
    plain = said.casefold()
    if is_size(said):
        return BYTES
    if plain in TIMES:
        return SECONDS
    return PERCENT if plain in _PERCENTS else said


def factor_of(said: str) -> float:
    """How many of the kept unit one of the said ones is."""
    plain = said.casefold()
    return SIZES[plain] if is_size(said) else TIMES.get(plain, 1.0)


def is_size(said: str) -> bool:
    """Whether a unit is one of sizes; a single letter is one only when it is large: 5 m may be a cable."""
    return said.casefold() in SIZES and (len(said) > 1 or said.isupper())


_PREFIXES = {"i": "KMGTPE", "": "kMGTPE"}
"""What a unit begins with, power by power, of sizes that count by 1024 and of those that count by 1000."""
Chosen = Callable[[], Family | None]


def _nothing_chosen() -> None:
    return None


_CHOSEN: ContextVar[Chosen] = ContextVar("chosen", default=_nothing_chosen)
"""What the reader chose; it holds for all that is shown in one call, so it is not handed through every sentence."""

_EXACT = {
    f"{prefix}{sign}B": base ** (power + 1)
    for sign, base in (("i", 1024), ("", 1000))
    for power, prefix in enumerate(_PREFIXES[sign])
}


def choose_family(chosen: Chosen) -> None:
    """Says in which family sizes are shown from here on: None for the one they were most likely said in.

    chosen: asked when the first size is shown, as most calls show none.
    """
    _CHOSEN.set(chosen)


@contextmanager
def in_units_of(said: str) -> Iterator[None]:
    """Sizes are shown in the family of a size that was said, until it ends; as usual where nothing was."""
    token = _CHOSEN.set((lambda: family_of(said)) if said else _CHOSEN.get())
    try:
        yield
    finally:
        _CHOSEN.reset(token)


def family_of(said: str) -> Family:
    """The family of a size as it was said: ``900 MB`` counts by 1000, ``900 MiB`` by 1024."""
    factor = factor_of(said.strip().lstrip("0123456789., "))
    return "decimal" if factor in {1000.0**power for power in range(1, len(_PREFIXES[""]) + 1)} else "binary"


def show_size(size: float) -> str:
    """A size for a person: ``812 MiB``, ``1217 MiB``, ``1.3 GiB``, ``24.7 GiB``, ``163 MB``, ``512 bytes``.

    Three digits, and four where two of them would be lost beside a size that is hardly larger.
    """
    return _shown(size, _fine_power)


def show_size_shortly(size: float) -> str:
    """A size that was worked out, in three digits whatever it is: ``1.24 GiB``."""
    return _shown(size, _power)


def rounded_size(size: float) -> float:
    """The bytes that a size has as it is shown: what a reader can count with."""
    size = round(size)
    base = 1000 if _family(size) == "decimal" else 1024
    power = _fine_power(size, base)
    return float(round(float(three_digits(size / base**power)) * base**power)) if power else float(size)


def _shown(size: float, power_of: Callable[[int, int], int]) -> str:
    size = round(size)
    base, sign = (1000, "") if _family(size) == "decimal" else (1024, "i")
    power = power_of(size, base)
    return f"{three_digits(size / base**power)} {_PREFIXES[sign][power - 1]}{sign}B" if power else f"{size} bytes"


def _fine_power(size: int, base: int) -> int:
    """The power of the unit in which a size loses least: the one below where it is small, and not round in its own."""
    power = _power(size, base)
    value = abs(size) / base**power
    is_round = abs(value - round(value, 2)) * base**power <= 1
    return power - 1 if power > 1 and value < _FEW and not is_round else power


def _family(size: int) -> Family:
    """The family that a size is shown in: the reader's, or else the one it was most likely said in.

    163 MB is a round number of one family only, so nobody has to remember for every size what was said of it, nor of
    the median of several.
    """
    return _CHOSEN.get()() or ("binary" if format_size(abs(size)).endswith(("iB", "bytes")) else "decimal")


def _power(size: int, base: int) -> int:
    """How often the base goes into the unit that a size is shown in; 0 for bytes."""
    power = 0
    while power < len(_PREFIXES["i"]) and abs(size) / base**power >= base - (0.5 if power else 0):
        power += 1
    return power


_FEW = 9.765625  # of a unit: up to 9,999 of the one below, which are read at a glance


def three_digits(value: float) -> str:
    """A number with no more than three digits that count: ``812``, ``24.7``, ``1.19``, ``3``."""
    digits = 0 if abs(value) >= 99.95 or value == int(value) else 1 if abs(value) >= 9.995 else 2
    shown = f"{value:.{digits}f}"
    return shown.rstrip("0").rstrip(".") if digits else shown


def format_size(size: int) -> str:
    """The shortest exact form, which is read back as the same: ``25 GiB``, ``300 MB``, ``7 bytes``."""
    exact = [(size // factor, unit) for unit, factor in _EXACT.items() if size and size % factor == 0]
    count, unit = min(exact, default=(size, "bytes"))
    return f"{count} {unit}"
