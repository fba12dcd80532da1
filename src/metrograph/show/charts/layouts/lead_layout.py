"""Lays out where one release gains and loses against another: how much sooner or later it has got as far."""

from __future__ import annotations

from collections.abc import Collection, Sequence

import msgspec

from metrograph.compare.flow_records import Side
from metrograph.compare.inference import Confidence
from metrograph.core.errors import MetrographError
from metrograph.ledgers.comparison import Comparison
from metrograph.show.charts.layouts.board_layout import LaneGroup, lay_board
from metrograph.show.charts.layouts.lanes_layout import Lane

_OTHERS = 2  # releases beside the one that matters; more are noise


class Checkpoint(msgspec.Struct, frozen=True):
    """A moment that both have, in the order of the baseline.

    name: of a phase that begins there, or a milestone; at: seconds along the baseline.
    ahead: seconds by which the other is sooner, negative where it is later; least, most: of its runs.
    chance: whether that may be chance.
    """

    name: str
    milestone: bool
    at: float
    ahead: float
    least: float
    most: float
    chance: bool = False


class LeadRun(msgspec.Struct, frozen=True):
    """A release against the baseline."""

    name: str
    points: tuple[Checkpoint, ...]


class Lead(msgspec.Struct, frozen=True):
    """Releases against a baseline, the one that matters first. lane: of the baseline, below the lines."""

    baseline: str
    lane: Lane
    runs: tuple[LeadRun, ...]
    phases: tuple[str, ...]
    left_out: int = 0


def lay_lead(sides: Sequence[Side], comparison: Comparison) -> Lead:
    """The lead of the latest release against the one before it, or the baseline where it was named.

    Raises MetrographError when the two have no moment in common.
    """
    if len(sides) < 2:
        raise MetrographError("a lead is that of one release against another; name two")
    board = lay_board(sides, comparison)
    groups = {group.name: group for group in board.groups}
    names = [group.name for group in board.groups]
    base = comparison.baseline if comparison.baseline != names[0] else names[-2]
    latest = next(name for name in reversed(names) if name != base)
    others = [name for name in reversed(names) if name not in {base, latest}]
    sure = {
        (each.earlier, each.later, each.name)
        for each in comparison.contrasts
        if each.confidence is not Confidence.UNKNOWN
    }
    runs = [_run(groups[base], groups[name], sure) for name in (latest, *others[:_OTHERS])]
    if len(runs[0].points) < 2:
        raise MetrographError(f"{latest} and {base} have no moments in common that come in the same order")
    return Lead(base, groups[base].lane, tuple(runs), board.phases, max(len(others) - _OTHERS, 0))


def _run(base: LaneGroup, other: LaneGroup, sure: Collection[tuple[str, str, str]]) -> LeadRun:
    there, own = _moments(base), _moments(other)
    lanes = [lane for rig in other.rigs if rig.counted for lane in rig.lanes] or [other.lane]
    points = [Checkpoint("", False, 0.0, 0.0, 0.0, 0.0)]
    last, known, own_known = 0.0, _known_until(base.lane), _known_until(other.lane)
    for name, (at, milestone) in there.items():
        moment = own.get(name, (-1.0, False))[0]
        if at > known or moment > own_known:  # behind a cut of unknown length nobody is ahead by anything
            break
        if moment < last:  # it comes earlier in the other, so that nobody can say who is ahead there
            continue
        last = moment
        spread = [at - each for lane in lanes if (each := _in_lane(lane, name, milestone)) is not None] or [at - moment]
        least, most = min(*spread, at - moment), max(*spread, at - moment)
        told = milestone and ((base.name, other.name, name) in sure or (other.name, base.name, name) in sure)
        # What is no milestone was not tested: there, all runs have to be on one side.
        chance = not told if milestone else len(spread) < 2 or least <= 0 <= most
        points.append(Checkpoint(name, milestone, at, at - moment, least, most, chance))
    return LeadRun(other.name, tuple(points))


def _known_until(lane: Lane) -> float:
    """Up to where moments of a lane are known: the first cut, however long it was."""
    return min((bar.start for bar in lane.bars if bar.torn or bar.fade > bar.end), default=lane.end)


def _moments(group: LaneGroup) -> dict[str, tuple[float, bool]]:
    """Where phases begin and milestones stand, in order; of a phase that comes again, its first time."""
    found: list[tuple[float, str, bool]] = []
    failed = [bar.end for bar in group.lane.bars if bar.failed]
    for mark in group.lane.phases:
        if mark.at >= max(failed, default=0.0) and mark.label not in {name for _, name, _ in found} and mark.at > 0:
            found.append((mark.at, mark.label, False))
    found += [(each.at, each.name, True) for each in group.milestones]
    return {name: (at, milestone) for at, name, milestone in sorted(found)}


def _in_lane(lane: Lane, name: str, milestone: bool) -> float | None:
    marks = lane.flags if milestone else lane.phases
    return next((mark.at for mark in marks if mark.label == name), None)
