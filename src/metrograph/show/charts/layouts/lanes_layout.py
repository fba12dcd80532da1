"""Lays runs out along one axis of time, for whatever draws them: bars, screens, breaks, numbered issues, flags."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, TypeVar

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.log.quantities.ranges import Range
from metrograph.run.records import Run, Stretch, Who
from metrograph.run.scope import looking_around
from metrograph.show.charts.layouts.axis import Placing, round_moments

T = TypeVar("T")


class Bar(msgspec.Struct, frozen=True):
    """A piece of a lane.

    start, end: seconds along the axis, as far as is known for sure.
    fade: where it ends at the latest; the same as end where that is known.
    failed: whether a failure made it worthless.
    torn: whether nobody knows how much longer it was.
    aside: whether somebody looks around there, which is no part of the installation.
    """

    start: float
    end: float
    phase: str
    who: Who
    failed: bool
    torn: bool = False
    fade: float = 0.0
    aside: bool = False


class LanePoint(msgspec.Struct, frozen=True):
    """A point on a lane, in seconds along the axis, with what stands there."""

    at: float
    label: str


class Lane(msgspec.Struct, frozen=True):
    """One run along the axis.

    total: its time on the clock.
    phases: where each begins, a failed attempt's apart from the next one's.
    breaks: where it was paused.
    issues: marks with the number the issue has in the chart.
    """

    name: str
    start: float
    end: float
    total: Range
    bars: tuple[Bar, ...]
    phases: tuple[LanePoint, ...]
    screens: tuple[LanePoint, ...]
    breaks: tuple[float, ...]
    issues: tuple[LanePoint, ...]
    flags: tuple[LanePoint, ...]
    open: bool


class Lanes(msgspec.Struct, frozen=True):
    """All lanes on one axis from 0 to ``length`` seconds.

    phases: those that occur, in the order they are first met.
    issues: what the numbers stand for, from 1.
    zero: where on the axis the common moment is.
    """

    lanes: tuple[Lane, ...]
    length: float
    phases: tuple[str, ...]
    issues: tuple[str, ...]
    zero: float = 0.0
    lined_up: str | None = None


def lay_lanes(runs: Sequence[Run], line_up: str | None = None) -> Lanes:
    """The lanes of runs, in the order given.

    line_up: the phase whose beginning (in the last attempt) stands at one place in all lanes; None for the start.

    Raises MetrographError when a run has no such phase.
    """
    numbers: dict[str, str] = {}
    for run in runs:
        for issue in run.issues:
            numbers.setdefault(issue.name or issue.summary, issue.summary)
    moments = [_moment(run, line_up) for run in runs]
    # The longest way to the common moment stays where it is; all others are moved right to meet it.
    zero = max(moments, default=0.0)
    lanes = tuple(_lane(run, zero - moment, list(numbers)) for run, moment in zip(runs, moments, strict=True))
    phases = dict.fromkeys(bar.phase for lane in lanes for bar in lane.bars)
    length = max((lane.end for lane in lanes), default=0.0)
    return Lanes(lanes, length, tuple(phases), tuple(numbers.values()), zero, line_up)


def at_full_width(laid: T) -> T:
    """What was laid out, with nothing of it aside."""

    def plain(value: Any) -> Any:
        if isinstance(value, Bar):
            return msgspec.structs.replace(value, aside=False)
        if isinstance(value, tuple) and not hasattr(value, "_fields"):
            return tuple(map(plain, value))
        if isinstance(value, msgspec.Struct):
            return msgspec.structs.replace(
                value, **{name: plain(getattr(value, name)) for name in value.__struct_fields__}
            )
        return value

    return plain(laid)  # type: ignore[no-any-return]


def up_to(lanes: Lanes, end: float) -> Lanes:
    """The lanes up to a moment, in seconds of the axis; all of them where none goes on beyond it."""
    if lanes.length <= end:
        return lanes
    return msgspec.structs.replace(lanes, length=end, lanes=tuple(_up_to(lane, end) for lane in lanes.lanes))


def _up_to(lane: Lane, end: float) -> Lane:
    bars = [each for each in lane.bars if each.start < end]
    shorter = [msgspec.structs.replace(each, end=min(each.end, end), fade=min(each.fade, end)) for each in bars]
    points = {
        name: tuple(each for each in getattr(lane, name) if each.at <= end)
        for name in ("phases", "screens", "issues", "flags")
    }
    breaks = tuple(at for at in lane.breaks if at <= end)
    return msgspec.structs.replace(lane, end=min(lane.end, end), bars=tuple(shorter), breaks=breaks, **points)


def ticks(lanes: Lanes, most: int) -> list[float]:
    """Round moments for the axis, in seconds from the common one, about ``most`` of them at the most."""
    return round_moments(lanes.length - lanes.zero, most, lanes.zero)


def _moment(run: Run, phase: str | None) -> float:
    if phase is None:
        return 0.0
    # A phase of a lost attempt is no place to line up at: it was gone through again.
    last, placing = len(run.attempts), Placing(run.stretches)
    for stretch, (start, *_) in zip(run.stretches, placing.spans, strict=True):
        if stretch.attempt == last and stretch.phase == phase:
            return start
    known = ", ".join(dict.fromkeys(stretch.phase for stretch in run.stretches if stretch.attempt == last))
    raise MetrographError(f"{run.run} has no phase “{phase}” to line it up at; it has: {known}")


def _lane(run: Run, shift: float, issues: list[str]) -> Lane:
    placing = Placing(run.stretches)
    pairs = list(zip(run.stretches, placing.spans, strict=True))
    asides = looking_around(run)
    bars = [
        msgspec.structs.replace(_bar(stretch, span, shift), aside=aside)
        for (stretch, span), aside in zip(pairs, asides, strict=True)
        if stretch.who != "paused"
    ]
    moments = {name: getattr(run.milestones, name) for name in ("installed", "desktop", "updated")}

    numbers = {name: number for number, name in enumerate(issues, 1)}

    def mark(moment: Range, label: str) -> LanePoint:
        return LanePoint(placing.at(moment) + shift, label)

    return Lane(
        name=run.run,
        start=shift,
        end=shift + placing.end,
        total=run.clock.on_clock,
        bars=tuple(bars),
        phases=_phase_starts(bars),
        screens=tuple(mark(screen.start, screen.title) for screen in run.screens),
        breaks=tuple(span[0] + shift for stretch, span in pairs if stretch.who == "paused"),
        issues=tuple(mark(issue.at, str(numbers[issue.name or issue.summary])) for issue in run.issues),
        flags=tuple(mark(moment, name) for name, moment in moments.items() if moment is not None),
        open=run.ended is None,
    )


def _bar(stretch: Stretch, span: tuple[float, float, float | None], shift: float) -> Bar:
    start, sure, most = span
    end = sure + shift
    return Bar(
        start + shift, end, stretch.phase, stretch.who, stretch.failed, most is None,
        end if most is None else most + shift,
    )  # fmt: skip


def _phase_starts(bars: Sequence[Bar]) -> tuple[LanePoint, ...]:
    starts, previous = [], None
    for bar in bars:
        if (bar.phase, bar.failed) != previous:
            starts.append(LanePoint(bar.start, bar.phase))
        previous = bar.phase, bar.failed
    return tuple(starts)
