"""Reads what a person writes for a value of a card, in its file or as an option, and writes it back."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import Any, Literal, get_args, get_origin

import msgspec

from metrograph.log.faults import Unreadable
from metrograph.log.quantities.quantity import EXPECTED_SIZE, Quantity, parse_exact, parse_quantity
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.times import EXPECTED_DAY, format_time, is_day
from metrograph.log.quantities.units import BYTES, SECONDS, format_size

EXPECTED_TIME = "a time such as 12:30, 25 min or 20..25 min"
_TYPES = {"str": "text in quotes", "int": "a whole number", "bool": "true or false"}
_EXPECTED = {
    "processors": "a whole number above 0",
    "architectures": 'a list: ["x86-64", "arm64"]',
    "checksum": "sha256: with 64, or sha512: with 128 hexadecimal digits",
    "minimum": "a table with memory, disk, processors or display",
    "recommended": "a table with memory, disk, processors or display",
    "needs": 'a table for each purpose: [needs."with a desktop"]',
    "display": "width and height in pixels, such as 1024x768",
    "tools": 'software with its version: { Writewell = "5.0" }',
    "newest": 'software with its newest version: { Writewell = "5.1" }',
    "news": "a list of sentences in quotes",
    "claims": "a table with memory, disk, installation or boot",
}


_LONGEST, _LARGEST = 1e9, 1 << 60
"""Seconds and bytes that a bare number may say."""


def value_of(value: object, hint: Any) -> Any:
    """A value as a card holds it; raises ValidationError or Unreadable.

    hint: the type of its field.
    """
    read = _READ.get(unit_of(hint))
    return msgspec.convert(value if read is None else read(value), hint)


def written(value: object, hint: Any) -> Any:
    """A value as a person would write it."""
    if isinstance(value, Quantity):
        return value.text
    if isinstance(value, int) and unit_of(hint) == "size":
        return format_size(value)
    if isinstance(value, dict):
        return _in_one_line(value)
    return list(value) if isinstance(value, tuple) else value


def _in_one_line(table: dict[str, str]) -> object:
    import tomlkit

    line = tomlkit.inline_table()
    line.update(table)
    return line


def expected(key: str, hint: Any, error: str) -> str:
    """What could stand there, from the type of the field."""
    unit = unit_of(hint)
    if unit in _EXPECTED_UNITS:
        return _EXPECTED_UNITS[unit]
    words = [word for part in get_args(hint) if get_origin(part) is Literal for word in get_args(part)]
    if words:
        return " or ".join([", ".join(words[:-1]), words[-1]])
    types = [_TYPES[part.__name__] for part in get_args(hint) if getattr(part, "__name__", "") in _TYPES]
    return _EXPECTED.get(key) or " or ".join(types) or error


def unit_of(hint: Any) -> str:
    """In what the values of a field count, from its type; empty for those that do not."""
    for part in (hint, *get_args(hint)):
        for more in getattr(part, "__metadata__", ()):
            unit = (more.extra or {}).get("unit") if isinstance(more, msgspec.Meta) else None
            if unit:
                return str(unit)
    return ""


def _size(value: object) -> object:
    return round(parse_exact(value, BYTES)) if isinstance(value, str) else value


def _bytes(value: object) -> object:
    if isinstance(value, int) and not isinstance(value, bool) and 0 <= value < _LARGEST:
        return Quantity(Range(float(value), float(value)), BYTES, format_size(value))
    return _quantity(value, BYTES)


def _seconds(value: object) -> object:
    if isinstance(value, int | float) and not isinstance(value, bool) and 0 <= value < _LONGEST:
        return Quantity(Range(float(value), float(value)), SECONDS, format_time(round(value * 1000)))
    return _quantity(value, SECONDS)


def _quantity(value: object, unit: str) -> object:
    if isinstance(value, Quantity):
        return value
    quantity = parse_quantity(value, unit) if isinstance(value, str) else None
    if quantity is None or quantity.amount is None:
        raise Unreadable("this is no amount", str(value), EXPECTED_SIZE if unit == BYTES else EXPECTED_TIME)
    return quantity


def _day(value: object) -> object:
    text = value.isoformat() if isinstance(value, date) else str(value)
    if not is_day(text):
        raise Unreadable("there is no such day", text, EXPECTED_DAY)
    return text


_READ: dict[str, Callable[[object], object]] = {"size": _size, BYTES: _bytes, SECONDS: _seconds, "day": _day}
_EXPECTED_UNITS = {"size": EXPECTED_SIZE, BYTES: EXPECTED_SIZE, SECONDS: EXPECTED_TIME, "day": EXPECTED_DAY}
