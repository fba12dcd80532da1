"""The timetable: elapsed time across, the merged flow downwards; each run is a line that falls as it advances.

Flat is waiting or thinking, steep is quick, a rise is going back; where two lines cross, one run overtakes the other.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import nan

from metrograph.log.quantities.times import show_duration, show_moment
from metrograph.present.charts.layouts.axis import round_moments
from metrograph.present.charts.layouts.timetable import RunLine, Timetable
from metrograph.present.charts.sheet import (
    FAINT,
    INK,
    LABEL,
    MARGIN,
    SMALL,
    SOFT,
    WIDTH,
    Sheet,
    new_sheet,
    save,
    spread_out,
)
from metrograph.present.palette import WORSE
from metrograph.present.safe import readable

_TOP, _ROW, _BOTTOM = 84.0, 21.0, 30.0  # points
_TITLES, _NAMES = 220.0, 215.0  # points for the stops' titles, and for the names of the runs
_STROKES: tuple[str | tuple[int, tuple[int, ...]], ...] = ("-", (0, (5, 2)), (0, (1, 1.4)), (0, (6, 2, 1, 2)))  # type: ignore[assignment]
_SHADES = ("#9aa1ab", "#7a828e", "#565d68", INK)  # from the oldest to the newest
_LINE = 13.0  # points between two names
_STEP, _WAITING, _HANDS_ON = 1.6, 0.9, 2.6  # points of a line: between two screens, and on one


def draw_timetable(timetable: Timetable, title: str, ending: str) -> bytes:
    """The figure as ``svg``, ``png`` (1280 pixels wide) or ``pdf``. title: what is compared."""
    timetable, title = readable(timetable), readable(title)
    rows = max(len(timetable.stops), 1)
    height = max(_TOP + _ROW * rows, _TOP + _LINE * (len(timetable.runs) + 1)) + _BOTTOM
    with new_sheet(height) as sheet:
        sheet.heading(
            title,
            "Time on the clock from power-on, across; screens downwards. Thin: waiting; red: in vain; dots: a cut.",
        )
        _write_axes(sheet, timetable, rows)
        for line in timetable.runs:
            _draw_run(sheet, line, timetable)
        _write_names(sheet, timetable)
        return save(sheet.figure, ending, title, describe_timetable(timetable))


def describe_timetable(timetable: Timetable) -> str:
    """The picture in words."""
    lines = [f"{line.name} took {show_duration(line.total)}" for line in timetable.runs]
    return "Runs as lines that fall through the screens of the installer: " + "; ".join(lines) + "."


def _x(seconds: float, timetable: Timetable) -> float:
    """Where a moment stands."""
    left, right = MARGIN + _TITLES, WIDTH - MARGIN - _NAMES
    return left + (right - left) * seconds / max(timetable.length, 1.0)


def _y(stop: int) -> float:
    return _TOP + _ROW * (stop + 0.5)


def _write_axes(sheet: Sheet, timetable: Timetable, rows: int) -> None:
    bottom = _TOP + _ROW * rows
    for moment in round_moments(timetable.length, 8):
        x = _x(moment, timetable)
        sheet.line([x, x], [_TOP, bottom], color=FAINT, linewidth=0.8, zorder=0)
        sheet.text(x, _TOP - 10, show_moment(moment), SMALL, ha="center", color=SOFT)
    for stop, title in enumerate(timetable.stops):
        sheet.line([MARGIN + _TITLES, WIDTH - MARGIN - _NAMES], [_y(stop)] * 2, color=FAINT, linewidth=0.6, zorder=0)
        sheet.text(MARGIN, _y(stop), sheet.fitting(title, LABEL, _TITLES - 12), LABEL)


def _look(line: RunLine, timetable: Timetable) -> dict[str, object]:
    """Shade and stroke: the newest release is darkest; runs of one release differ by their strokes."""
    sides = max(len(timetable.sides) - 1, 1)
    shade = _SHADES[round(line.side / sides * (len(_SHADES) - 1))] if len(timetable.sides) > 1 else INK
    names = [other.name for other in timetable.runs if other.side == line.side]
    return {"color": shade, "linestyle": _STROKES[names.index(line.name) % len(_STROKES)]}


def _draw_run(sheet: Sheet, line: RunLine, timetable: Timetable) -> None:
    """A run. Pieces that look the same are one line with gaps, which is drawn many times faster."""
    pieces: dict[tuple[float, bool], tuple[list[float], list[float]]] = {}
    before: tuple[float, float, bool] | None = None
    for leg in line.legs:
        y = _y(leg.stop)
        start, end = _x(leg.start, timetable), _x(leg.end, timetable)
        if before is not None and before[2] == leg.failed:
            _add(pieces, (_STEP, leg.failed), (before[0], start), (before[1], y))
        _add(pieces, (_WAITING if leg.waiting else _HANDS_ON, leg.failed), (start, end), (y, y))
        if leg.fade > leg.end:
            sheet.line([end, _x(leg.fade, timetable)], [y, y], linewidth=_WAITING, linestyle=(0, (1, 2)), color=SOFT)
        if leg.torn:
            sheet.text(end, y - 6, "≈", LABEL, ha="center", fontweight="bold")
        before = _x(leg.fade, timetable), y, leg.failed
    look = _look(line, timetable)
    for (thickness, failed), (xs, ys) in pieces.items():
        sheet.line(xs, ys, linewidth=thickness, zorder=3, **(look | {"color": WORSE} if failed else look))


def _add(
    pieces: dict[tuple[float, bool], tuple[list[float], list[float]]],
    kind: tuple[float, bool],
    across: tuple[float, float],
    down: tuple[float, float],
) -> None:
    """A piece of a line, and a gap after it."""
    xs, ys = pieces.setdefault(kind, ([], []))
    xs += [*across, nan]
    ys += [*down, nan]


def _write_names(sheet: Sheet, timetable: Timetable) -> None:
    """The names in a column at the right, each as near to its line's end as the others let it, and joined to it."""
    lines = sorted((line for line in timetable.runs if line.legs), key=_end)  # so that no two lines cross
    ends = [_y(line.legs[-1].stop) for line in lines]
    floor = _TOP + _LINE / 2
    places = _within(spread_out(ends, _LINE), floor, sheet.height - _BOTTOM)
    left = WIDTH - MARGIN - _NAMES
    for line, end, place in zip(lines, ends, places, strict=True):
        x = _x(line.legs[-1].fade, timetable)
        look = _look(line, timetable)
        sheet.line([x, left + 8, left + 20], [end, place, place], color="#c5c9ce", linewidth=0.7, zorder=1)
        sheet.line([left + 20, left + 42], [place] * 2, linewidth=2.2, **look)
        room = _NAMES - 52 - sheet.measure(show_duration(line.total), SMALL, bold=True)
        sheet.text(left + 47, place, sheet.fitting(line.name, SMALL, room), SMALL)
        sheet.text(WIDTH - MARGIN, place, show_duration(line.total), SMALL, ha="right", fontweight="bold")


def _end(line: RunLine) -> tuple[int, float]:
    """Where a line ends: how far down, and how far to the right."""
    return line.legs[-1].stop, line.legs[-1].fade


def _within(places: Sequence[float], top: float, bottom: float) -> list[float]:
    """The places moved up together so that the last stays on the sheet; closer only where they cannot be kept apart."""
    over = max(max(places, default=0.0) - bottom, 0.0)
    moved = sorted(place - over for place in places)
    for index in range(len(moved)):
        moved[index] = max(moved[index], top + index * _LINE)
    order = sorted(range(len(places)), key=lambda index: places[index])
    kept = [0.0] * len(places)
    for place, index in zip(moved, order, strict=True):
        kept[index] = place
    return kept
