"""Says how figures differ, longer or shorter, more or less, better or worse, and which runs they are made from."""

from __future__ import annotations

from collections.abc import Iterable
from math import floor

from metrograph.log.lexicon import Better, Unit
from metrograph.log.quantities.ranges import Range, difference
from metrograph.log.quantities.times import show_duration
from metrograph.measures.catalogue import unit_of
from metrograph.measures.reducing import Spread
from metrograph.measures.selection import LeftOut, LeftOutReason, Selection
from metrograph.measures.show import as_shown, show_change, show_figure, show_number
from metrograph.words.grammar import NOTHING
from metrograph.words.names import on_rig

SAME = "same"

_SOONER = frozenset({"first-question", "installed", "desktop", "updated"})
"""Measures that are moments: they come sooner or later, where durations are shorter or longer."""


def signed_difference(before: Range, after: Range, unit: str, name: str) -> str:
    """How much more one figure is than another, as both are shown: ``+1:05``, ``−6:29 to −2:26``, ``same``."""
    low, high = difference(as_shown(before, unit, name), as_shown(after, unit, name))
    about = "≈ " if before.about or after.about else ""
    if low is not None and low == high:
        return about + _signed(low, unit, name)
    return about + " to ".join("?" if bound is None else _signed(bound, unit, name) for bound in (low, high))


def show_kinship(value: float) -> str:
    """How alike two installers are, 0 to 1; what is not the same never reads as if it were."""
    return f"{value if value == 1 else min(value, 0.99):.2f}"


def told_difference(before: Range, after: Range, unit: str, name: str) -> str:
    """How they differ, in words: ``1:05 longer``, ``2:26 to 6:29 sooner``, ``at least 0:20 later``."""
    low, high = difference(as_shown(before, unit, name), as_shown(after, unit, name))
    about = "about " if before.about or after.about else ""
    return about + told_bounds(low, high, unit, name)


def told_bounds(low: float | None, high: float | None, unit: str, name: str) -> str:
    """A difference that lies between two bounds, in words."""
    if low is None or high is None:
        return _open_bounds(low, high, unit, name)
    near, far = sorted((low, high), key=abs)
    if low == high or (_is_nothing(low, unit, name) and _is_nothing(high, unit, name)):
        return _told(low, unit, name)
    if low * high >= 0:
        return f"{_size(near, unit, name)} to {_told(far, unit, name)}"
    return f"{_told(low, unit, name)} to {_told(high, unit, name)}"


def _open_bounds(low: float | None, high: float | None, unit: str, name: str) -> str:
    if low is not None and low > 0:
        return f"at least {_told(low, unit, name)}"
    return f"at least {_told(high, unit, name)}" if high is not None and high < 0 else "open"


def _told(value: float, unit: str, name: str) -> str:
    """A difference without its sign, and which way it goes."""
    if _is_nothing(value, unit, name):
        return SAME
    more, less = ("later", "sooner") if name in _SOONER else _WORDS.get(unit, ("more", "less"))
    return f"{_size(value, unit, name)} {more if value > 0 else less}"


_WORDS: dict[str, tuple[str, str]] = {Unit.SECONDS: ("longer", "shorter"), Unit.COUNT: ("more", "fewer")}


def _size(value: float, unit: str, name: str) -> str:
    return show_change(abs(value), unit, name)


def _signed(value: float, unit: str, name: str) -> str:
    if _is_nothing(value, unit, name):
        return SAME
    return ("+" if value > 0 else "−") + _size(value, unit, name)


def _is_nothing(value: float, unit: str, name: str) -> bool:
    """Whether nothing is left of a difference as it is shown."""
    return as_shown(Range(value, value), unit, name).low == 0


def judged_difference(before: Range, after: Range, unit: str, name: str, better: Better | None) -> str:
    """How much more or less it is, and whether that is better; a range that goes both ways is not judged."""
    low, high = difference(as_shown(before, unit, name), as_shown(after, unit, name))
    told = signed_difference(before, after, unit, name)
    if low is None or high is None or low * high < 0:
        return told
    return told + judged(low or high, better)


def judged(change: float, better: Better | None) -> str:
    """Whether a change is for the better; nothing where neither way is."""
    if not change or better is None:
        return ""
    return " better" if (change < 0) == (better == "less") else " worse"


def show_spread(value: Spread | None, name: str, spread: bool = False) -> str:
    """The median of a measure; with ``spread`` also the least and the most, where they differ."""
    if value is None:
        return NOTHING
    unit = unit_of(name)
    shown = show_figure(value.median, unit, name)
    if unit == Unit.COUNT and value.median.exact and value.median.low % 1:
        # Half a decision was never made: between the two middle runs lies what is known.
        low = floor(value.median.low)
        shown = show_figure(Range(low, low + 1), unit, name)
        spread = spread and (value.least, value.most) != (low, low + 1)
    if not spread or value.runs == 1 or value.most is None or value.least == value.most:
        return shown
    return f"{shown} ({span_of(value, unit, name)})"


def span_of(value: Spread, unit: str, name: str) -> str:
    """From the least to the most of the runs."""
    if value.most is None:
        return f"{show_number(value.least, unit, name)}–?"
    if not value.least:  # from nothing on is no open range here
        return f"{show_number(0, unit, name)}–{show_number(value.most, unit, name)}"
    return show_figure(Range(value.least, value.most), unit, name)


def counted(number: int, word: str) -> str:
    """``1 run``, ``2 runs``."""
    return f"{number} {word}" if number == 1 else f"{number} {word}s"


def duration_or_nothing(value: Range | None) -> str:
    """A duration; a dash where none was measured."""
    return NOTHING if value is None else show_duration(value)


def duration_and_hands_on(on_clock: Range, person: Range) -> str:
    """The time of a phase, and in brackets the part that a person spent."""
    return f"{show_duration(on_clock)} ({show_duration(person)})"


_WHY = {
    LeftOutReason.RIG: "Figures count the runs on {rigs}, and leave out {runs}.",
    LeftOutReason.OPEN: "Not over, and in no figure: {runs}.",
}


def selection_lines(selections: Iterable[Selection]) -> tuple[str, ...]:
    """A sentence for each reason for which runs are left out; none where all count."""
    return tuple(
        text.format(rigs=", ".join(map(on_rig, selection.rigs)), runs=", ".join(names))
        for selection in selections
        for why, text in _WHY.items()
        if (names := [_named(item) for item in selection.left_out if item.why is why])
    )


def _named(item: LeftOut) -> str:
    return f"{item.run} ({item.rig})" if item.why is LeftOutReason.RIG and item.rig else item.run
