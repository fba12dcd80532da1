"""Lays releases out as lanes: one lane a release, at the medians of its runs, and its runs below it."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from itertools import pairwise
from statistics import median

import msgspec

from metrograph.compare.contrasts import Contrast
from metrograph.compare.flow_records import Side
from metrograph.compare.inference import Confidence
from metrograph.ledgers.comparison import Comparison
from metrograph.log.quantities.ranges import Range
from metrograph.run.records import RECORDING, Run
from metrograph.show.charts.layouts.lanes_layout import Lane, LanePoint, Lanes, lay_lanes

MILESTONES = ("installed", "desktop", "updated")
_MOST = 0.6  # of a difference that one phase has to hold, for the difference to be said to arise there
_ALL = 0.9  # the same, for all of it
_RUNS = 12  # of one rig that are drawn below a lane; more are only counted


class Milestone(msgspec.Struct, frozen=True):
    """A moment of a release.

    at: seconds along the axis; value: as it is said; since: how it differs from the release above, None where nothing
    can be said.
    """

    name: str
    at: float
    value: Range
    since: Contrast | None


class RigRuns(msgspec.Struct, frozen=True):
    """The runs of a release on one rig. counted: whether they are in the median; more: how many are not drawn."""

    rig: str
    lanes: tuple[Lane, ...]
    counted: bool
    more: int = 0


class Numbered(msgspec.Struct, frozen=True):
    """An issue of a release. number: what it has in the chart; at: seconds along the axis.

    run: the run on whose lane it stands; None where every run met it, so that it stands on the release's own.
    met, of: how many of its runs met it; rigs: where, if not on all rigs.
    """

    number: int
    summary: str
    at: float
    run: str | None
    met: int
    of: int
    rigs: tuple[str, ...]


class Excess(msgspec.Struct, frozen=True):
    """Where the largest delay arises. start, end: seconds along the axis; share: of the delay that this phase holds."""

    milestone: str
    phase: str
    start: float
    end: float
    share: float
    since: Contrast
    fetched: tuple[Range, Range] | None = None

    @property
    def all_of_it(self) -> bool:
        """Whether no other phase has any part in it worth naming."""
        return self.share >= _ALL


class LaneGroup(msgspec.Struct, frozen=True):
    """A release with its runs.

    lane: at the medians of the runs that count; of: the run that it is, where their phases differ, None otherwise.
    counted, others: how many runs are in the median, and how many are not.
    """

    name: str
    lane: Lane
    of: str | None
    counted: int
    others: int
    milestones: tuple[Milestone, ...]
    rigs: tuple[RigRuns, ...]
    issues: tuple[Numbered, ...]
    excess: Excess | None = None

    @property
    def lanes(self) -> list[Lane]:
        """All that are drawn of it."""
        return [self.lane, *(lane for rig in self.rigs for lane in rig.lanes)]


class Board(msgspec.Struct, frozen=True):
    """Releases on one axis from 0 to ``length`` seconds, the oldest first. phases: those that occur, in their order."""

    groups: tuple[LaneGroup, ...]
    length: float
    phases: tuple[str, ...]
    zero: float = 0.0
    lined_up: str | None = None


def lay_board(
    sides: Sequence[Side], comparison: Comparison, runs_apart: bool = False, line_up: str | None = None
) -> Board:
    """The board of some sides.

    runs_apart: whether every run has a lane of its own; line_up: the phase whose beginning stands at one place.

    Raises MetrographError when a run has no such phase.
    """
    every = lay_lanes([run for side in sides for run in side.runs], line_up)
    lanes = {lane.name: lane for lane in every.lanes}
    if runs_apart or line_up:
        groups = [_single(run, lanes[run.run], _numbers(sides)) for side in sides for run in side.runs]
    else:
        groups = [_group(side, place, comparison, lanes, _numbers(sides)) for place, side in enumerate(sides)]
        groups = [groups[0], *(_explained(before, group, comparison) for before, group in pairwise(groups))]
    length = max((lane.end for group in groups for lane in group.lanes), default=0.0)
    phases = dict.fromkeys(bar.phase for group in groups for lane in group.lanes for bar in lane.bars)
    return Board(tuple(groups), max(length, every.length), tuple(phases), every.zero, every.lined_up)


def as_lanes(board: Board) -> Lanes:
    """The board as lanes with a release each, for whatever draws lanes."""
    issues = {each.number: each.summary for group in board.groups for each in group.issues}
    lanes = tuple(
        msgspec.structs.replace(
            group.lane,
            name=group.name,
            issues=tuple(LanePoint(each.at, str(each.number)) for each in group.issues if each.at <= group.lane.end),
            flags=tuple(LanePoint(each.at, each.name) for each in group.milestones),
        )
        for group in board.groups
    )
    told = tuple(issues.get(number, "") for number in range(1, max(issues, default=0) + 1))
    return Lanes(lanes, max((lane.end for lane in lanes), default=0.0), board.phases, told)


def _numbers(sides: Sequence[Side]) -> dict[str, int]:
    """Every issue that is the release's with a number, in the order they were met."""
    names = dict.fromkeys(_key(run, place) for side in sides for run in side.runs for place in _of_release(run))
    return {name: number for number, name in enumerate(names, 1)}


def _of_release(run: Run) -> list[int]:
    return [place for place, issue in enumerate(run.issues) if issue.area != RECORDING]


def _key(run: Run, place: int) -> str:
    return run.issues[place].name or run.issues[place].summary


def _single(run: Run, lane: Lane, numbers: dict[str, int]) -> LaneGroup:
    """A run with a lane of its own."""
    return LaneGroup(
        run.run, lane, None, 1, 0,
        tuple(Milestone(mark.label, mark.at, _moment(run, mark.label), None) for mark in lane.flags),
        (), tuple(_issues((run,), (run,), {run.run: lane}, lane, numbers)),
    )  # fmt: skip


def _moment(run: Run, name: str) -> Range:
    moment: Range = getattr(run.milestones, name)
    return moment


def _group(
    side: Side, place: int, comparison: Comparison, lanes: dict[str, Lane], numbers: dict[str, int]
) -> LaneGroup:
    counted = comparison.selection.of(side.runs)
    drawn = counted or list(side.runs)
    middle = sorted(drawn, key=lambda run: (lanes[run.run].end, run.run))[(len(drawn) - 1) // 2]
    lane = _at_medians([lanes[run.run] for run in drawn], lanes[middle.run])
    own = lane if lane is not None else lanes[middle.run]
    if lane is not None and counted and (total := comparison.times[place].on_clock) is not None:
        own = msgspec.structs.replace(own, total=total)
    milestones = comparison.times[place].milestones if counted else middle.milestones
    before = {each.later: each.earlier for each in comparison.neighbours}
    contrasts = {
        each.name: each
        for each in comparison.contrasts
        if (each.earlier, each.later) == (before.get(side.name), side.name)
    }
    return LaneGroup(
        side.name, own, None if lane is not None else middle.run, len(counted), len(side.runs) - len(counted),
        tuple(
            Milestone(name, _at(moment), moment, contrasts.get(name))
            for name in MILESTONES
            if (moment := getattr(milestones, name)) is not None
        ),
        tuple(_rigs(side, counted, lanes)) if len(side.runs) > 1 else (),
        tuple(_issues(side.runs, drawn, lanes, own, numbers)),
    )  # fmt: skip


def _at(moment: Range) -> float:
    """Where a moment is marked: where it begins to be known."""
    return moment.low


def _rigs(side: Side, counted: Sequence[Run], lanes: dict[str, Lane]) -> list[RigRuns]:
    names = {run.run for run in counted}
    found: list[RigRuns] = []
    for rig, counts in dict.fromkeys((run.rig, run.run in names) for run in side.runs):
        runs = [run for run in side.runs if run.rig == rig and (run.run in names) == counts]
        found.append(RigRuns(rig, tuple(lanes[run.run] for run in runs[:_RUNS]), counts, max(len(runs) - _RUNS, 0)))
    return sorted(found, key=lambda each: not each.counted)


def _at_medians(lanes: Sequence[Lane], middle: Lane) -> Lane | None:
    """A lane in which every phase begins at the median of its beginnings; None where the runs' phases differ.

    Within a phase, hands-on time and waiting follow each other as in the middle run. Medians keep the order of what
    has one, so that the phases of such a lane stand in theirs.
    """
    if any([mark.label for mark in lane.phases] != [mark.label for mark in middle.phases] for lane in lanes):
        return None
    if any(bar.torn or bar.fade > bar.end for lane in lanes for bar in lane.bars):
        return None
    stands = [median(column) for column in zip(*map(_edges, lanes), strict=True)]
    moved = partial(_stretched, _edges(middle), stands)
    bars = tuple(
        msgspec.structs.replace(bar, start=moved(bar.start), end=moved(bar.end), fade=moved(bar.end))
        for bar in middle.bars
    )
    phases = tuple(LanePoint(at, mark.label) for at, mark in zip(stands, middle.phases, strict=False))
    return msgspec.structs.replace(
        middle, end=stands[-1], bars=bars, phases=phases, issues=(), flags=(), breaks=tuple(map(moved, middle.breaks)),
        screens=tuple(LanePoint(moved(mark.at), mark.label) for mark in middle.screens),
    )  # fmt: skip


def _edges(lane: Lane) -> list[float]:
    """Where its phases begin, and its end."""
    return [*(mark.at for mark in lane.phases), lane.end]


def _stretched(known: Sequence[float], stands: Sequence[float], at: float) -> float:
    """Where a moment comes to stand when edges are moved from where they are known to others."""
    place = max(sum(edge <= at for edge in known) - 1, 0)
    if place >= len(known) - 1:
        return stands[-1]
    share = (at - known[place]) / max(known[place + 1] - known[place], 1e-9)  # a phase may have no length
    return stands[place] + share * (stands[place + 1] - stands[place])


def _issues(
    runs: Sequence[Run], counted: Sequence[Run], lanes: dict[str, Lane], own: Lane, numbers: dict[str, int]
) -> list[Numbered]:
    """The issues of a release, each once; on its own lane where all runs that count met it, else on the first's."""
    found: dict[str, list[tuple[Run, float]]] = {}
    summaries: dict[str, str] = {}
    for run in runs:
        for place, mark in zip(range(len(run.issues)), lanes[run.run].issues, strict=False):
            if place in _of_release(run):
                summaries.setdefault(_key(run, place), run.issues[place].summary)
                found.setdefault(_key(run, place), []).append((run, mark.at))
    told = []
    for key, met in found.items():
        names = {run.run for run, _ in met}
        everywhere = bool(counted) and all(run.run in names for run in counted)
        at = median(at for run, at in met if run in counted) if everywhere else met[0][1]
        rigs = dict.fromkeys(run.rig for run, _ in met)
        others = {run.rig for run in runs} - set(rigs)
        told.append(
            Numbered(
                numbers[key], summaries[key], min(at, own.end) if everywhere else at,
                None if everywhere or len(runs) == 1 else met[0][0].run, len(names), len(runs),
                tuple(rigs) if others else (),
            )
        )  # fmt: skip
    return told


def _explained(before: LaneGroup, group: LaneGroup, comparison: Comparison) -> LaneGroup:
    """The group with the place where its largest delay arises, as far as one phase holds most of it."""
    later = [each for each in group.milestones if _is_told(each.since) and _delay(each.since) > 0]
    worst = max(later, key=lambda each: _delay(each.since), default=None)
    if worst is None or worst.since is None:
        return group
    delay = _delay(worst.since)
    then, now = _lengths(before.lane, _stop(before, worst.name)), _lengths(group.lane, worst.at)
    phase = max(now, key=lambda name: now[name] - then.get(name, 0.0))
    grown = now[phase] - then.get(phase, 0.0)
    if grown < _MOST * delay:
        return group
    ends = [min(bar.end, worst.at) for bar in group.lane.bars if bar.phase == phase and bar.start < worst.at]
    excess = Excess(
        worst.name, phase, max(ends) - grown, max(ends), grown / delay, worst.since,
        _fetched(comparison, before.name, group.name) if phase == "update" else None,
    )  # fmt: skip
    return msgspec.structs.replace(group, excess=excess)


def _is_told(since: Contrast | None) -> bool:
    """Whether a difference may be more than chance."""
    return since is not None and since.confidence is not Confidence.UNKNOWN


def _delay(since: Contrast | None) -> float:
    """Seconds by which a figure is larger, of the medians."""
    low = since.difference[0] if since is not None else None
    return low if low is not None else 0.0


def _stop(group: LaneGroup, name: str) -> float:
    return next((each.at for each in group.milestones if each.name == name), group.lane.end)


def _lengths(lane: Lane, until: float) -> dict[str, float]:
    """Seconds of each phase up to a moment."""
    found: dict[str, float] = {}
    for bar in lane.bars:
        found[bar.phase] = found.get(bar.phase, 0.0) + max(min(bar.end, until) - bar.start, 0.0)
    return found


def _fetched(comparison: Comparison, earlier: str, later: str) -> tuple[Range, Range] | None:
    """What the first update had to fetch in both releases, in bytes."""
    places = comparison.releases.index(earlier), comparison.releases.index(later)
    row = next((each for each in comparison.readings if each.name == "update download"), None)
    if row is None:
        return None
    values = [row.values[place] for place in places]
    return (values[0], values[1]) if values[0] is not None and values[1] is not None else None
