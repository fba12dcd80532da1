"""Effort, trends and kinship as reports: figures by release, along a line, and how alike installers are as a matrix."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from metrograph.compare.kinship import Kinship
from metrograph.ledgers.readings import without_swap_files
from metrograph.ledgers.trend import EffortLedger, Trend
from metrograph.log.quantities.ranges import Range
from metrograph.measures.catalogue import EFFORT, MEASURES
from metrograph.measures.reducing import Spread
from metrograph.measures.show import show_figure
from metrograph.show.report import model as m
from metrograph.show.report.ledger_reports import left_out, under
from metrograph.words.figure_words import judged_difference, show_kinship, show_spread, span_of
from metrograph.words.grammar import NOTHING

_ROOM = m.Room(fixed=28, side=24)


def effort_report(ledger: EffortLedger) -> m.Report:
    """A table for each line of releases."""
    parts: list[m.Section] = []
    for line in dict.fromkeys(ledger.lines):
        places = [place for place, name in enumerate(ledger.lines) if name == line]
        releases, figures = [ledger.releases[at] for at in places], [ledger.figures[at] for at in places]
        parts += m.section(f"Effort {line}".strip(), under(line, effort_table(releases, figures, _ROOM)))
    return m.Report(parts=(*parts, *left_out(ledger.selections.values())), empty="there are no runs")


def effort_table(
    releases: Sequence[str], figures: Sequence[Mapping[str, Spread]], room: m.Room | None = None
) -> m.Table:
    """What an installation asks of a person, a row a figure; the least and the most of the runs in brackets."""
    columns = [m.Column("median of runs", gives=True)]
    columns += [m.Column(name, right=True, gives=True, side=True) for name in releases]
    rows = tuple(_row(name, figures) for name in EFFORT if any(name in release for release in figures))
    return m.Table(tuple(columns), rows, room)


def _row(name: str, figures: Sequence[Mapping[str, Spread]]) -> m.Row:
    measure = MEASURES[name]
    label = "  " * (measure.part_of is not None) + measure.words
    spreads = [release.get(name) for release in figures]
    cells = [
        m.Cell(show_spread(value, name, spread=True), value=value.median.low if value else None) for value in spreads
    ]
    return m.Row((m.Cell(label), *cells))


_TO_THE_END = "This goes on to wherever each record ends, so that releases are not held against each other by it."


def trends_report(trends: Sequence[Trend]) -> m.Report:
    """A table for each line, with a bar to scale for each release and what it has more or less than the one before."""
    parts = [part for trend in trends for part in m.section(f"{trend.words}: {trend.line}".rstrip(": "), _trend(trend))]
    notes = left_out(trend.selection for trend in trends)
    alone = () if all(trend.is_compared for trend in trends) else m.section("", m.Lines((_TO_THE_END,)))
    return m.Report(parts=(*parts, *alone, *notes), empty="no run has that figure")


def _trend(trend: Trend) -> m.Table:
    columns = [m.Column("release", gives=True), m.Column("runs", right=True), m.Column("median", right=True)]
    columns += [m.Column("least–most", right=True)]
    if any(trend.swap_files) and trend.across:
        columns += [m.Column("its swap file", right=True), m.Column("", right=True)]
    elif trend.across:
        columns.append(m.Column("", right=True))
    elif any(trend.swap_files):
        columns += [m.Column("its swap file", right=True), m.Column("without it, to the one before", right=True)]
    else:
        columns.append(m.Column("to the one before", right=True))
    columns.append(m.Column("", bar=True))
    most = max((_most(point) for point in trend.points if point is not None), default=0.0)
    rows: list[m.Row] = []
    before: int | None = None
    for place, (release, point) in enumerate(zip(trend.releases, trend.points, strict=True)):
        rows.append(m.Row((*m.texts(release, *_cells(place, before, trend)), m.Cell("", bar=_bar(point, most)))))
        before = before if point is None else place
    return m.Table(tuple(columns), tuple(rows))


def _cells(place: int, before: int | None, trend: Trend) -> list[str]:
    point, file = trend.points[place], trend.swap_files[place] if trend.swap_files else None
    shown = NOTHING if file is None else show_figure(Range(file, file), trend.unit) if file else "none"
    swap = [shown] * any(trend.swap_files)
    if point is None:
        return ["0", NOTHING, "", *swap, ""]
    span = span_of(point, trend.unit, trend.name) if point.runs > 1 else ""
    median = show_figure(point.median, trend.unit, trend.name)
    return [str(point.runs), median, span, *swap, _change(before, place, trend)]


def _change(before: int | None, place: int, trend: Trend) -> str:
    """How much more than the last release that has it, files for swapping left out."""
    if before is None or not trend.is_compared or trend.across:
        return ""
    values = without_swap_files([point.median if point else None for point in trend.points], trend.swap_files)
    was, now = values[before], values[place]
    return "" if was is None or now is None else judged_difference(was, now, trend.unit, trend.name, trend.better)


def _most(point: Spread) -> float:
    return point.median.low if point.most is None else point.most


def _bar(point: Spread | None, most: float) -> tuple[float, float] | None:
    """The median from nothing, and a thin line on to the most of the runs."""
    if point is None or most <= 0:
        return None
    return point.median.low / most, _most(point) / most


_NO_ROOM = "There is no room for the matrix; --json has it."
_GAP, _VALUE = 2, 6  # columns between two columns of a table, and of a value with its shade


def kinship_report(kinship: Kinship) -> m.Report:
    """The matrix, its columns numbered like its rows; of too many releases for the room, the families alone."""
    families = tuple(_family(number, family) for number, family in enumerate(kinship.families, 1))
    return m.Report(
        parts=(*m.section("Kinship, 0 to 1", _matrix(kinship)), *m.section("Families", m.Lines(families))),
        empty="there are no runs",
    )


def _matrix(kinship: Kinship) -> m.Table:
    columns = [m.Column("", right=True), m.Column("release", gives=True)]
    columns += [m.Column(str(number), right=True, side=True) for number in range(1, len(kinship.releases) + 1)]
    rows = tuple(
        m.Row((*m.texts(str(number), release), *map(_kinship_cell, values)))
        for number, (release, values) in enumerate(zip(kinship.releases, kinship.matrix, strict=True), 1)
    )
    names = max(map(len, kinship.releases), default=0) + len(str(len(rows))) + _GAP
    room = m.Room(fixed=names, side=_VALUE + _GAP, least=0, whole=True, note=_NO_ROOM)
    return m.Table(tuple(columns), rows, room)


def _kinship_cell(value: float) -> m.Cell:
    return m.Cell(show_kinship(value), value=value, exact=f"{value:.4f}", shade=value)


def _family(number: int, family: tuple[str, ...]) -> str:
    if len(family) == 1:
        return f"{number}. {family[0]}, like no other"
    return f"{number}. {', '.join(family)}"
