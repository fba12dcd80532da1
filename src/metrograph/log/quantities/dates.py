"""Dates in the precision they have: a year, a month of it, or a day."""

from __future__ import annotations

import re
from calendar import monthrange
from datetime import date

from metrograph.log.quantities.ranges import Range

EXPECTED_DAY = "a date, as far as it is known: 2026, 2026-04 or 2026-04-28"
DAY = r"^[0-9]{4}(-(0[1-9]|1[0-2])(-(0[1-9]|[12][0-9]|3[01]))?)?$"


def is_day(text: str) -> bool:
    """Whether a text is a date, in whatever precision."""
    if not re.match(DAY, text):
        return False
    try:
        days_of(text)
    except ValueError:
        return False
    return True


def days_of(text: str) -> tuple[date, date]:
    """The first and the last day that it may have been; raises ValueError when there is no such day."""
    year, *rest = map(int, text.split("-"))
    first, last = (rest[0], rest[0]) if rest else (1, 12)
    if len(rest) > 1:
        day = date(year, first, rest[1])
        return day, day
    return date(year, first, 1), date(year, last, monthrange(year, last)[1])


def days_since(text: str, day: date) -> Range:
    """How many days lie between a date and a day: exactly, or between bounds where the date is no day."""
    first, last = days_of(text)
    return Range(float((day - last).days), float((day - first).days))
