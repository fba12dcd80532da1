"""Lanes in the terminal: time to scale from left to right, a lane a run, phases and issues named below each."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from metrograph.analysis.lanes import Bar, Lane, Lanes
from metrograph.language.times import show_duration, show_moment
from metrograph.views.palette import CARE, WORSE, colours
from metrograph.views.paper import Paper
from metrograph.views.text import shorten, width

_INK = {("person", False): "█", ("machine", False): "░", ("person", True): "▞", ("machine", True): "╱"}
_BREAK, _TORN = "┊", "≈"
_LONGEST_NAME = 26
_STEPS = (1, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 14400, 36000, 86400)
_FURTHEST_STEP = 9  # columns between two times of the axis, at least


def render_lanes(lanes: Lanes, paper: Paper) -> str:
    """The chart: three lines a run, the axis, and what the numbers stand for."""
    scale = _Scale(lanes, paper)
    hues = colours(lanes.phases)
    lines = [line for lane in lanes.lanes for line in _lane_lines(lane, scale, hues, paper)]
    lines += [*_axis(scale, lanes, paper), _key(paper)]
    lines += [f"{number} {issue}" for number, issue in zip(_numbers(lanes, paper), lanes.issues, strict=True)]
    return "".join(f"{line.rstrip()}\n" for line in lines)


class _Scale:
    """Where on a line of text a moment is."""

    def __init__(self, lanes: Lanes, paper: Paper) -> None:
        names = max((width(lane.name) for lane in lanes.lanes), default=0)
        totals = max((len(show_duration(lane.total)) for lane in lanes.lanes), default=0)
        self.label = min(names, _LONGEST_NAME) + 2
        self.columns = max(paper.width - self.label - totals - 1, 20)
        self.seconds = max(lanes.length, 1.0)

    def column(self, at: float) -> int:
        """The column of a moment, 0 for the first of the chart."""
        return min(int(at / self.seconds * self.columns), self.columns - 1)

    def moment(self, column: int) -> float:
        """The moment in the middle of a column."""
        return (column + 0.5) * self.seconds / self.columns

    def margin(self, text: str = "") -> str:
        """What stands to the left of the chart."""
        short = shorten(text, self.label - 2)
        return short + " " * (self.label - width(short))


def _lane_lines(lane: Lane, scale: _Scale, hues: dict[str, str], paper: Paper) -> Iterable[str]:
    total = show_duration(lane.total) + ("…" if lane.open else "")
    yield scale.margin(lane.name) + _bars(lane, scale, hues, paper) + " " + paper.ink(total, bold=True)
    yield scale.margin() + _phase_names(lane, scale, hues, paper)
    marks = _marks(lane, scale, paper)
    if marks.strip():
        yield scale.margin() + marks


def _bars(lane: Lane, scale: _Scale, hues: dict[str, str], paper: Paper) -> str:
    """The lane itself: every column shows what its middle moment belongs to."""
    first, last = scale.column(lane.start), scale.column(max(lane.end, 0.0))
    cells: list[tuple[str, str | None]] = [(" ", None)] * scale.columns
    for column in range(first, last + 1):
        moment = min(max(scale.moment(column), lane.start), lane.end)
        bar = next((bar for bar in lane.bars if bar.start <= moment <= bar.end), None)
        if bar is not None:
            cells[column] = _INK[bar.who, bar.failed], hues[bar.phase]  # type: ignore[index]
    for bar in lane.bars:
        if bar.torn:
            cells[scale.column(bar.end)] = _TORN, CARE
    for at in lane.breaks:
        cells[scale.column(at)] = _BREAK, CARE
    return "".join(paper.ink(*cell) for cell in cells)


def _phase_names(lane: Lane, scale: _Scale, hues: dict[str, str], paper: Paper) -> str:
    """Each phase's name under its beginning, as far as it fits before the next."""
    starts = _phase_starts(lane.bars, scale)
    pieces, at = [], 0
    for index, (column, phase) in enumerate(starts):
        end = starts[index + 1][0] if index + 1 < len(starts) else scale.columns
        name = "╵" + (phase if width(phase) < end - column else "")
        pieces.append(" " * (column - at) + paper.ink(name, hues[phase]))
        at = column + width(name)
    return "".join(pieces)


def _phase_starts(bars: Sequence[Bar], scale: _Scale) -> list[tuple[int, str]]:
    """Column and name of every phase as it begins; of several in one column, the last."""
    starts: dict[int, str] = {}
    previous = None
    for bar in bars:
        if (bar.phase, bar.failed) != previous:
            starts[scale.column(bar.start)] = bar.phase
        previous = bar.phase, bar.failed
    return sorted(starts.items())


def _marks(lane: Lane, scale: _Scale, paper: Paper) -> str:
    """Issues by number and flags by name, at their moments; what has no room moves right."""
    marks = [(scale.column(mark.at), _circled(mark.label, paper), WORSE) for mark in lane.issues]
    marks += [(scale.column(mark.at), f"▲{mark.label}", None) for mark in lane.flags]
    line, at = "", 0
    for column, text, colour in sorted(marks, key=lambda mark: mark[0]):
        start = min(max(column, at), scale.columns - width(text))
        if start < at:
            continue  # the chart's end is full: the flag's time stands in the table of times
        line += " " * (start - at) + paper.ink(text, colour)
        at = start + width(text)
    return line


def _axis(scale: _Scale, lanes: Lanes, paper: Paper) -> list[str]:
    """Two lines: ticks, and the times they stand for, counted from the common moment."""
    most = max(scale.columns // _FURTHEST_STEP, 1)
    step = next((step for step in _STEPS if scale.seconds / step <= most), _STEPS[-1])
    ticks, labels, at = ["─"] * scale.columns, "", 0
    moment = -(lanes.zero // step) * step
    while moment + lanes.zero <= scale.seconds:
        column, text = scale.column(moment + lanes.zero), show_moment(moment)
        if column >= at and column + width(text) <= scale.columns + 8:
            ticks[column] = "┬"
            labels += " " * (column - at) + text
            at = column + width(text) + 1
            labels += " "
        moment += step
    from_what = f"from {lanes.lined_up}" if lanes.lined_up else ""
    return [
        paper.ink(scale.margin() + "".join(ticks), dim=True),
        paper.ink(scale.margin(from_what) + labels, dim=True),
    ]


def _key(paper: Paper) -> str:
    text = "█ hands-on  ░ waiting  ▞╱ attempt that failed  ┊ paused  ≈ cut of unknown length"
    return paper.ink(text, dim=True)


def _numbers(lanes: Lanes, paper: Paper) -> list[str]:
    return [paper.ink(_circled(str(number), paper), WORSE) for number in range(1, len(lanes.issues) + 1)]


def _circled(number: str, paper: Paper) -> str:
    value = int(number)
    return chr(0x2460 + value - 1) if value <= 20 and not paper.plain else f"({number})"
