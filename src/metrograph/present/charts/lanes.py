"""Lanes as a figure for print and screen: the same chart as in the terminal, drawn with Matplotlib."""

from __future__ import annotations

from typing import TYPE_CHECKING

from metrograph.log.quantities.times import show_duration, show_moment
from metrograph.present.charts.layouts.axis import fading
from metrograph.present.charts.layouts.lanes import Lane, Lanes, ticks
from metrograph.present.charts.sheet import INK, SOFT, new_sheet, save
from metrograph.present.palette import WORSE, colours, dark, pale
from metrograph.present.safe import readable
from metrograph.present.terminal.text import shorten

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

_WIDTH = 12.8  # inches, as every other measure here
_LANE, _TOP, _BOTTOM = 0.95, 0.9, 0.75
_ISSUE_LINE = 0.24
_NAME_LENGTH = 28
_BAR = 0.34  # of a lane's height
_LEFT = 0.2  # of the figure, for the names of the runs
_FIGURE = 7.2  # points that a digit of a total takes
_LETTER = 5.6  # points that a letter of a phase's name takes


def draw_lanes(lanes: Lanes, title: str, ending: str) -> bytes:
    """The figure in one of ``svg``, ``png`` (1280 pixels wide) and ``pdf``.

    title: what is compared.
    """
    lanes, title = readable(lanes), readable(title)
    height = _TOP + _LANE * len(lanes.lanes) + _BOTTOM + _ISSUE_LINE * len(lanes.issues)
    with new_sheet(height * 72) as sheet:
        figure = sheet.figure
        axes = figure.add_axes(_frame(lanes, height))
        _prepare(axes, lanes)
        hues = colours(lanes.phases)
        named: set[str] = set()
        for row, lane in enumerate(lanes.lanes):
            _draw_lane(axes, row, lane, hues)
            named |= _name_phases(axes, row, lane, hues)
        _write_around(figure, lanes, title, height)
        _write_key(figure, {phase: hue for phase, hue in hues.items() if phase not in named}, height)
        return save(figure, ending, title, describe_lanes(lanes))


def describe_lanes(lanes: Lanes) -> str:
    """The picture in words."""
    times = [f"{lane.name} took {show_duration(lane.total)}" for lane in lanes.lanes]
    return "Timelines of installations, one lane a run: " + "; ".join(times) + "."


def _frame(lanes: Lanes, height: float) -> tuple[float, float, float, float]:
    """Left, bottom, width and height of the chart, as shares of the figure; the totals have room to its right."""
    longest = max((len(show_duration(lane.total)) for lane in lanes.lanes), default=0)
    right = (longest * _FIGURE + 20) / (_WIDTH * 72)
    bottom = (_BOTTOM + _ISSUE_LINE * len(lanes.issues)) / height
    return _LEFT, bottom, 1 - _LEFT - right, _LANE * len(lanes.lanes) / height


def _prepare(axes: Axes, lanes: Lanes) -> None:
    """The axis of time, and nothing else."""
    axes.set_xlim(0, max(lanes.length, 1.0))
    axes.set_ylim(len(lanes.lanes) - 0.5, -0.5)
    axes.set_yticks([])
    moments = ticks(lanes, 10)
    axes.set_xticks([lanes.zero + moment for moment in moments], [show_moment(moment) for moment in moments])
    axes.tick_params(colors=SOFT, labelsize=9, length=3)
    axes.grid(axis="x", color="#e6e8eb", linewidth=0.8)
    axes.set_axisbelow(True)
    for side in ("top", "left", "right"):
        axes.spines[side].set_visible(False)
    axes.spines["bottom"].set_color("#c5c9ce")


def _draw_lane(axes: Axes, row: int, lane: Lane, hues: dict[str, str]) -> None:
    for bar in lane.bars:
        hue = hues[bar.phase]
        fill = hue if bar.who == "person" else pale(hue)
        if bar.failed:
            fill = pale(hue, share=0.85 if bar.who == "person" else 0.95)
        axes.barh(
            row, bar.end - bar.start, left=bar.start, height=_BAR, facecolor=fill, edgecolor=pale(hue, share=0.35),
            linewidth=0.6 if bar.failed else 0, hatch="xx" if bar.failed else None,
        )  # fmt: skip
        for left, width, share in fading(bar.end, bar.fade):
            axes.barh(row, width, left=left, height=_BAR, facecolor=pale(fill, share=share), linewidth=0)
        if bar.torn:
            axes.text(bar.end, row, "≈", ha="center", va="center", fontsize=15, color=INK, fontweight="bold")
    for at in lane.breaks:
        axes.plot([at, at], [row - _BAR * 0.6, row + _BAR * 0.6], color=INK, linewidth=1.2, linestyle=(0, (2, 2)))
    for screen in lane.screens:
        axes.plot([screen.at, screen.at], [row + _BAR * 0.32, row + _BAR * 0.5], color="white", linewidth=0.9)
    _mark(axes, row, lane)
    axes.annotate(
        shorten(lane.name, _NAME_LENGTH), (0, row), xycoords=("axes fraction", "data"), xytext=(-10, 0),
        textcoords="offset points", ha="right", va="center", fontsize=10, color=INK,
    )  # fmt: skip
    axes.annotate(
        show_duration(lane.total) + (" …" if lane.open else ""), (lane.end, row), xytext=(6, 0),
        textcoords="offset points", va="center", fontsize=10, fontweight="bold", color=INK,
    )  # fmt: skip


def _name_phases(axes: Axes, row: int, lane: Lane, hues: dict[str, str]) -> set[str]:
    """Writes each phase's name below its beginning, where there is room before the next; returns those it wrote."""
    written = set()
    ends = [mark.at for mark in lane.phases[1:]] + [lane.end]
    for mark, end in zip(lane.phases, ends, strict=False):
        if _points(axes, end - mark.at) >= _LETTER * len(mark.label):
            axes.annotate(
                mark.label, (mark.at, row + _BAR / 2), xytext=(1, -3), textcoords="offset points",
                ha="left", va="top", fontsize=8.5, color=dark(hues[mark.label]),
            )  # fmt: skip
            written.add(mark.label)
    return written


def _points(axes: Axes, seconds: float) -> float:
    """How wide a span of time is, in points."""
    low, high = axes.get_xlim()
    return seconds / (high - low) * axes.get_position().width * _WIDTH * 72


def _mark(axes: Axes, row: int, lane: Lane) -> None:
    """Issues on the lane, flags above it; of flags that would touch, the later goes one line up."""
    look = {"boxstyle": "circle,pad=0.2", "facecolor": "white", "edgecolor": WORSE, "linewidth": 1.2}
    for mark in lane.issues:
        axes.annotate(
            mark.label, (mark.at, row), ha="center", va="center", fontsize=8, fontweight="bold",
            color=dark(WORSE), bbox=look,
        )  # fmt: skip
    free = [-1e9, -1e9]
    for mark in lane.flags:
        place = _points(axes, mark.at)
        line = 0 if place >= free[0] else 1
        free[line] = place + _LETTER * len(mark.label) + 16
        axes.annotate(
            f"▾ {mark.label}", (mark.at, row - _BAR / 2), xytext=(-3, 4 + 11 * line), textcoords="offset points",
            ha="left", va="center", fontsize=8.5, color=INK,
        )  # fmt: skip


def _write_around(figure: Figure, lanes: Lanes, title: str, height: float) -> None:
    figure.text(0.02, 1 - 0.32 / height, shorten(title, 96), fontsize=14, fontweight="bold", color=INK, va="center")
    how = f"lined up at {lanes.lined_up}" if lanes.lined_up else "from power-on"
    inks = "Full: hands-on; pale: waiting; crossed: in vain. Dashed: paused. Fading: a cut; ≈: of unknown length."
    caption = f"Time on the clock {how}. {inks}"
    figure.text(0.02, 1 - 0.62 / height, caption, fontsize=9, color=SOFT, va="center")
    for number, issue in enumerate(lanes.issues, 1):
        y = (0.14 + _ISSUE_LINE * (len(lanes.issues) - number)) / height
        figure.text(_LEFT, y, f"{number}  {shorten(issue, 110)}", fontsize=9, color=dark(WORSE), va="bottom")


def _write_key(figure: Figure, hues: dict[str, str], height: float) -> None:
    """A key for the phases that were too short everywhere to be named where they stand."""
    x = 0.98
    for phase, hue in reversed(hues.items()):
        figure.text(x, 1 - 0.62 / height, phase, fontsize=9, color=dark(hue), va="center", ha="right")
        x -= (len(phase) * _LETTER + 6) / (_WIDTH * 72)
        figure.text(x, 1 - 0.62 / height, "■", fontsize=10, color=hue, va="center", ha="right")
        x -= 20 / (_WIDTH * 72)
