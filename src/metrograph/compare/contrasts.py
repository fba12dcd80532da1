"""Holds the figures of releases against each other and says what may be concluded, from however few runs there are."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import msgspec

from metrograph.compare.inference import Confidence, Method, compare_runs, confidence_of, corrected, pooled_spread
from metrograph.log.quantities.ranges import Range, difference, median
from metrograph.measures.catalogue import MEASURES, TASK, TIMES, Extent, unit_of
from metrograph.measures.reducing import DISK_USED, Spread, Taken, farthest, sizes_at_rest, spread, without_swap_file

Releases = Mapping[str, Sequence[Taken]]
Values = dict[str, list[Range]]
"""The figures of some runs by name."""


class Contrast(
    msgspec.Struct,
    frozen=True,
    rename={
        "earlier": "from", "later": "to", "p_value": "chance", "confidence": "verdict", "degrees_of_freedom": "freedom",
    },
):  # fmt: skip
    """How one figure differs between two releases.

    name: of the measure, or of a reading with its state, ``memory (installed)``; unit: ``s`` or ``bytes``.
    before, after: what the runs have that were compared.
    difference: of the medians, between its lower and its upper bound; None for a bound that a cut leaves open.
    interval: what the true difference lies in with 95 per cent confidence; None where nothing can be said.
    p_value: how often chance alone would make a difference as large, corrected for the number of figures compared
        (Holm, 1979); None where nothing can be said.
    method: how that was worked out.
    degrees_of_freedom: of the spread, where it was pooled from repeats; None otherwise.
    borrowed: releases whose repeats it was taken from, beside the two.
    rigs: those on which both were run, when runs on others were left out; empty when all were compared.
    without_swap_file: whether files for swapping were left out of the disk used, as one of the runs made one.
    """

    earlier: str
    later: str
    name: str
    unit: str
    before: Spread
    after: Spread
    difference: tuple[float | None, float | None]
    interval: tuple[float, float] | None
    p_value: float | None
    confidence: Confidence
    method: Method
    degrees_of_freedom: int | None = None
    borrowed: tuple[str, ...] = ()
    rigs: tuple[str, ...] = ()
    without_swap_file: bool = False


def contrasts(
    earlier: str, later: str, releases: Releases, others: Releases | None = None, rigs: tuple[str, ...] = ()
) -> tuple[Contrast, ...]:
    """All figures that both of two releases have, each with what may be concluded from it.

    releases: the runs that count by release, the two among them.
    others: runs of more releases, whose repeats say how much such figures spread.
    rigs: those on which the runs that count were made, where others were left out.
    """
    # A file for swapping is as large as the memory or the disk: what is compared is the system beside it.
    apart = any(run.swap_file for name in (earlier, later) for run in releases[name])
    if apart:
        releases, others = _without_swap_files(releases), _without_swap_files(others or {})
    before, after = releases[earlier], releases[later]
    old, new = _values(before), _values(after)
    alike = max((run.reached for run in before), default=0) == max((run.reached for run in after), default=0)
    repeats = _Repeats([*_groups(before), *_groups(after)], _elsewhere(releases, others or {}, {earlier, later}))
    pairs = [
        _contrast((earlier, later), name, old[name], new[name], repeats)
        for name in old
        if name in new and (alike or not _goes_to_the_end(name)) and _is_known(old[name]) and _is_known(new[name])
    ]
    # Only now, when all are there: with a dozen figures one in twenty by chance alone comes up more often than not.
    p_values = corrected([contrast.p_value for contrast in pairs])
    return tuple(
        msgspec.structs.replace(
            contrast,
            p_value=p_value,
            confidence=confidence_of(p_value),
            rigs=rigs,
            without_swap_file=apart and contrast.name.rpartition(" (")[0] == DISK_USED,
        )
        for contrast, p_value in zip(pairs, p_values, strict=True)
    )


def _without_swap_files(releases: Releases) -> dict[str, list[Taken]]:
    return {
        name: [msgspec.structs.replace(run, readings=without_swap_file(run.readings, run.swap_file)) for run in runs]
        for name, runs in releases.items()
    }


def _goes_to_the_end(name: str) -> bool:
    measure = MEASURES.get(name)
    return measure is not None and measure.span is Extent.INSTALLER


def _is_known(values: Sequence[Range]) -> bool:
    """Whether a median has an end: what is open is held against nothing."""
    return median(values).high is not None


def _elsewhere(releases: Releases, others: Releases, pair: set[str]) -> dict[str, list[Values]]:
    """The repeats of all releases but these two."""
    return {name: _groups(runs) for name, runs in {**others, **releases}.items() if name not in pair}


def _contrast(pair: tuple[str, str], name: str, old: list[Range], new: list[Range], repeats: _Repeats) -> Contrast:
    before, after = spread(old), spread(new)
    test = compare_runs(old, new, pooled_spread(repeats.groups(name)))
    return Contrast(
        earlier=pair[0],
        later=pair[1],
        name=name,
        unit=unit_of(name),
        before=before,
        after=after,
        difference=difference(before.median, after.median),
        interval=test.interval,
        p_value=test.p_value,
        confidence=Confidence.UNKNOWN,
        method=test.method,
        degrees_of_freedom=test.degrees_of_freedom,
        borrowed=repeats.borrowed(name) if test.method is Method.POOLED else (),
    )


class _Repeats(msgspec.Struct, frozen=True):
    """Groups of runs of one release on one rig: of the two that are compared, and by release of the others."""

    compared: list[Values]
    others: dict[str, list[Values]]

    def groups(self, name: str) -> list[list[Range]]:
        """The values of one figure, group by group."""
        # Repeats of other releases say how much a figure spreads, not how large it is; so they may be pooled.
        every = (*self.compared, *(group for groups in self.others.values() for group in groups))
        return [group.get(name, []) for group in every]

    def borrowed(self, name: str) -> tuple[str, ...]:
        """The other releases that have repeats of a figure."""
        having = (
            release for release, groups in self.others.items() if any(len(group.get(name, ())) > 1 for group in groups)
        )
        return tuple(having)


def _groups(runs: Sequence[Taken]) -> list[Values]:
    """The figures of the runs on each rig."""
    return [_values([run for run in runs if run.rig == rig]) for rig in dict.fromkeys(run.rig for run in runs)]


def _values(runs: Sequence[Taken]) -> Values:
    """Times of some runs by name, then their readings of sizes by name and state, one of each a run."""
    values: Values = {}
    tasks = (name for run in runs for name in run.figures if name.startswith(TASK))
    for name in (*(name for name in TIMES if MEASURES[name].is_compared), *dict.fromkeys(tasks)):
        times = [time for run in farthest(runs, name) if (time := run.figure(name)) is not None]
        if times:
            values[name] = times
    for run in runs:
        for name, size in sizes_at_rest(run.readings).items():
            values.setdefault(name, []).append(size)
    return values
