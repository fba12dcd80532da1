"""Times and dates as logs and cards write them (``4:10``, ``2026-04``), in the precision they have."""

from __future__ import annotations

import re
from datetime import date, datetime, timedelta

from metrograph.log.faults import Unreadable
from metrograph.log.quantities.ranges import Range

# ASCII digits on purpose: `\d` would take the digits of every script, and they would come back as others. At most six,
# since a longer count of hours or minutes is a slip. Without a third number the first two are minutes and seconds.
TIME = r"([0-9]{1,6}):([0-5][0-9])(?::([0-5][0-9]))?(?:\.([0-9]{1,3}))?"
_TIME = re.compile(TIME)
LEADING_TIME = re.compile(rf"\s*-?{TIME}\s+")
"""A time in front of a cue that is typed; with a minus, so long ago."""

EXPECTED_MOMENT = "a date and time with its offset, such as 2026-05-02T10:04:11+02:00"
EXPECTED_TIME = "a time such as 4:10, 1:04:10 or 0:07.25"


def milliseconds_of(first: str, second: str, third: str | None, decimals: str | None) -> int:
    """Milliseconds from the four groups of ``TIME``."""
    result = int(first) * 60_000 + int(second) * 1000
    if third:
        result = result * 60 + int(third) * 1000
    if decimals:
        result += int(decimals.ljust(3, "0"))
    return result


def parse_time(text: str) -> int | None:
    """Milliseconds of a time in the log's form; None when it has another form."""
    match = _TIME.fullmatch(text)
    return milliseconds_of(*match.groups()) if match else None


def format_time(milliseconds: int) -> str:
    """The shortest form that ``parse_time`` reads back as the same number."""
    seconds, thousandths = divmod(milliseconds, 1000)
    decimals = f".{thousandths:03}".rstrip("0") if thousandths else ""
    return _clock(seconds) + decimals


def _clock(seconds: int) -> str:
    minutes, rest = divmod(seconds, 60)
    if minutes < 60:
        return f"{minutes}:{rest:02}"
    return f"{minutes // 60}:{minutes % 60:02}:{rest:02}"


def clock_seconds(text: str) -> float:
    """Seconds of a time in the log's form; raises ValueError for any other."""
    milliseconds = parse_time(text)
    if milliseconds is None:
        raise ValueError(text)
    return milliseconds / 1000


def show_duration(duration: Range) -> str:
    """A duration for a person, in whole seconds: ``4:10``, ``10:00–15:00``, or ``≥ 4:10`` when its end is open."""
    low = _clock(round(duration.low))
    if duration.high is None:
        return f"≥ {low}"
    high = _clock(round(duration.high))
    return low if low == high else f"{low}–{high}"


def show_tenths(duration: Range) -> str:
    """A duration to the tenth of a second: ``0:01.4``."""
    ends = [duration.low, *([] if duration.high in {None, duration.low} else [duration.high or 0.0])]
    shown = "–".join(format_time(round(seconds * 10) * 100) for seconds in ends)
    return f"≥ {shown}" if duration.high is None else shown


def parse_moment(text: str, now: datetime) -> datetime | None:
    """A point in time as a person gives it; None when it cannot be read.

    Taken are RFC 3339 (``2026-05-02T10:04:11+02:00``), the same with a blank or without an offset (then it is local
    time), and ``10:04`` or ``10:04:11`` for today's, or yesterday's when today's is still to come.

    now: the present, with its offset.

    Raises Unreadable for a local time that is not one moment, as the clocks were changed.
    """
    clock = re.fullmatch(r"([01]?[0-9]|2[0-3]):([0-5][0-9])(?::([0-5][0-9]))?", text)
    if clock:
        hour, minute, second = (int(group or 0) for group in clock.groups())
        today = now.replace(hour=hour, minute=minute, second=second, microsecond=0)
        moment = today if today <= now else today - timedelta(days=1)
        _refuse_twice(moment.replace(tzinfo=None))
        return moment
    try:
        moment = datetime.fromisoformat(text)
        if moment.tzinfo is None:
            _refuse_twice(moment)
        return moment if moment.tzinfo else moment.astimezone()
    except (ValueError, OverflowError, OSError):
        return None


def _refuse_twice(local: datetime) -> None:
    """Raises Unreadable for a local time that there was twice, or not at all, as the clocks were changed."""
    first, second = (local.replace(fold=fold).astimezone() for fold in (0, 1))
    if first.utcoffset() != second.utcoffset():
        said = f"{local:%H:%M}"
        choices = f"{first.isoformat()} or {second.isoformat()}"
        raise Unreadable(f"the clocks were changed that night, so that {said} is not one moment", said, choices)


EARLIEST_YEAR = 1970
"""The first in which a run can have begun; at the ends of the calendar no time zone can be told."""


def parse_begun(text: str) -> datetime | None:
    """RFC 3339 with an offset, as a log's header has it; None otherwise."""
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        return None
    return moment if moment.tzinfo and "T" in text.upper() and EARLIEST_YEAR <= moment.year <= 9000 else None


def show_moment(seconds: float) -> str:
    """A moment on an axis, in whole seconds, with a minus before the common one."""
    whole = round(seconds)
    return ("−" if whole < 0 else "") + _clock(abs(whole))


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
    from calendar import monthrange  # a cue has no dates, and a person waits for it

    return date(year, first, 1), date(year, last, monthrange(year, last)[1])


def days_since(text: str, day: date) -> Range:
    """How many days lie between a date and a day: exactly, or between bounds where the date is no day."""
    first, last = days_of(text)
    return Range(float((day - last).days), float((day - first).days))
