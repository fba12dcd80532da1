"""Sets releases side by side: their flows compared, and every ledger that a reader of the comparison asks for."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from itertools import pairwise
from operator import attrgetter

import msgspec

from metrograph.compare.align.merge import Merged, merged_flow
from metrograph.compare.caveats import caveats, image_age
from metrograph.compare.changes import ToldChanges, in_order, told_between
from metrograph.compare.contrasts import Contrast, contrasts
from metrograph.compare.coverage import Coverage
from metrograph.compare.flow_records import Caveat, Change, FlowRow, Side, Unknown
from metrograph.ledgers.checks import CheckRow, checks_ledger
from metrograph.ledgers.digests.digest import Digest, digest, taken
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.issues import IssueRow, issues_ledger
from metrograph.ledgers.readings import ReadingRow, readings_ledger
from metrograph.ledgers.software import SoftwareRow, software_changes, software_ledger
from metrograph.ledgers.verdicts import Judgement, RatingRow, rating_changes, verdicts_ledger
from metrograph.log.lexicon import Lexicon, load_lexicon
from metrograph.log.quantities.ranges import Range, median
from metrograph.measures.reducing import Spread, Taken, median_of_all, spreads
from metrograph.measures.selection import Selection
from metrograph.run.cards import Release, Rig
from metrograph.run.disks import swap_file_of
from metrograph.run.noted import Reading
from metrograph.run.records import Milestones, Phase, Run
from metrograph.run.route import NO_RULINGS, Rulings


class Background(msgspec.Struct, frozen=True):
    """The cards, rulings and other runs that stand behind a comparison.

    rigs, cards: of rigs and releases by id, as far as there are any.
    rulings: what a person has decided about screens.
    others: runs of more releases, whose repeats say how much figures spread.
    lexicon: what readings there are.
    """

    rigs: Mapping[str, Rig] = {}
    cards: Mapping[str, Release] = {}
    rulings: Rulings = NO_RULINGS
    others: Mapping[str, Sequence[Digest]] = {}
    lexicon: Lexicon | None = None


NO_BACKGROUND = Background()


class PhaseTime(msgspec.Struct, frozen=True):
    """The time of one phase in one release, failed attempts included."""

    on_clock: Range
    person: Range
    machine: Range


class Times(msgspec.Struct, frozen=True):
    """Where the time of one release went, in medians of the runs that count; None where none does.

    runs: how many count; attempts: how many they took together.
    phases: by name, in the order they come, each of the runs that noted it.
    until: for each milestone that all of them reached, the mean seconds that each phase takes of the time until then;
        nothing where a cut leaves that open.
    swap_file: the bytes of the file for swapping that was made, 0 where there is none; None where nobody said so.
    image_age: days from the release of the image to the installation; None where it is not known.
    """

    release: str
    runs: int
    attempts: int
    elapsed: Range | None
    on_clock: Range | None
    person: Range | None
    machine: Range | None
    paused: Range | None
    lost: Range | None
    milestones: Milestones
    phases: dict[str, PhaseTime]
    until: dict[str, dict[str, float]] = {}
    swap_file: float | None = None
    image_age: Range | None = None


class Neighbours(msgspec.Struct, frozen=True, rename={"earlier": "from", "later": "to", "caveats": "care"}):
    """Two releases that are told apart: of one line, the later after the earlier, or of two.

    across: whether neither continues the other; caveats: reasons for care that concern these two.
    """

    earlier: str
    later: str
    across: bool
    caveats: tuple[Caveat, ...]


class SideReading(msgspec.Struct, frozen=True):
    """A reading across the sides, taken in one state and under one load.

    load: rest, busy, what was open, or None where it was not said.
    values: a median per side, None where it was not taken; words: what was said in the place of an amount.
    """

    name: str
    state: str
    unit: str
    load: str | None
    values: tuple[Range | None, ...]
    words: tuple[tuple[str, ...], ...]


class Comparison(msgspec.Struct, frozen=True, rename={"caveats": "care"}):
    """Several releases beside each other, the oldest first.

    overviews: the screen whose doors lead to the others; None where an installer has none.
    lines: what each of them continues.
    neighbours: within each line one after the other, then the latest of every other line with that of the first one
        that was there by then.
    changes: between neighbours; since_baseline: between the baseline and those that are not its neighbours.
    figures: per release, by name.
    selection: which runs figures, times and readings are made from.
    unknown: what one release has and another says nothing of.
    contrasts: what may be concluded, for the same pairs as the changes.
    checks: trials by release.
    """

    baseline: str
    releases: tuple[str, ...]
    lines: tuple[str, ...]
    runs: tuple[tuple[str, ...], ...]
    overviews: tuple[str | None, ...]
    rows: tuple[FlowRow, ...]
    changes: tuple[Change, ...]
    since_baseline: tuple[Change, ...]
    times: tuple[Times, ...]
    figures: tuple[dict[str, Spread], ...]
    contrasts: tuple[Contrast, ...]
    issues: tuple[IssueRow, ...]
    readings: tuple[SideReading, ...]
    checks: tuple[CheckRow, ...]
    software: tuple[SoftwareRow, ...]
    ratings: tuple[RatingRow, ...]
    verdicts: tuple[Judgement, ...]
    caveats: tuple[Caveat, ...]
    selection: Selection = Selection()
    unknown: tuple[Unknown, ...] = ()
    neighbours: tuple[Neighbours, ...] = ()

    def changes_between(self, pair: tuple[str, str]) -> list[Change]:
        """What changed from one release to another, where that was looked at."""
        return [each for each in (*self.changes, *self.since_baseline) if (each.earlier, each.later) == pair]


def compare(sides: Sequence[Side], background: Background = NO_BACKGROUND, baseline: str | None = None) -> Comparison:
    """Lays two or more sides with names of their own beside each other, in their order, which should be that of time.

    baseline: the name of the one that the others are held against; None for the first.
    """
    names = tuple(side.name for side in sides)
    base = names.index(baseline) if baseline is not None else 0
    digests = {side.name: [digest(run) for run in side.runs] for side in sides}
    group = ReleaseGroup.of(digests, ("",) * len(sides), origins=tuple(side.line for side in sides))
    selection = group.selections[""]
    measured = {name: [taken(run) for run in runs] for name, runs in group.measured.items()}
    flows = _ToldPairs(sides, merged_flow(sides, background.rulings, selection), group)
    near = neighbours_of([side.line for side in sides], base)
    far = [pair for pair in _beyond(base, len(sides)) if pair not in near]
    neighbours, beyond = flows.all_between(near), flows.all_between(far)
    return Comparison(
        baseline=names[base],
        releases=names,
        lines=tuple(side.line for side in sides),
        runs=tuple(tuple(run.run for run in side.runs) for side in sides),
        overviews=flows.merged.overviews,
        rows=flows.merged.rows,
        changes=tuple(neighbours.changes),
        since_baseline=tuple(beyond.changes),
        times=tuple(_times(side, selection, background.cards) for side in sides),
        figures=tuple(map(spreads, measured.values())),
        contrasts=tuple(_contrasts(measured, [*near, *far], background, selection)),
        issues=issues_ledger(group, background.rigs, background.rulings).rows,
        readings=_readings(group, background.lexicon or load_lexicon()),
        checks=checks_ledger(group).rows,
        software=flows.software.rows,
        ratings=flows.verdicts.rows,
        verdicts=flows.verdicts.verdicts,
        caveats=caveats(sides, background.rigs, background.cards),
        selection=selection,
        unknown=(*neighbours.unknown, *beyond.unknown),
        neighbours=tuple(
            Neighbours(
                sides[earlier].name,
                sides[later].name,
                sides[earlier].line != sides[later].line,
                caveats((sides[earlier], sides[later]), background.rigs, background.cards),
            )
            for earlier, later in near
        ),
    )


def neighbours_of(lines: Sequence[str], base: int = 0) -> list[tuple[int, int]]:
    """Which of some sides, the oldest first, are told apart: see ``Comparison.neighbours``. base: the baseline."""
    places: dict[str, list[int]] = {}
    for place, line in enumerate(lines):
        places.setdefault(line, []).append(place)
    first = places[lines[base]]
    across = [
        (max((one for one in first if one < of[-1]), default=first[0]), of[-1])
        for of in places.values()
        if of is not first
    ]
    chained = [pair for of in (first, *(of for of in places.values() if of is not first)) for pair in pairwise(of)]
    return [*chained, *((min(pair), max(pair)) for pair in across)]


def _beyond(base: int, sides: int) -> list[tuple[int, int]]:
    """The baseline with each of the other sides, the earlier first."""
    return [(min(base, place), max(base, place)) for place in range(sides) if place != base]


class _ToldPairs:
    """Tells any two of some sides apart."""

    def __init__(self, sides: Sequence[Side], merged: Merged, group: ReleaseGroup) -> None:
        self.sides, self.merged = sides, merged
        self.coverage = Coverage(sides, merged)
        self.software, self.verdicts = software_ledger(group), verdicts_ledger(group)

    def all_between(self, pairs: Iterable[tuple[int, int]]) -> ToldChanges:
        """All that changed between the sides of some pairs, one pair after the other."""
        told = [self.between(*pair) for pair in pairs]
        return ToldChanges(
            [change for each in told for change in each.changes], [unknown for each in told for unknown in each.unknown]
        )

    def between(self, earlier: int, later: int) -> ToldChanges:
        """All that changed from one side to another, by their indices."""
        told = told_between(self.sides, self.merged, self.coverage, earlier, later)
        beside = (*software_changes(self.software, earlier, later), *rating_changes(self.verdicts, earlier, later))
        return ToldChanges(in_order((*told.changes, *beside)), told.unknown)


def _contrasts(
    measured: Mapping[str, Sequence[Taken]],
    pairs: Sequence[tuple[int, int]],
    background: Background,
    selection: Selection,
) -> list[Contrast]:
    """What may be concluded of each two of the sides."""
    names = list(measured)
    others = {release: [taken(run) for run in runs if run.ended and run.screens] for release, runs
              in background.others.items()}  # fmt: skip
    return [
        contrast
        for before, after in pairs
        for contrast in contrasts(names[before], names[after], measured, others, selection.rigs)
    ]


def _readings(group: ReleaseGroup, lexicon: Lexicon) -> tuple[SideReading, ...]:
    """Every reading as the ledger has it, in the order they were first taken."""
    order = dict.fromkeys((r.name, r.state, r.load) for runs in group.measured.values() for r in _every_reading(runs))
    rows: dict[tuple[str, str, str | None], list[ReadingRow]] = {}
    for row in readings_ledger(group, lexicon).rows:
        rows.setdefault((row.name, row.state, row.load), []).append(row)
    return tuple(_side_reading(row) for key in order for row in rows[key])


def _every_reading(runs: Sequence[Digest]) -> Iterator[Reading]:
    return (reading for run in runs for reading in run.readings)


def _side_reading(row: ReadingRow) -> SideReading:
    values = tuple(None if figure is None else figure.median for figure in row.figures)
    return SideReading(row.name, row.state, row.unit, row.load, values, row.words)


# -- times -------------------------------------------------------------------------------------------------------------


def _times(side: Side, selection: Selection, cards: Mapping[str, Release]) -> Times:
    runs = selection.of(side.runs)

    def of(part: Callable[[Run], Range | None]) -> Range | None:
        known = [value for run in runs if (value := part(run)) is not None]
        return median(known) if known else None

    return Times(
        release=side.name,
        runs=len(runs),
        attempts=sum(len(run.attempts) for run in runs),
        elapsed=of(lambda run: run.clock.elapsed),
        on_clock=of(lambda run: run.clock.on_clock),
        person=of(lambda run: run.clock.person),
        machine=of(lambda run: run.clock.machine),
        paused=of(lambda run: run.clock.paused),
        lost=of(lambda run: run.clock.lost),
        milestones=Milestones(*(of(attrgetter(f"milestones.{name}")) for name in Milestones.__struct_fields__)),
        phases=_phase_times(runs),
        until={name: steps for name in _TOLD if (steps := _steps(runs, name))},
        swap_file=_swap_file(runs),
        image_age=of(lambda run: image_age(run, cards)),
    )


_TOLD = ("installed", "desktop", "updated")


def _steps(runs: Sequence[Run], milestone: str) -> dict[str, float]:
    """What each phase takes of the time until a milestone, in means, as only those sum to the mean of all."""
    reached = [(run, end) for run in runs if (end := getattr(run.milestones, milestone)) is not None]
    steps: dict[str, float] = {}
    for run, end in reached:
        spent = [each for each in run.stretches if each.who != "paused" and each.start.low < end.low]
        if not end.exact or not all(each.length.exact for each in spent):
            return {}
        for each in spent:
            steps[each.phase] = steps.get(each.phase, 0.0) + min(each.length.low, end.low - each.start.low) / len(
                reached
            )
    return steps


def _swap_file(runs: Sequence[Run]) -> float | None:
    """The size of the swap file that most of these runs made: it lies in whatever is used of the disk."""
    return median_of_all([swap_file_of(run.layout) for run in runs])


def _phase_times(runs: Sequence[Run]) -> dict[str, PhaseTime]:
    """The phases of the runs that noted them; that a run did not note one does not say that it took no time."""
    phases: dict[str, list[Phase]] = {}
    for run in runs:
        for phase in run.phases:
            phases.setdefault(phase.name, []).append(phase)
    return {
        name: PhaseTime(
            median([phase.on_clock for phase in of]),
            median([phase.person for phase in of]),
            median([phase.machine for phase in of]),
        )
        for name, of in phases.items()
    }
