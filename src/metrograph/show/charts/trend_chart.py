"""The trend: one figure along the releases of each line, at the days on which they came out, a dot for every run."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta

from metrograph.ledgers.trend import Trend
from metrograph.log.lexicon import Unit
from metrograph.measures.reducing import Spread
from metrograph.measures.show import show_figure, show_number
from metrograph.show.charts.layouts.axis import round_moments
from metrograph.show.charts.sheets.keys import row_of_keys
from metrograph.show.charts.sheets.lettering import LABEL, SMALL, fitting
from metrograph.show.charts.sheets.paper import Paper
from metrograph.show.charts.sheets.sheet import Sheet, new_sheet, save
from metrograph.show.palette import LINES, lifted
from metrograph.show.safe import readable

_LEFT, _RIGHT = 84.0, 150.0  # pixels for the axis, and for the names at the lines' ends
_TALL, _SHORT = 470.0, 340.0  # pixels of the field, on a wide sheet and on a narrow one
_BELOW = 92.0  # below it: days, and the key
_DOT = 8.0  # pixels across: seen at the width of a column, and ten of them still apart
_MARKERS = ("o", "s", "^", "D", "v", "P")
_TICK = 9.0  # half the width of a median


def draw_trend(trends: Sequence[Trend], paper: Paper, ending: str) -> bytes:
    """The figure as ``svg``, ``png`` or ``pdf``."""
    trends, paper = readable(tuple(trends)), readable(paper)
    with new_sheet(paper, (_SHORT if paper.narrow else _TALL) + _BELOW) as sheet:
        _TrendDrawing(sheet, trends).draw()
        return save(sheet, ending, paper.title, describe_trends(trends))


def describe_trends(trends: Sequence[Trend]) -> str:
    """The chart in words."""
    lines = [
        f"{trend.line} {release} {show_number(point.median.low, trend.unit, trend.name)}".strip()
        for trend in trends
        for release, point in zip(trend.releases, trend.points, strict=True)
        if point
    ]
    return (trends[0].words if trends else "Nothing") + ": " + "; ".join(lines) + "."


class _TrendDrawing:
    """Days across, the figure upwards from nothing."""

    def __init__(self, sheet: Sheet, trends: Sequence[Trend]) -> None:
        self.sheet, self.trends = sheet, trends
        narrow = sheet.paper.narrow
        self.left, self.right = sheet.left + (56 if narrow else _LEFT), sheet.right - (90 if narrow else _RIGHT)
        self.top, self.bottom = sheet.top + 24, sheet.top + (_SHORT if narrow else _TALL)
        highs = [_high(point) for trend in trends for point in trend.points if point]
        highs += [_most(dot.value.low, dot.value.high) for trend in trends for dots in trend.runs for dot in dots]
        self.most = max([*highs, 0.0]) * 1.08 or 1.0
        self.days = _days(trends)
        ends = [day for days in self.days for day in days]
        self.first, self.last = min(ends, default=0.0), max(ends, default=1.0)

    def x(self, day: float) -> float:
        """Where a day stands; the middle where there is only one."""
        if self.last <= self.first:
            return (self.left + self.right) / 2
        return self.left + 30 + (self.right - self.left - 60) * (day - self.first) / (self.last - self.first)

    def y(self, value: float) -> float:
        """Where an amount stands."""
        return self.bottom - (self.bottom - self.top) * min(value / self.most, 1.0)

    def draw(self) -> None:
        self.axes()
        for place, trend in enumerate(self.trends):
            self.line(trend, place)
        self.key()

    def axes(self) -> None:
        sheet, trend = self.sheet, self.trends[0] if self.trends else None
        if trend is None:
            sheet.text(sheet.left, self.top, "No run has this figure.", LABEL, color=sheet.colours.soft)
            return
        for value in round_values(self.most, trend.unit):
            y = self.y(value)
            sheet.line([self.left, self.right], [y, y], color=sheet.colours.faint, zorder=0)
            words = show_number(value, trend.unit, trend.name)
            sheet.put([(self.left - 8, y, "right")], words, SMALL, color=sheet.colours.soft)
        sheet.line([self.left, self.right], [self.bottom] * 2, color=sheet.colours.soft, zorder=1)
        if all(trend.days and all(trend.days) for trend in self.trends):
            self.months()

    def months(self) -> None:
        """The quarters between the first day and the last, the years below them."""
        sheet = self.sheet
        first, last = date.fromordinal(round(self.first)), date.fromordinal(round(self.last))
        months = max((last.year - first.year) * 12 + last.month - first.month, 1)
        step = next(
            (each for each in (1, 3, 6, 12, 24, 60, 120) if months / each <= (5 if sheet.paper.narrow else 9)), 240
        )
        year = None
        for count in range(months + 2):
            month = first.year * 12 + first.month - 1 + count
            day = date(month // 12, month % 12 + 1, 1)
            x = self.x(day.toordinal())
            if month % step or not self.left <= x <= self.right:
                continue
            sheet.line([x, x], [self.bottom, self.bottom + 5], color=sheet.colours.soft)
            shown = f"{day:%b}" if step < 12 else ""
            sheet.put([(x, self.bottom + 15, "center")], shown or f"{day.year}", SMALL, color=sheet.colours.soft)
            if step < 12 and day.year != year:
                year = day.year
                sheet.put([(x, self.bottom + 30, "center")], str(year), SMALL, fontweight="bold")

    def line(self, trend: Trend, place: int) -> None:
        sheet = self.sheet
        hue = LINES[place % len(LINES)]
        hue = lifted(hue, sheet.colours.paper) if sheet.paper.dark else hue
        marker = _MARKERS[place % len(_MARKERS)]
        points = [(self.x(day), point) for day, point in zip(self.days[place], trend.points, strict=True) if point]
        sheet.line(
            [x for x, _ in points], [self.y(point.median.low) for _, point in points], color=hue, linewidth=2, zorder=3
        )
        every = [dots for dots, point in zip(trend.runs, trend.points, strict=False) if point]
        for (x, point), runs in zip(points, [*every, *[()] * (len(points) - len(every))], strict=True):
            self.median(x, point, hue)
            for dot in runs:
                self.dot(x, dot.value.low, dot.value.high, marker, hue, hue if dot.counted else sheet.colours.paper)
                if not dot.counted:
                    y = self.y(dot.value.low)
                    sheet.put([(x - 10, y, "right"), (x + 10, y, "left")], dot.rig, SMALL, color=hue)
        self.values(trend, points, hue)

    def dot(self, x: float, low: float, high: float | None, marker: str, hue: str, face: str) -> None:
        y, sheet = self.y(low), self.sheet
        top = self.y(high if high is not None else self.most)
        if top < y - 1:  # between bounds: a stroke from the one to the other
            style = "-" if high is not None else (0, (2, 2))
            sheet.line([x, x], [y, top], color=hue, linewidth=3, alpha=0.6, linestyle=style, zorder=4)
        else:
            sheet.line(
                [x], [y], marker=marker, markersize=_DOT * 0.72, markerfacecolor=face, markeredgecolor=hue,
                markeredgewidth=1.1, linestyle="none", zorder=5,
            )  # fmt: skip
        sheet.take((x - 5, top - 5, x + 5, y + 5))

    def median(self, x: float, point: Spread, hue: str) -> None:
        y = self.y(point.median.low)
        self.sheet.line([x - _TICK, x + _TICK], [y, y], color=hue, linewidth=2.2, zorder=4)
        self.sheet.take((x - _TICK, y - 4, x + _TICK, y + 4))

    def values(self, trend: Trend, points: Sequence[tuple[float, Spread]], hue: str) -> None:
        """Release and figure below its lowest dot, or above its highest; the line's name at its end."""
        sheet = self.sheet
        names = [name for name, point in zip(trend.releases, trend.points, strict=True) if point]
        for number, ((x, point), release) in enumerate(zip(points, names, strict=True)):
            value, name = show_figure(point.median, trend.unit, trend.name), fitting(release, SMALL, 120)
            low, high = self.y(point.least), self.y(_high(point))
            stands = (
                (low + 22, "center", 0), (high - 34, "center", 0), (high - 6, "left", 14), (low - 6, "right", -14),
                (low + 40, "center", 0),
            )  # fmt: skip
            for y, ha, dx in stands:
                boxes = sheet.box(x + dx, y, name, SMALL, ha), sheet.box(x + dx, y + 15, value, LABEL, ha, bold=True)
                if all(map(sheet.is_free, boxes)):
                    sheet.text(x + dx, y, name, SMALL, ha=ha, color=hue)
                    sheet.text(x + dx, y + 15, value, LABEL, ha=ha, color=hue, fontweight="bold")
                    break
            if number == len(points) - 1 and trend.line:
                line = fitting(trend.line, LABEL, sheet.right - x - 18, bold=True)
                y = self.y(point.median.low)
                places = [(x + 16, y + step, "left") for step in (0, -16, 16, -32, 32, 48, -48)]
                sheet.put(places, line, LABEL, color=hue, fontweight="bold")

    def key(self) -> None:
        words = ["line: medians"] if any(sum(map(bool, trend.points)) > 1 for trend in self.trends) else []
        dots = [dot for trend in self.trends for dots in trend.runs for dot in dots]
        words = ["filled: a run", *words] if dots else words
        words += ["hollow: a run on another rig, not in the median"] * any(not dot.counted for dot in dots)
        words += ["stroke: between its bounds"] * any(not dot.value.exact for dot in dots)
        missing = [f"{trend.line} {name}".strip() for trend in self.trends
                   for name, point in zip(trend.releases, trend.points, strict=True) if not point]  # fmt: skip
        words += [f"not measured: {', '.join(missing[:4])}{', ...' * (len(missing) > 4)}"] if missing else []
        row_of_keys(self.sheet, words, self.bottom + 56, self.sheet.left)


def _days(trends: Sequence[Trend]) -> list[list[float]]:
    """Where each release stands: at its day, in the middle of a month or a year that is all that is known.

    Where any has none, all stand one after the other.
    """
    if all(trend.days and all(trend.days) for trend in trends):
        return [[_day(day or "") for day in trend.days] for trend in trends]
    return [[float(place) for place in range(len(trend.releases))] for trend in trends]


def _day(text: str) -> float:
    parts = [int(part) for part in text.split("-")]
    middle = date(parts[0], parts[1] if parts[1:] else 7, parts[2] if parts[2:] else 1)
    return float((middle if parts[2:] else middle + timedelta(days=14 if parts[1:] else 0)).toordinal())


def _most(low: float, high: float | None) -> float:
    return low if high is None else high


def _high(point: Spread) -> float:
    return max(point.median.low, point.median.high or 0.0) if point.most is None else point.most


def round_values(most: float, unit: str) -> list[float]:
    """Round values for the axis, about five of them."""
    from matplotlib.ticker import MaxNLocator

    if unit == Unit.SECONDS:
        return round_moments(most, 5)
    scale = 1024.0 ** max(0, (int(most).bit_length() - 1) // 10) if unit == Unit.BYTES else 1.0
    values = MaxNLocator(5, steps=[1, 2, 5, 10]).tick_values(0, most / scale)
    return [float(value) * scale for value in values if 0 <= value <= most / scale]
