"""One figure along the releases of each line: the median, the least and the most of the runs, as a panel a line."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.ledgers.trend import Trend
from metrograph.log.lexicon import Unit
from metrograph.measures.show import show_figure, show_number
from metrograph.measures.spread import Spread
from metrograph.present.charts.layouts.axis import round_moments
from metrograph.present.charts.sheet import FAINT, INK, LABEL, MARGIN, SMALL, SOFT, WIDTH, Sheet, new_sheet, save
from metrograph.present.safe import readable

_TOP, _ROW, _HEAD, _BOTTOM = 70.0, 24.0, 28.0, 22.0  # points: the sheet's head, a release, a panel's head, its foot
_NAMES, _VALUES = 210.0, 150.0  # points for the releases' names, and for their figures
_ACCENT = "#285cbe"


def draw_trend(trends: Sequence[Trend], title: str, ending: str) -> bytes:
    """The figure as ``svg``, ``png`` (1280 pixels wide) or ``pdf``; oldest releases first in each panel."""
    trends, title = readable(tuple(trends)), readable(title)
    height = _TOP + sum(_HEAD + _ROW * len(trend.releases) + _BOTTOM for trend in trends) + 10
    most = max((_high(point) for trend in trends for point in trend.points if point), default=1.0) or 1.0
    with new_sheet(height) as sheet:
        sheet.heading(
            title,
            "Dot: median of a release's runs, a stroke where it lies between bounds; bar: their least to their most.",
        )
        y = _TOP
        for trend in trends:
            _draw_panel(sheet, trend, y, most)
            y += _HEAD + _ROW * len(trend.releases) + _BOTTOM
        return save(sheet.figure, ending, title, describe_trends(trends))


def describe_trends(trends: Sequence[Trend]) -> str:
    """The picture in words."""
    lines = [f"{release} {show_number(point.median.low, trend.unit, trend.name)}" for trend in trends
            for release, point in zip(trend.releases, trend.points, strict=True) if point]  # fmt: skip
    return (trends[0].words if trends else "Nothing") + ": " + "; ".join(lines) + "."


def _x(value: float, most: float) -> float:
    left, right = MARGIN + _NAMES, WIDTH - MARGIN - _VALUES
    return left + (right - left) * value / most


def _high(point: Spread) -> float:
    return max(point.median.low, point.median.high or 0.0) if point.most is None else point.most


def _draw_panel(sheet: Sheet, trend: Trend, top: float, most: float) -> None:
    first = top + _HEAD
    bottom = first + _ROW * len(trend.releases)
    sheet.text(
        MARGIN,
        top + 10,
        sheet.fitting(trend.line or trend.words, LABEL, _NAMES + 200, bold=True),
        LABEL,
        fontweight="bold",
    )
    for value in _round_values(most, trend.unit):
        x = _x(value, most)
        sheet.line([x, x], [first - 4, bottom], color=FAINT, linewidth=0.8, zorder=0)
        sheet.text(x, bottom + 8, show_number(value, trend.unit, trend.name), SMALL, ha="center", color=SOFT)
    points = [
        (_x(point.median.low, most), first + _ROW * (row + 0.5)) for row, point in enumerate(trend.points) if point
    ]
    sheet.line([x for x, _ in points], [y for _, y in points], color="#c5c9ce", linewidth=1.2, zorder=1)
    for row, (release, point) in enumerate(zip(trend.releases, trend.points, strict=True)):
        y = first + _ROW * (row + 0.5)
        sheet.text(MARGIN, y, sheet.fitting(release, LABEL, _NAMES - 12), LABEL)
        if point is not None:
            _draw_point(sheet, point, y, most, trend)
        else:
            sheet.text(WIDTH - MARGIN, y, "not measured", SMALL, ha="right", color=SOFT)


def _draw_point(sheet: Sheet, point: Spread, y: float, most: float, trend: Trend) -> None:
    sheet.line([_x(point.least, most), _x(_high(point), most)], [y, y], color=_ACCENT, linewidth=6, alpha=0.3, zorder=2)
    middle = point.median
    if middle.exact:
        sheet.line([_x(middle.low, most)], [y], marker="o", markersize=7, color=_ACCENT, zorder=3)
    else:
        end = _high(point) if middle.high is None else middle.high
        sheet.line([_x(middle.low, most), _x(end, most)], [y, y], color=_ACCENT, linewidth=3, alpha=0.8, zorder=3)
    if middle.high is None:
        sheet.text(_x(_high(point), most) + 4, y, "≈", LABEL, fontweight="bold")
    value = show_figure(point.median, trend.unit, trend.name)
    runs = f"{point.runs} run{'s' * (point.runs != 1)}"
    sheet.text(
        WIDTH - MARGIN - 54,
        y,
        sheet.fitting(value, LABEL, _VALUES - 66, bold=True),
        LABEL,
        ha="right",
        fontweight="bold",
        color=INK,
    )
    sheet.text(WIDTH - MARGIN, y, runs, SMALL, ha="right", color=SOFT)


def _round_values(most: float, unit: str) -> list[float]:
    """Round values for the axis, about five of them."""
    from matplotlib.ticker import MaxNLocator

    if unit == Unit.SECONDS:
        return round_moments(most, 5)
    scale = 1024.0 ** max(0, (int(most).bit_length() - 1) // 10) if unit == Unit.BYTES else 1.0
    values = MaxNLocator(5, steps=[1, 2, 5, 10]).tick_values(0, most / scale)
    return [float(value) * scale for value in values if 0 <= value <= most / scale]
