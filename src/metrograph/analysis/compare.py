"""Compares releases: the merged flow, what changed from one to the next, what it costs, what may be concluded."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from statistics import median as middle

import msgspec

from metrograph.analysis.changes import changes, changes_since
from metrograph.analysis.circumstances import care
from metrograph.analysis.digests import details, digest
from metrograph.analysis.effort import spreads
from metrograph.analysis.issues import issues_ledger
from metrograph.analysis.ledgers import Group, checks_ledger
from metrograph.analysis.merged import merged_flow
from metrograph.model.cards import Release, Rig
from metrograph.model.comparison import Comparison, PhaseTime, ReadingRow, Side, Times
from metrograph.model.contrasts import Contrast
from metrograph.model.flows import NO_RULINGS, Rulings
from metrograph.model.ledgers import Digest
from metrograph.model.ranges import ZERO, Range, median
from metrograph.model.runs import Milestones, Phase, Run


class Known(msgspec.Struct, frozen=True):
    """What is known beside the runs.

    rigs, cards: of rigs and releases by id, as far as there are any.
    rulings: what a person has decided about screens.
    others: runs of more releases, whose repeats say how much figures spread.
    """

    rigs: Mapping[str, Rig] = {}
    cards: Mapping[str, Release] = {}
    rulings: Rulings = NO_RULINGS
    others: Mapping[str, Sequence[Digest]] = {}


NOTHING_KNOWN = Known()


def compare(sides: Sequence[Side], known: Known = NOTHING_KNOWN, baseline: str | None = None) -> Comparison:
    """Lays two or more sides with names of their own beside each other, in their order, which should be that of time.

    baseline: the name of the one that the others are held against; None for the first.
    """
    merged = merged_flow(sides, known.rulings)
    names = tuple(side.name for side in sides)
    base = names.index(baseline) if baseline is not None else 0
    digests = {side.name: [digest(run, masked=False) for run in side.runs] for side in sides}
    group = Group(digests, ("",) * len(sides))
    return Comparison(
        baseline=names[base],
        releases=names,
        runs=tuple(tuple(run.run for run in side.runs) for side in sides),
        overviews=merged.overviews,
        rows=merged.rows,
        changes=changes(sides, merged),
        since_baseline=changes_since(sides, merged, base),
        times=tuple(_times(side) for side in sides),
        figures=tuple(spreads([details(run).figures for run in runs]) for runs in digests.values()),
        contrasts=tuple(_contrasts(digests, base, known)),
        issues=issues_ledger(group, known.rigs, known.rulings).rows,
        readings=_readings(sides),
        checks=checks_ledger(group).rows,
        care=care(sides, known.rigs, known.cards),
    )


def _contrasts(digests: Mapping[str, Sequence[Digest]], base: int, known: Known) -> list[Contrast]:
    """The baseline against every other, and neighbours against each other, each two once."""
    from metrograph.analysis.contrasts import contrasts  # NumPy takes longer than all the rest

    names = list(digests)
    pairs = [(place, place + 1) for place in range(len(names) - 1)]
    pairs += [(min(base, place), max(base, place)) for place in range(len(names)) if abs(place - base) > 1]
    return [each for before, after in pairs for each in contrasts(names[before], names[after], digests, known.others)]


# -- times -------------------------------------------------------------------------------------------------------------


def _times(side: Side) -> Times:
    def of(part: Callable[[Run], Range]) -> Range:
        return median([part(run) for run in side.runs])

    return Times(
        release=side.name,
        runs=len(side.runs),
        attempts=sum(len(run.attempts) for run in side.runs),
        elapsed=of(lambda run: run.clock.elapsed),
        on_clock=of(lambda run: run.clock.on_clock),
        person=of(lambda run: run.clock.person),
        machine=of(lambda run: run.clock.machine),
        paused=of(lambda run: run.clock.paused),
        lost=of(lambda run: run.clock.lost),
        milestones=Milestones(*(_milestone(side.runs, name) for name in Milestones.__struct_fields__)),
        phases=_phase_times(side.runs),
    )


def _milestone(runs: tuple[Run, ...], name: str) -> Range | None:
    reached = [moment for run in runs if (moment := getattr(run.milestones, name)) is not None]
    return median(reached) if reached else None


def _phase_times(runs: tuple[Run, ...]) -> dict[str, PhaseTime]:
    """A run that has no such phase spent no time in it."""
    nothing = Phase("", ZERO, ZERO, ZERO, ZERO)
    names = dict.fromkeys(phase.name for run in runs for phase in run.phases)
    result = {}
    for name in names:
        own = [next((phase for phase in run.phases if phase.name == name), nothing) for run in runs]
        parts = ([each.on_clock for each in own], [each.person for each in own], [each.machine for each in own])
        result[name] = PhaseTime(*(median(part) for part in parts))
    return result


# -- readings ----------------------------------------------------------------------------------------------------------


def _readings(sides: Sequence[Side]) -> tuple[ReadingRow, ...]:
    found: dict[tuple[str, str, str, str | None], list[list[float]]] = {}
    for index, side in enumerate(sides):
        for run in side.runs:
            for reading in run.readings:
                key = reading.name, reading.state, reading.unit, reading.load
                found.setdefault(key, [[] for _ in sides])[index].append(reading.value)
    return tuple(
        ReadingRow(name, state, unit, load, tuple(middle(own) if own else None for own in values))
        for (name, state, unit, load), values in found.items()
    )
