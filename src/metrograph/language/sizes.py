"""Sizes in bytes, read from both families of units and shown in one, the binary."""

from __future__ import annotations

import re
from functools import lru_cache

_PREFIXES = "KMGTPE"
UNITS: dict[str, int] = {"B": 1, "bytes": 1, "byte": 1}
UNITS |= {f"{prefix}iB": 1024 ** (power + 1) for power, prefix in enumerate(_PREFIXES)}
UNITS |= {f"{prefix}B": 1000 ** (power + 1) for power, prefix in enumerate(_PREFIXES)}
UNITS["kB"] = 1000
LOOSE = {"K": "KiB", "M": "MiB", "G": "GiB", "T": "TiB", "meg": "MiB", "megs": "MiB", "gig": "GiB", "gigs": "GiB"}
"""Units that do not say which family is meant, and what is assumed."""

_BY_SMALL = {unit.lower(): size for unit, size in UNITS.items()}
_SIZE = r"([0-9]{1,20})(?:\.([0-9]{1,9}))? ?([A-Za-z]{1,5})"
EXPECTED_SIZE = "a size with its unit, such as 25 GiB (binary) or 300 MB (decimal)"


@lru_cache(4096)  # disks and partitions come in few sizes, and each comes up in every run
def parse_size(text: str) -> int | None:
    """Bytes of a size such as ``25 GiB`` or ``300 MB``, to the nearest byte; None when it has another form.

    ``GiB`` counts in 1024s and ``GB`` in 1000s; small and capital letters are the same. A loose unit, ``4 G``, is taken
    for the binary one; see ``loose_unit``.
    """
    found = re.fullmatch(_SIZE, text.strip())
    if found is None:
        return None
    factor = _BY_SMALL.get(LOOSE.get(found[3], found[3]).lower())
    if factor is None:
        return None
    decimals = found[2] or ""
    scale: int = 10 ** len(decimals)
    return (int(found[1] + decimals) * factor + scale // 2) // scale


def loose_unit(text: str) -> tuple[str, str] | None:
    """The loose unit at the end of a text and the unit it is taken for; None when there is none."""
    found = re.search(r"[0-9] ?([A-Za-z]{1,5})$", text.strip())
    unit = found[1] if found else ""
    return (unit, LOOSE[unit]) if unit in LOOSE else None


def show_size(size: int) -> str:
    """A size for a person, in the binary family, three digits: ``812 MiB``, ``24.7 GiB``, ``512 bytes``."""
    if abs(size) < 1024:
        return f"{size} bytes"
    power = 1
    while power < len(_PREFIXES) and abs(size) / 1024**power >= 1023.5:
        power += 1
    value = size / 1024**power
    digits = 0 if abs(value) >= 99.95 or value == int(value) else 1 if abs(value) >= 9.995 else 2
    shown = f"{value:.{digits}f}"
    return f"{shown.rstrip('0').rstrip('.') if digits else shown} {_PREFIXES[power - 1]}iB"


def format_size(size: int) -> str:
    """The shortest exact form, which ``parse_size`` reads back as the same: ``25 GiB``, ``300 MB``, ``7 bytes``."""
    exact = [(size // factor, unit) for unit, factor in UNITS.items() if factor > 1 and size and size % factor == 0]
    count, unit = min(exact, default=(size, "bytes"))
    return f"{count} {unit}"
