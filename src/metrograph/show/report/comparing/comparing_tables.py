"""The tables of a comparison: its aligned screens, times, readings and trials, release by release."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.compare.flow_records import MOVES, FlowCell, FlowRow
from metrograph.ledgers.comparison import Comparison, SideReading
from metrograph.log.lexicon import Unit
from metrograph.log.quantities.ranges import Range
from metrograph.measures.catalogue import TASK, TIMES, measure_of, words_of
from metrograph.measures.show import show_figure
from metrograph.show.report import model as m
from metrograph.show.report.comparing.change_sections import ends
from metrograph.show.report.ledger_reports import checks_rows, sides
from metrograph.words.caveat_words import how_sure
from metrograph.words.figure_words import (
    duration_and_hands_on,
    duration_or_nothing,
    show_spread,
    signed_difference,
)
from metrograph.words.grammar import NOTHING
from metrograph.words.ledger_words import only_words
from metrograph.words.runs import choice


def screens(comparison: Comparison) -> tuple[m.Section, ...]:
    """The merged flow, a row a screen, with the time that was spent there."""
    columns = (
        m.Column("row", right=True), m.Column("screen", gives=True), m.Column("kind"),
        *sides(comparison.releases, right=True),
    )  # fmt: skip
    moved = {(change.later, change.title) for change in comparison.changes if change.what in MOVES}
    rows = tuple(_screen_row(row, comparison.releases, moved) for row in comparison.rows)
    key = "● all pre-set values kept  ○ one changed or typed  ↷ moved  — no such screen"
    return m.section("Screens, aligned", m.Table(columns, rows, key=key))


def _screen_row(row: FlowRow, releases: Sequence[str], moved: set[tuple[str, str | None]]) -> m.Row:
    """What each release has of a row, and in words its times and answers in all of them."""
    titles = " → ".join(row.titles)
    pairs = list(zip(releases, row.cells, strict=True))
    cells = [_screen_cell(cell, cell is not None and (name, cell.title) in moved) for name, cell in pairs]
    line = "; ".join(f"{name} {_told(cell)}" for name, cell in pairs)
    return m.Row((*m.texts(str(row.number), titles, row.kind), *cells), row.number, f"{titles}: {line}")


def _screen_cell(cell: FlowCell | None, moved: bool) -> m.Cell:
    """The time that was spent there, after a mark when it has moved, and whether all pre-set values were kept."""
    if cell is None:
        return m.Cell(NOTHING)
    changed = any(choice.how != "kept" for choice in cell.choices)
    mark = " ○" if changed else " ●" if cell.choices else "  "
    return m.Cell(
        f"{'↷ ' if moved else ''}{duration_or_nothing(cell.on_clock)}{mark}",
        value=cell.on_clock.low if cell.on_clock else None,
    )


def _told(cell: FlowCell | None) -> str:
    if cell is None:
        return "has no such screen"
    answers = ", ".join(map(choice, cell.choices))
    return duration_or_nothing(cell.on_clock) + (f" ({answers})" if answers else "")


def times(comparison: Comparison) -> tuple[m.Section, ...]:
    """Durations side by side; the last column sets the one furthest from the baseline against it."""
    columns = (
        m.Column("median of runs", gives=True),
        *sides(comparison.releases, right=True),
        m.Column("difference", right=True),
    )
    names = dict.fromkeys(name for figures in comparison.figures for name in figures)
    times = (*TIMES, *(name for name in names if name.startswith(TASK)))
    rows = [_time_row(name, comparison) for name in times if name in names]
    phases = dict.fromkeys(phase for times in comparison.times for phase in times.phases)
    rows += [_phase_row(phase, comparison) for phase in phases]
    base, other = ends(comparison)
    key = f"(in brackets: hands-on; the difference is that of {other} to {base})"
    return m.section("Times", m.Table(columns, tuple(rows), key=key))


def _time_row(name: str, comparison: Comparison) -> m.Row:
    spreads = [figures.get(name) for figures in comparison.figures]
    contrast = next(
        (c for c in comparison.contrasts if {c.earlier, c.later} == set(ends(comparison)) and c.name == name), None
    )
    measure = measure_of(name)
    label = "  " * (measure is not None and measure.part_of is not None) + words_of(name)
    cells = [m.Cell(show_spread(value, name), value=value.median.low if value else None) for value in spreads]
    differs = _difference([spread.median if spread else None for spread in spreads], comparison, name)
    return m.Row((m.Cell(label), *cells, m.Cell(differs + (how_sure(contrast) if differs else ""))))


def _difference(values: Sequence[Range | None], comparison: Comparison, name: str) -> str:
    """How much more the one furthest from the baseline has than the baseline, where both have something."""
    before, after = (values[comparison.releases.index(release)] for release in ends(comparison))
    return "" if before is None or after is None else signed_difference(before, after, Unit.SECONDS, name)


def _phase_row(phase: str, comparison: Comparison) -> m.Row:
    """A phase with all its time, and in brackets the part that a person spent."""
    times = [times.phases.get(phase) for times in comparison.times]
    cells = [
        m.Cell(duration_and_hands_on(time.on_clock, time.person), value=time.on_clock.low) if time else m.Cell(NOTHING)
        for time in times
    ]
    differs = _difference([time.on_clock if time else None for time in times], comparison, "on-clock")
    return m.Row((m.Cell(phase), *cells, m.Cell(differs)))


def readings(comparison: Comparison) -> tuple[m.Section, ...]:
    """What was read, state by state."""
    columns = (m.Column("reading", gives=True), m.Column("state"), *sides(comparison.releases, right=True))
    rows = tuple(m.Row((m.Cell(row.name), m.Cell(_state(row)), *_values(row))) for row in comparison.readings)
    return m.section("Readings", m.Table(columns, rows))


def _state(row: SideReading) -> str:
    return f"{row.state}, {row.load}" if row.load is not None else row.state


def _values(row: SideReading) -> list[m.Cell]:
    return [
        m.Cell(only_words(said) or NOTHING)
        if value is None
        else m.Cell(show_figure(value, row.unit, row.name), more=only_words(said), value=value.low)
        for value, said in zip(row.values, row.words, strict=True)
    ]


def checks(comparison: Comparison) -> tuple[m.Section, ...]:
    """How each trial came out."""
    columns = (m.Column("trial", gives=True), *sides(comparison.releases))
    return m.section("Trials", m.Table(columns, checks_rows(comparison.checks)))
