"""Units by all the names that people give them: what each counts in, and how many of that it is."""

from __future__ import annotations

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
