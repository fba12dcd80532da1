"""The timetable: time across, screens downwards; each run is a line that falls through its own screens as it advances.

Flat is waiting or thinking, steep is quick, a rise is going back; where two lines cross, one run overtakes the other.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import nan

from metrograph.log.quantities.times import show_duration, show_moment
from metrograph.show.charts.layouts.axis import round_moments
from metrograph.show.charts.layouts.timetable_layout import MOST_SIDES, RunLine, Timetable
from metrograph.show.charts.sheets.keys import row_of_keys
from metrograph.show.charts.sheets.lettering import LABEL, SMALL, fitting, measure
from metrograph.show.charts.sheets.paper import Paper
from metrograph.show.charts.sheets.sheet import Sheet, new_sheet, save
from metrograph.show.palette import LINES, lifted
from metrograph.show.safe import readable

_HEAD, _ROW, _BELOW = 34.0, 26.0, 76.0  # pixels: for the moments, of a stop, for the key
_TITLES, _FEW_TITLES = 250.0, 130.0  # for the stops' titles, on a wide sheet and on a narrow one
_NAMES, _FEW_NAMES = 200.0, 96.0  # for the names at the lines' ends
_LINE = 16.0  # between two names
_STROKES: tuple[str | tuple[int, tuple[int, ...]], ...] = ("-", (0, (5, 2)), (0, (1, 1.4)), (0, (6, 2, 1, 2)))  # type: ignore[assignment]
_STEP, _WAITING, _HANDS_ON = 1.8, 1.1, 3.2  # of a line: between two screens, and on one


def draw_timetable(timetable: Timetable, paper: Paper, ending: str) -> bytes:
    """The figure as ``svg``, ``png`` or ``pdf``."""
    timetable, paper = readable(timetable), readable(paper)
    rows = max(len(timetable.stops) + 1, 1)
    with new_sheet(paper, _HEAD + max(_ROW * rows, _LINE * (len(timetable.runs) + 1)) + _BELOW) as sheet:
        _TimetableDrawing(sheet, timetable).draw()
        return save(sheet, ending, paper.title, describe_timetable(timetable))


def describe_timetable(timetable: Timetable) -> str:
    """The chart in words."""
    lines = [f"{line.name} took {show_duration(line.total)}" for line in timetable.runs]
    return "Runs as lines that fall through the screens of the installer: " + "; ".join(lines) + "."


class _TimetableDrawing:
    """Moments across the top, the common stops at the left, lines, and names at their ends."""

    def __init__(self, sheet: Sheet, timetable: Timetable) -> None:
        self.sheet, self.timetable = sheet, timetable
        narrow = sheet.paper.narrow
        self.left = sheet.left + (_FEW_TITLES if narrow else _TITLES)
        self.right = sheet.right - (_FEW_NAMES if narrow else _NAMES)
        self.top, self.bottom = sheet.top + _HEAD, sheet.height - _BELOW

    def x(self, seconds: float) -> float:
        """Where a moment stands."""
        return self.left + (self.right - self.left) * seconds / max(self.timetable.length, 1.0)

    def y(self, depth: float) -> float:
        """Where so many stops down are."""
        return self.top + _ROW * (depth + 1)

    def draw(self) -> None:
        self.axes()
        for line in self.timetable.runs:
            self.run(line)
        self.names()
        words = ["thick: hands-on, thin: waiting", "a rise: going back"]
        legs = [leg for line in self.timetable.runs for leg in line.legs]
        words += ["red: an attempt that failed"] * any(leg.failed for leg in legs)
        words += ["dotted: a cut, from its least to its most"] * any(leg.fade > leg.end for leg in legs)
        words += ["≈: a cut of unknown length"] * any(leg.torn for leg in legs)
        words += [f"{self.timetable.left_out} more left out: {MOST_SIDES} can be told apart"] * bool(
            self.timetable.left_out
        )
        row_of_keys(self.sheet, words, self.sheet.height - _BELOW + 24, self.sheet.left)

    def axes(self) -> None:
        sheet = self.sheet
        for moment in round_moments(self.timetable.length, 4 if sheet.paper.narrow else 8):
            x = self.x(moment)
            sheet.line([x, x], [self.top, self.bottom], color=sheet.colours.faint, zorder=0)
            sheet.put([(x, self.top - 12, "center")], show_moment(moment), SMALL, color=sheet.colours.soft)
        for stop, title in enumerate(self.timetable.stops):
            y = self.y(stop)
            sheet.line([self.left, self.right], [y, y], color=sheet.colours.faint, zorder=0)
            sheet.text(sheet.left, y, fitting(title, LABEL, self.left - sheet.left - 12), LABEL)

    def look(self, line: RunLine) -> dict[str, object]:
        """Hue by release, stroke by run."""
        names = [other.name for other in self.timetable.runs if other.side == line.side]
        hue = LINES[line.side % len(LINES)]
        hue = lifted(hue, self.sheet.colours.paper) if self.sheet.paper.dark else hue
        return {"color": hue, "linestyle": _STROKES[names.index(line.name) % len(_STROKES)]}

    def run(self, line: RunLine) -> None:
        """A run. Pieces that look the same are one line with gaps, which is drawn many times faster."""
        pieces: dict[tuple[float, bool], tuple[list[float], list[float]]] = {}
        before: tuple[float, float, bool] | None = None
        for leg in line.legs:
            y, start, end = self.y(leg.depth), self.x(leg.start), self.x(leg.end)
            if before is not None and before[2] == leg.failed:
                _add(pieces, (_STEP, leg.failed), (before[0], start), (before[1], y))
            _add(pieces, (_WAITING if leg.waiting else _HANDS_ON, leg.failed), (start, end), (y, y))
            if leg.fade > leg.end:
                style = {"linewidth": _WAITING, "linestyle": (0, (1, 2)), "color": self.sheet.colours.soft}
                self.sheet.line([end, self.x(leg.fade)], [y, y], **style)
            if leg.torn:
                self.sheet.put([(end, y - 9, "center"), (end, y + 9, "center")], "≈", LABEL, fontweight="bold")
            before = self.x(leg.fade), y, leg.failed
        look = self.look(line)
        for (thickness, failed), (xs, ys) in pieces.items():
            worse = {"color": self.sheet.colours.worse} if failed else {}
            self.sheet.line(xs, ys, linewidth=thickness, zorder=3, **(look | worse))

    def names(self) -> None:
        """The names in a column at the right, each as near to its line's end as the others let it, and joined to it."""
        sheet = self.sheet
        lines = sorted((line for line in self.timetable.runs if line.legs), key=_end)  # so that no two lines cross
        ends = [self.y(line.legs[-1].depth) for line in lines]
        for line, end, place in zip(lines, ends, _apart(ends, self.top, self.bottom), strict=True):
            x, look = self.x(line.legs[-1].fade), self.look(line)
            sheet.line([x, self.right + 8, self.right + 18], [end, place, place], color=sheet.colours.faint, zorder=1)
            sheet.line([self.right + 18, self.right + 34], [place] * 2, linewidth=2.2, **look)
            total = show_duration(line.total)
            room = sheet.right - self.right - 46 - measure(total, SMALL, bold=True)
            if room > 24:
                sheet.text(self.right + 39, place, fitting(line.name, SMALL, room), SMALL)
            sheet.text(sheet.right, place, total, SMALL, ha="right", fontweight="bold")


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


def _end(line: RunLine) -> tuple[float, float]:
    """Where a line ends: how far down, and how far to the right."""
    return line.legs[-1].depth, line.legs[-1].fade


def _apart(ends: Sequence[float], top: float, bottom: float) -> list[float]:
    """Places in the order of some ends, each at its own or as little below as keeps them apart."""
    places: list[float] = []
    for end in ends:
        places.append(max(end, places[-1] + _LINE if places else top + _LINE / 2))
    over = max(places[-1] - bottom, 0.0) if places else 0.0
    return [max(place - over, top + _LINE / 2 + _LINE * number) for number, place in enumerate(places)]
