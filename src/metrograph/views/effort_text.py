"""Effort and trends in the terminal: figures by release, and one figure along the releases of a line."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from metrograph.language.sizes import show_size
from metrograph.model.figures import EffortLedger, Spread
from metrograph.model.kinship import Trend
from metrograph.views.figures_text import NOTHING, render_effort, show_figure, show_number
from metrograph.views.paper import Paper
from metrograph.views.safe import readable
from metrograph.views.sentences import tell_difference
from metrograph.views.table import Column, render_lines, render_table

_LEFT, _ACROSS = 28, 24  # columns of what is no release, and of a release
_WIDEST_BAR = 30


def render_effort_ledger(ledger: EffortLedger, paper: Paper) -> str:
    """A table for each line of releases; of too many for the paper, the latest."""
    ledger = readable(msgspec.structs.replace(ledger, runs=()))  # of ten thousand runs, none is shown here
    most = 10**6 if paper.piped else max((paper.width - _LEFT) // _ACROSS, 2)
    parts = []
    for line in dict.fromkeys(ledger.lines):
        own = [place for place, name in enumerate(ledger.lines) if name == line]
        shown = own[-most:]
        table = render_effort([ledger.releases[at] for at in shown], [ledger.figures[at] for at in shown], paper, line)
        left = f"{len(own) - len(shown)} earlier releases are left out; --json has all."
        parts.append(table + (render_lines([left], paper) if len(shown) < len(own) else ""))
    return paper.finish("\n".join(parts) if parts else "there are no runs\n")


def render_trends(trends: Sequence[Trend], paper: Paper) -> str:
    """A table for each line, with a bar to scale for each release and what it has more or less than the one before."""
    trends = readable(tuple(trends))
    return paper.finish("\n".join(_trend(trend, paper) for trend in trends) or "no run has that figure\n")


def _trend(trend: Trend, paper: Paper) -> str:
    columns = [Column("release", gives=True), Column("runs", right=True), Column("median", right=True)]
    columns += [Column("least–most", right=True), Column("to the one before", right=True)]
    columns += [] if paper.piped else [Column("")]
    most = max((_most(each) for each in trend.points if each is not None), default=0.0)
    room = min(_WIDEST_BAR, max(paper.width - 80, 8))
    rows, before = [], None
    for release, point in zip(trend.releases, trend.points, strict=True):
        cells = [release, *_cells(point, before, trend)]
        rows.append(cells if paper.piped else [*cells, _bar(point, most, room, paper)])
        before = point or before
    return f"{paper.heading(f'{trend.words}: {trend.line}'.rstrip(': '))}\n{render_table(columns, rows, paper)}"


def _cells(point: Spread | None, before: Spread | None, trend: Trend) -> list[str]:
    if point is None:
        return ["0", NOTHING, "", ""]
    span = "" if point.runs < 2 else f"{number_of(point.least, trend.unit)}–{_open(point.most, trend.unit)}"
    middle = show_figure(point.median, trend.unit) if trend.unit == "s" else number_of(point.median.low, trend.unit)
    return [str(point.runs), middle, span, _change(before, point, trend)]


def _change(before: Spread | None, point: Spread, trend: Trend) -> str:
    """How much more than the last release that has it; nothing where a cut leaves that open."""
    if before is None or not before.median.exact or not point.median.exact:
        return ""
    change = point.median.low - before.median.low
    if trend.unit in {"s", "bytes"}:
        said = tell_difference(change, trend.unit)
    else:
        sign = "+" if change > 0 else "−"
        said = f"{sign}{number_of(abs(change), trend.unit)}" if change else "same"
    word = (
        ""
        if not change or trend.better is None
        else " better"
        if (change < 0) == (trend.better == "less")
        else " worse"
    )
    return said + word


def number_of(value: float, unit: str) -> str:
    """A figure with its unit."""
    if unit == "bytes":
        return show_size(round(value))
    return show_number(value, unit) if unit in {"s", "%"} else f"{value:g} {unit}".strip()


def _open(value: float | None, unit: str) -> str:
    return "?" if value is None else number_of(value, unit)


def _most(point: Spread) -> float:
    return point.median.low if point.most is None else point.most


def _bar(point: Spread | None, most: float, room: int, paper: Paper) -> str:
    """The median to scale from nothing, and a thin line on to the most of the runs."""
    if point is None or most <= 0:
        return ""
    full = round(room * point.median.low / most)
    rest = round(room * _most(point) / most) - full
    return paper.ink("█" * full) + paper.ink("─" * rest, dim=True)
