"""How a figure is shown: one way for each unit, wherever it stands, and what is left of it when it is shown so.

Seconds that were taken from a run's clock are shown as on a clock, ``0:18``. Seconds that were read are shown as they
were read, ``18.4 s``, for nobody knows what the clock made of them.
"""

from __future__ import annotations

from collections.abc import Callable

from metrograph.log.lexicon import Unit
from metrograph.log.quantities.ranges import Range, made_of
from metrograph.log.quantities.times import show_duration
from metrograph.log.quantities.units import rounded_size, show_size, show_size_shortly
from metrograph.measures.catalogue import on_the_clock


def show_figure(amount: Range, unit: str, name: str = "") -> str:
    """An amount: ``812 MiB``, ``≈ 600``, ``500–600 MB``, ``< 500 MB``, ``> 2``, ``4:10``.

    name: of its measure, or of what was read.
    """
    if on_the_clock(name):
        return show_duration(amount)

    def shown(value: float) -> str:
        return show_number(value, unit, name)

    if amount.high is None:
        return f"> {shown(amount.low)}"
    if amount.about:
        return f"≈ {shown(amount.middle)}"
    if amount.exact:
        return shown(amount.low)
    return f"< {shown(amount.high)}" if not amount.low else _span(amount.low, amount.high, shown)


def show_number(value: float, unit: str, name: str = "") -> str:
    """One number of a figure, with no more digits than a reader needs."""
    if unit == Unit.BYTES:
        return show_size(value)
    if on_the_clock(name):
        return show_duration(Range(value, value))
    return f"{value:.3g} %" if unit == Unit.PERCENT else f"{value:g} {unit}".strip()


def show_change(value: float, unit: str, name: str = "") -> str:
    """How much more or less, without its sign; a size that was worked out has no more than three digits."""
    return show_size_shortly(value) if unit == Unit.BYTES else show_number(value, unit, name)


def as_shown(amount: Range, unit: str, name: str = "") -> Range:
    """What a reader sees of an amount: what is worked out from it starts there, so that sums on paper come out."""
    high = None if amount.high is None else _rounded(amount.high, unit, name)
    return made_of((amount,), _rounded(amount.low, unit, name), high)


def _rounded(value: float, unit: str, name: str) -> float:
    if unit == Unit.BYTES:
        return rounded_size(value)
    if on_the_clock(name):
        return float(round(value))
    return float(f"{value:.3g}" if unit == Unit.PERCENT else f"{value:g}")


def _span(low: float, high: float, shown: Callable[[float], str]) -> str:
    """From one number to another, the unit once where both have the same."""
    first, _, unit = shown(low).partition(" ")
    last = shown(high)
    return f"{first}–{last}" if last.endswith(f" {unit}") or not unit else f"{shown(low)}–{last}"
