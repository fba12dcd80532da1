"""Readings of a run, reduced by one rule: of several with one name, unit, state and load in a run, the last counts."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.units import BYTES
from metrograph.measures.catalogue import reading_name
from metrograph.run.noted import Reading

BUSY = "busy"
_AT_REST = frozenset({None, "rest"})
"""Loads at which a figure is that of the system itself; with anything else open it is another figure."""


class ReadingKey(NamedTuple):
    """What makes two readings ones of the same thing."""

    name: str
    unit: str
    state: str
    load: str | None


def amount_of(reading: Reading) -> Range | None:
    """How much was read, as a guess where it was one; None where only words were said."""
    return reading.value.as_guess() if reading.about and reading.value is not None else reading.value


def by_key(readings: Iterable[Reading]) -> dict[ReadingKey, Range]:
    """The amounts of a run by what was read; of several of the same thing, the last. Words are no amounts."""
    amounts = {ReadingKey(r.name, r.unit, r.state, r.load): amount_of(r) for r in readings}
    return {key: amount for key, amount in amounts.items() if amount is not None}


def words_for(readings: Iterable[Reading], name: str, state: str, load: str | None) -> str | None:
    """What was said in the place of an amount, where the last reading of a thing has none."""
    said = [r for r in readings if (r.name, r.state, r.load) == (name, state, load)]
    return said[-1].said if said and said[-1].value is None else None


def at_rest(readings: Iterable[Reading], name: str, state: str | None = None) -> Range | None:
    """The last reading of a name in a state, or in any, that was not taken under load; None where there is none."""
    values = [amount_of(r) for r in readings if r.name == name and state in {None, r.state} and r.load in _AT_REST]
    return values[-1] if values else None


def sizes_at_rest(readings: Sequence[Reading]) -> dict[str, Range]:
    """Sizes by name and state, ``memory (installed)``: what releases are held against each other by."""
    names = dict.fromkeys((r.name, r.state) for r in readings if r.unit == BYTES and r.load in _AT_REST)
    values = {reading_name(name, state): at_rest(readings, name, state) for name, state in names}
    return {name: value for name, value in values.items() if value is not None}
