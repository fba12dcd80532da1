"""Lanes in the terminal: time to scale from left to right, a lane a run, phases and issues named below each."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from rich.cells import set_cell_size

from metrograph.log.quantities.times import show_duration, show_moment
from metrograph.show.charts.layouts.lanes_layout import Bar, Lane, Lanes, ticks
from metrograph.show.palette import CARE, WORSE, colours
from metrograph.show.terminal.text import Medium, shorten, width

_INK = {("person", False): "█", ("machine", False): "░", ("person", True): "▞", ("machine", True): "╱"}
_BREAK, _TORN, _FADE, _ASIDE = "┊", "≈", "∙", "▂"
_ALPHABET = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
_LONGEST_NAME = 26  # columns: what is longer leaves a lane too short on 80 of them
_TICK_ROOM = 9  # columns between two times of the axis, at least
_SHORTEST_LABEL = 4  # columns: a shorter rest of a phase's name tells nothing


def render_lanes(lanes: Lanes, paper: Medium) -> str:
    """The chart: four lines a run, the axis, what inks mean, and what the numbers stand for."""
    scale = _scale(lanes, paper)
    hues = colours(lanes.phases)
    lines = [line for lane in lanes.lanes for line in _lane_lines(lane, scale, hues, paper)]
    lines += [*_axis(scale, lanes, paper), _key(lanes, hues, paper)]
    lines += [
        shorten(f"{_circled(number, paper)} {issue}", paper.width) for number, issue in enumerate(lanes.issues, 1)
    ]
    return "".join(f"{line.rstrip()}\n" for line in lines)


def render_bars(lanes: Lanes, paper: Medium) -> list[str]:
    """The bars alone, a line a run, as wide as the paper."""
    scale, hues = _TimeScale(0, paper.width, lanes.length), colours(lanes.phases)
    return [_bars(lane, scale, hues, paper) for lane in lanes.lanes]


def render_below(lanes: Lanes, paper: Medium) -> list[str]:
    """What stands below bars that are as wide as the paper: the phases of the first by name, and the minutes."""
    scale, hues = _TimeScale(0, paper.width, lanes.length), colours(lanes.phases)
    return [_phase_names(lanes.lanes[0], scale, hues, paper), _axis(scale, lanes, paper)[1]]


def _scale(lanes: Lanes, paper: Medium) -> _TimeScale:
    """The scale that leaves room for names to the left of the bars, and for totals to their right."""
    names = max((width(lane.name) for lane in lanes.lanes), default=0)
    totals = max((len(show_duration(lane.total)) for lane in lanes.lanes), default=0)
    label = min(names, _LONGEST_NAME) + 2
    return _TimeScale(label, max(paper.width - label - totals - 1, 20), lanes.length)


class _TimeScale:
    """Where on a line of text a moment is."""

    def __init__(self, label: int, columns: int, seconds: float) -> None:
        self.label, self.columns, self.seconds = label, columns, max(seconds, 1.0)

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


def _lane_lines(lane: Lane, scale: _TimeScale, hues: dict[str, str], paper: Medium) -> Iterable[str]:
    total = show_duration(lane.total) + ("…" if lane.open else "")
    yield scale.margin() + _screens_and_flags(lane, scale, paper)
    yield scale.margin(lane.name) + _bars(lane, scale, hues, paper) + " " + paper.ink(total, bold=True)
    yield scale.margin() + _phase_names(lane, scale, hues, paper)
    if lane.issues:
        yield scale.margin() + _issues(lane, scale, paper)


def _screens_and_flags(lane: Lane, scale: _TimeScale, paper: Medium) -> str:
    """A tick where a screen came up, and flags by name, which matter more than the ticks they cover."""
    cells = [" "] * scale.columns
    for mark in lane.screens:
        cells[scale.column(mark.at)] = "╷"
    places = [scale.column(mark.at) for mark in lane.flags]
    free = 0
    for mark, column, following in zip(lane.flags, places, [*places, scale.columns][1:], strict=True):
        # The flag stands at its moment; its label goes where there is room, and the table below has it anyway.
        cells[column] = "▾"
        size = len(mark.label)
        right, left = column + 1 + size < following + (following == scale.columns), column - size >= free
        start = column + 1 if right else column - size
        if right or left:
            cells[start : start + size] = mark.label
        free = max(column, start + size if right else column) + 2
    return paper.ink("".join(cells), dim=True)


def _letters(phases: Iterable[str]) -> dict[str, str]:
    """A letter for each phase, where there are no colours to tell them apart: of its name, or else of the alphabet."""
    letters: dict[str, str] = {}
    for phase in phases:
        wanted = [sign for sign in phase.upper() if sign in _ALPHABET]
        letters[phase] = next((sign for sign in (*wanted, *_ALPHABET) if sign not in letters.values()), "?")
    return letters


def _ink(bar: Bar, letters: Mapping[str, str]) -> str:
    """What a bar is drawn with: its phase's letter without colours, capital while a person works, and else a block."""
    if bar.aside and not letters:  # letters tell phases apart, which a lower block in its colour does too
        return _ASIDE
    if bar.failed or not letters:
        return _INK[bar.who, bar.failed]
    return letters[bar.phase] if bar.who == "person" else letters[bar.phase].lower()


def _bars(lane: Lane, scale: _TimeScale, hues: dict[str, str], paper: Medium) -> str:
    """The lane itself: every column shows what its middle moment belongs to."""
    letters = {} if paper.colours else _letters(hues)
    first, last = scale.column(lane.start), scale.column(max(lane.end, 0.0))
    cells: list[tuple[str, str | None]] = [(" ", None)] * scale.columns
    for column in range(first, last + 1):
        # The first and the last column may lie half outside the run, and still are its own.
        moment = min(max(scale.moment(column), lane.start), lane.end)
        bar = next((bar for bar in lane.bars if bar.start <= moment <= bar.fade), None)
        if bar is not None:
            ink = _ink(bar, letters) if moment <= bar.end or bar.end == bar.fade else _FADE
            cells[column] = ink, hues[bar.phase]
    for bar in lane.bars:
        if bar.torn:
            cells[scale.column(bar.end)] = _TORN, CARE
    for at in lane.breaks:
        cells[scale.column(at)] = _BREAK, CARE
    return "".join(paper.ink(*cell) for cell in cells)


def _phase_names(lane: Lane, scale: _TimeScale, hues: dict[str, str], paper: Medium) -> str:
    """Each phase's name under its beginning, as far as it fits; of several in one column, the last."""
    starts = sorted({scale.column(mark.at): mark.label for mark in lane.phases}.items())
    ends = [*(column for column, _ in starts[1:]), scale.columns][: len(starts)]
    pieces, at = [], 0
    for (column, phase), end in zip(starts, ends, strict=True):
        short = set_cell_size(phase, max(min(width(phase), end - column - 1), 0))
        name = short if width(short) >= min(_SHORTEST_LABEL, width(phase)) else ""
        # The name itself has no hue: on some ground every hue is too faint for small letters.
        pieces.append(" " * (column - at) + paper.ink("╵", hues[phase]) + paper.ink(name, dim=True))
        at = column + 1 + width(name)
    return "".join(pieces)


def _issues(lane: Lane, scale: _TimeScale, paper: Medium) -> str:
    """The issues' numbers under the moments they came up; what has no room moves right."""
    line, at = "", 0
    for mark in sorted(lane.issues, key=lambda mark: mark.at):
        text = _circled(int(mark.label), paper)
        column = max(scale.column(mark.at), at)
        line += " " * (column - at) + text
        at = column + width(text)
    return paper.ink(line, WORSE)


def _axis(scale: _TimeScale, lanes: Lanes, paper: Medium) -> list[str]:
    """Two lines: ticks, and the times they stand for, counted from the common moment."""
    line, labels, free = ["─"] * scale.columns, "", 0
    for moment in ticks(lanes, max(scale.columns // _TICK_ROOM, 1)):
        column, text = scale.column(moment + lanes.zero), show_moment(moment)
        # A tick whose label would touch the one before, or leave the paper, has none, and no tick either.
        if column >= free and scale.label + column + width(text) <= paper.width:
            line[column] = "┬"
            labels += " " * (column - len(labels)) + text
            free = column + width(text) + 1
    return [
        paper.ink(scale.margin() + "".join(line), dim=True),
        paper.ink(scale.margin() + labels, dim=True),
    ]


def _key(lanes: Lanes, hues: dict[str, str], paper: Medium) -> str:
    """What the inks mean, and the phases in their order, for those too short to be named where they stand."""
    phases = _phases(lanes.phases, hues, paper)
    signs = {
        "█ hands-on" if paper.colours else "capital: hands-on": True,
        "░ waiting" if paper.colours else "small: waiting": True,
        "▂ looking around": paper.colours and any(bar.aside for lane in lanes.lanes for bar in lane.bars),
        "▞╱ failed attempt": any(bar.failed for lane in lanes.lanes for bar in lane.bars),
        "┊ paused": any(lane.breaks for lane in lanes.lanes),
        "∙ cut, from its least to its most": any(bar.fade > bar.end for lane in lanes.lanes for bar in lane.bars),
        "≈ cut, length unknown": any(bar.torn for lane in lanes.lanes for bar in lane.bars),
        "╷ screen": True,
    }
    zero = f"0:00 is where {lanes.lined_up} begins\n" if lanes.lined_up else ""
    return zero + phases + "\n" + paper.ink("  ".join(text for text, shown in signs.items() if shown), dim=True)


def _phases(phases: Sequence[str], hues: Mapping[str, str], paper: Medium) -> str:
    """The phases with their hues, in as many lines as they take."""
    lines, taken = [""], 0
    letters = {} if paper.colours else _letters(phases)
    for phase in phases:
        size = width(phase) + 2
        if taken and taken + 2 + size > paper.width:
            lines, taken = [*lines, ""], 0
        lines[-1] += ("  " if taken else "") + paper.ink(letters.get(phase, "█"), hues[phase]) + f" {phase}"
        taken += size + (2 if taken else 0)
    return "\n".join(lines)


def _circled(number: int, paper: Medium) -> str:
    return chr(0x2460 + number - 1) if number <= 20 and not paper.plain else f"({number})"
