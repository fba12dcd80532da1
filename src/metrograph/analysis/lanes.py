"""Lays runs out along one axis of time, for whatever draws them: bars, screens, breaks, numbered issues, flags."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from metrograph.errors import MetrographError
from metrograph.model.ranges import Range
from metrograph.model.runs import Run, Who

_STEPS = (1, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 14400, 36000, 86400, 864000)


class Bar(msgspec.Struct, frozen=True):
    """A piece of a lane.

    start, end: seconds along the axis.
    failed: whether it belongs to an attempt that was lost.
    torn: whether its true length is unknown upwards.
    """

    start: float
    end: float
    phase: str
    who: Who
    failed: bool
    torn: bool


class Mark(msgspec.Struct, frozen=True):
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
    phases: tuple[Mark, ...]
    screens: tuple[Mark, ...]
    breaks: tuple[float, ...]
    issues: tuple[Mark, ...]
    flags: tuple[Mark, ...]
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
    zero = max(moments, default=0.0)
    lanes = tuple(_lane(run, zero - moment, list(numbers)) for run, moment in zip(runs, moments, strict=True))
    phases = dict.fromkeys(bar.phase for lane in lanes for bar in lane.bars)
    length = max((lane.end for lane in lanes), default=0.0)
    return Lanes(lanes, length, tuple(phases), tuple(numbers.values()), zero, line_up)


def ticks(lanes: Lanes, most: int) -> list[float]:
    """Round moments for the axis, in seconds from the common one, about ``most`` of them at the most."""
    step = _step(lanes.length, most)
    first = -int(lanes.zero // step)
    last = int((lanes.length - lanes.zero) // step)
    return [float(step * count) for count in range(first, last + 1)]


def round_moments(seconds: float, most: int) -> list[float]:
    """Round moments from 0 to so many seconds, about ``most`` of them at the most."""
    step = _step(seconds, most)
    return [float(step * count) for count in range(int(seconds // step) + 1)]


def _step(seconds: float, most: int) -> int:
    """The smallest round step that so many seconds have at most so often."""
    return next((step for step in _STEPS if seconds / step <= most), _STEPS[-1])


def _moment(run: Run, phase: str | None) -> float:
    if phase is None:
        return 0.0
    last = len(run.attempts)
    for each in run.stretches:
        if each.attempt == last and each.phase == phase:
            return each.start.middle
    known = ", ".join(dict.fromkeys(each.phase for each in run.stretches if each.attempt == last))
    raise MetrographError(f"{run.run} has no phase “{phase}” to line it up at; it has: {known}")


def _lane(run: Run, shift: float, issues: list[str]) -> Lane:
    failed = {attempt.number for attempt in run.attempts if attempt.failed is not None}
    bars = []
    for each in run.stretches:
        start = each.start.middle + shift
        if each.who != "paused":
            torn = each.length.high is None
            bars.append(Bar(start, start + each.length.middle, each.phase, each.who, each.attempt in failed, torn))
    moments = {name: getattr(run.milestones, name) for name in ("installed", "desktop", "updated")}
    return Lane(
        name=run.run,
        start=shift,
        end=shift + run.clock.on_clock.middle,
        total=run.clock.on_clock,
        bars=tuple(bars),
        phases=_phase_starts(bars),
        screens=tuple(Mark(screen.start.middle + shift, screen.title) for screen in run.screens),
        breaks=tuple(each.start.middle + shift for each in run.stretches if each.who == "paused"),
        issues=tuple(
            Mark(issue.at.middle + shift, str(issues.index(issue.name or issue.summary) + 1)) for issue in run.issues
        ),
        flags=tuple(Mark(moment.middle + shift, name) for name, moment in moments.items() if moment is not None),
        open=run.ended is None,
    )


def _phase_starts(bars: Sequence[Bar]) -> tuple[Mark, ...]:
    starts, previous = [], None
    for bar in bars:
        if (bar.phase, bar.failed) != previous:
            starts.append(Mark(bar.start, bar.phase))
        previous = bar.phase, bar.failed
    return tuple(starts)
