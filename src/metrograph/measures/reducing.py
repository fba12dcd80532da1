"""Makes one figure of several: of the readings of one run by one rule, of several runs by their median."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

import msgspec

from metrograph.log.quantities.ranges import Range, median
from metrograph.log.quantities.units import BYTES
from metrograph.measures.catalogue import MEASURES, Extent, Figures, reading_name
from metrograph.run.noted import Reading

BUSY = "busy"
_AT_REST = frozenset({None, "rest"})
"""Loads at which a figure is that of the system itself; with anything else open it is another figure."""


class ReadingKey(NamedTuple):
    """The key by which readings are readings of the same thing."""

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


def read_otherwise(readings: Iterable[Reading], name: str) -> str:
    """In which states, or under which loads, something was read, where the one that is asked for is not among them.

    Such as ``read live and installed, busy only``; empty where it was not read at all.
    """
    found = [reading for reading in readings if reading.name == name]
    ways = dict.fromkeys(f"{each.state}, {each.load}" if each.load else each.state for each in found)
    return f"read {' and '.join(ways)} only" if ways else ""


DISK_USED = "disk used"
"""The reading in which a file for swapping lies."""


def without_swap_file(readings: Sequence[Reading], size: float | None) -> tuple[Reading, ...]:
    """What was read, a swap file of so many bytes out of the disk used, which goes where none is known."""
    if size is None:
        return tuple(reading for reading in readings if reading.name != DISK_USED)
    return tuple(
        msgspec.structs.replace(reading, value=reading.value + Range(-size, -size))
        if reading.name == DISK_USED and reading.value is not None
        else reading
        for reading in readings
    )


def sizes_at_rest(readings: Sequence[Reading]) -> dict[str, Range]:
    """Sizes by name and state, ``memory (installed)``: what releases are held against each other by."""
    names = dict.fromkeys((r.name, r.state) for r in readings if r.unit == BYTES and r.load in _AT_REST)
    values = {reading_name(name, state): at_rest(readings, name, state) for name, state in names}
    return {name: value for name, value in values.items() if value is not None}


class Spread(msgspec.Struct, frozen=True):
    """One figure of several runs of a release.

    median: of the runs, its lower and upper bound each by themselves; least, most: the outermost bounds.
    runs: how many have it.
    about: whether a guess went into it.
    """

    median: Range
    least: float
    most: float | None
    runs: int
    about: bool = False


_ON_THE_WAY = ("first-question", "installed", "desktop")


class Taken(msgspec.Struct, frozen=True):
    """The figures of one run with their circumstances.

    figures: of the run itself; swap_file: bytes of the file for swapping that it made, None where nobody said so.
    """

    run: str
    release: str
    rig: str
    figures: Figures
    readings: tuple[Reading, ...] = ()
    swap_file: float | None = None

    def figure(self, name: str) -> Range | None:
        """A figure of the run itself; None where it did not get to it."""
        return self.figures.get(name)

    @property
    def reached(self) -> int:
        """How far the run got through an installation, 0 for nowhere: whoever stops earlier was not quicker."""
        return max((place for place, name in enumerate(_ON_THE_WAY, 1) if name in self.figures), default=0)

    def reading(self, name: str, state: str | None) -> Range | None:
        """A reading that was not taken under load."""
        return at_rest(self.readings, name, state)


def farthest(runs: Sequence[Taken], name: str) -> list[Taken]:
    """The runs that a figure is taken from: where it goes on to the end of an installation, those that got there."""
    measure = MEASURES.get(name)
    if measure is None or measure.span is not Extent.INSTALLER:
        return list(runs)
    most = max((run.reached for run in runs), default=0)
    return [run for run in runs if run.reached == most]


def spread(values: Sequence[Range]) -> Spread:
    """The median and the outermost bounds of some values, of which there is at least one."""
    highs = [value.high for value in values if value.high is not None]
    most = max(highs) if len(highs) == len(values) else None
    middle = median(values)
    return Spread(middle, min(value.low for value in values), most, len(values), middle.about)


def median_of_all(values: Sequence[float | None]) -> float | None:
    """The median of values all of which are known; None where one is not, or there are none."""
    known = [Range(value, value) for value in values if value is not None]
    return median(known).low if known and len(known) == len(values) else None


def spread_or_none(values: Iterable[Range | None]) -> Spread | None:
    """The spread of the values that are known; None when none is."""
    known = [value for value in values if value is not None]
    return spread(known) if known else None


def spreads(runs: Sequence[Taken]) -> dict[str, Spread]:
    """The figures of several runs of a release by name, each of the runs that have it and got as far as any."""
    names = dict.fromkeys((*MEASURES, *(name for run in runs for name in run.figures)))
    known = {name: spread_or_none(run.figure(name) for run in farthest(runs, name)) for name in names}
    return {name: value for name, value in known.items() if value is not None}
