"""Sizes for a person, in the family of units that the reader chose, and for a file, exactly."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from metrograph.log.quantities.units import Family, factor_of

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
    """A size for a person, three digits: ``812 MiB``, ``24.7 GiB``, ``163 MB``, ``512 bytes``."""
    size = round(size)
    base, sign = (1000, "") if _family(size) == "decimal" else (1024, "i")
    power = _power(size, base)
    return f"{three_digits(size / base**power)} {_PREFIXES[sign][power - 1]}{sign}B" if power else f"{size} bytes"


def rounded_size(size: float) -> float:
    """The bytes that a size has as it is shown: what a reader can count with."""
    size = round(size)
    base = 1000 if _family(size) == "decimal" else 1024
    power = _power(size, base)
    return float(round(float(three_digits(size / base**power)) * base**power)) if power else float(size)


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
