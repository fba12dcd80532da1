"""Makes one figure of those of several runs: their median, with the least and the most."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import msgspec

from metrograph.log.quantities.ranges import Range, median
from metrograph.measures.catalogue import MEASURES, Figures
from metrograph.measures.readings import at_rest
from metrograph.run.noted import Reading


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


class Taken(msgspec.Struct, frozen=True):
    """What was measured in one run.

    figures: of the run itself.
    """

    run: str
    release: str
    rig: str
    figures: Figures
    readings: tuple[Reading, ...] = ()

    def figure(self, name: str) -> Range | None:
        """A figure of the run itself; None where it did not get to it."""
        return self.figures.get(name)

    def reading(self, name: str, state: str | None) -> Range | None:
        """A reading that was not taken under load."""
        return at_rest(self.readings, name, state)


def spread(values: Sequence[Range]) -> Spread:
    """The median and the outermost bounds of some values, of which there is at least one."""
    highs = [value.high for value in values if value.high is not None]
    most = max(highs) if len(highs) == len(values) else None
    middle = median(values)
    return Spread(middle, min(value.low for value in values), most, len(values), middle.about)


def spread_or_none(values: Iterable[Range | None]) -> Spread | None:
    """The spread of the values that are known; None when none is."""
    known = [value for value in values if value is not None]
    return spread(known) if known else None


def spreads(runs: Sequence[Taken]) -> dict[str, Spread]:
    """The figures of several runs of a release by name, each of the runs that have it."""
    names = dict.fromkeys((*MEASURES, *(name for run in runs for name in run.figures)))
    known = {name: spread_or_none(run.figure(name) for run in runs) for name in names}
    return {name: value for name, value in known.items() if value is not None}
