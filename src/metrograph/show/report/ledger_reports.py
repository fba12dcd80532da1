"""The ledgers as reports: for each line of releases a table, and below it what stands out."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Protocol, TypeVar

import msgspec

from metrograph.ledgers.checks import CheckLedger, CheckResult, CheckRow
from metrograph.ledgers.claims import ClaimLedger, ClaimRow
from metrograph.ledgers.facts import FactLedger
from metrograph.ledgers.readings import ReadingLedger, ReadingRow, without_swap_files
from metrograph.ledgers.weight import WEIGHTS, Fit, WeightLedger
from metrograph.log.lexicon import Unit
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.times import show_duration
from metrograph.measures.reducing import Spread
from metrograph.measures.selection import Selection
from metrograph.measures.show import show_figure, show_number
from metrograph.show.report import model as m
from metrograph.words import ledger_words as words
from metrograph.words.answers.openings import of_limit
from metrograph.words.figure_words import judged_difference, selection_lines, signed_difference
from metrograph.words.grammar import NOTHING

_FIXED, _SIDE = 47, 11  # columns of all that is not a release, and of a release
ROOM = m.Room(_FIXED, _SIDE)
T = TypeVar("T")


class ByRelease(Protocol):
    """A ledger with an entry per release."""

    @property
    def releases(self) -> tuple[str, ...]:
        """Their ids, oldest first within each line."""

    @property
    def lines(self) -> tuple[str, ...]:
        """The line that each release continues, in the same order."""


def by_line(title: str, ledger: ByRelease, table: Callable[[Sequence[int]], m.Table]) -> list[m.Section]:
    """A table for each line of releases that has anything to show. table: made from the places of its releases."""
    places: dict[str, list[int]] = {}
    for place, line in enumerate(ledger.lines):
        places.setdefault(line, []).append(place)
    sections: list[m.Section] = []
    for line, at in places.items():
        sections += m.section(f"{title} {line}".strip(), under(line, msgspec.structs.replace(table(at), of=line)))
    return sections


def under(line: str, table: m.Table) -> m.Table:
    """A table below a heading that says what its releases continue, so that their columns need not."""
    columns = tuple(
        msgspec.structs.replace(column, heading=column.heading.removeprefix(f"{line} ")) if column.side else column
        for column in table.columns
    )
    return msgspec.structs.replace(table, columns=columns)


def left_out(selections: Iterable[Selection]) -> tuple[m.Section, ...]:
    """Which runs are in no figure."""
    return m.section("", m.Lines(selection_lines(selections)))


def sides(releases: Sequence[str], right: bool = False) -> list[m.Column]:
    """A column for each release."""
    return [m.Column(name, right=right, gives=True, side=True) for name in releases]


def pick(values: Sequence[T], places: Sequence[int]) -> list[T]:
    """The entries of a row for some releases."""
    return [values[place] for place in places]


_SPREAD = 10  # columns of the spread of a release's runs


def readings_report(ledger: ReadingLedger) -> m.Report:
    """A row a reading and state; the last column sets the last release against the one before it that has it."""
    warnings = dict.fromkeys(
        f"{row.name}, {row.state}: {warning}." for row in ledger.rows if (warning := words.reading_warning(row))
    )
    sections = by_line("Readings", ledger, lambda places: _readings_table(ledger, places))
    swapping = [text for row in ledger.rows if (text := words.swap_files_left_out(row, ledger.releases))]
    notes = m.section("", m.Lines((*warnings, *swapping)))
    return m.Report(parts=(*sections, *notes, *left_out(ledger.selections.values())), empty="no reading was taken")


def _readings_table(ledger: ReadingLedger, places: Sequence[int]) -> m.Table:
    columns = [m.Column("reading", gives=True), m.Column("state"), m.Column("load")]
    columns += [*sides(pick(ledger.releases, places), right=True), m.Column("difference", right=True)]
    noted = [row for row in ledger.rows if any(pick(row.figures, places)) or any(pick(row.words, places))]
    room = m.Room(ROOM.fixed, ROOM.side, more=_SPREAD)
    legend = "± is half of what lies between the least and the most of a release's runs."
    return m.Table(tuple(columns), tuple(_reading_row(row, places) for row in noted), room, more_key=legend)


def _reading_row(row: ReadingRow, places: Sequence[int]) -> m.Row:
    figures = [reading_cell(row.figures[place], row.words[place], row.unit, row.name) for place in places]
    medians = [figure.median if figure is not None else None for figure in row.figures]
    own = without_swap_files(medians, row.swap_files)
    known = [value for value in pick(own, places) if value is not None]
    differs = ""
    if row.differences[places[-1]] is not None:
        differs = judged_difference(known[-2], known[-1], row.unit, row.name, row.better)
    return m.Row((*m.texts(row.name, row.state, row.load or ""), *figures, m.Cell(differs)))


def reading_cell(figure: Spread | None, said: Sequence[str], unit: str, name: str) -> m.Cell:
    """What the runs of a release have, and in how many of them words were said in its place."""
    words_said = words.only_words(said)
    if figure is None:
        return m.Cell(words_said or NOTHING)
    half = 0.0 if figure.most is None else (figure.most - figure.least) / 2
    more = [f"±{show_number(half, unit, name)}"] if half and figure.runs > 1 else []
    more += [words_said] if words_said else []
    return m.Cell(show_figure(figure.median, unit, name), more=", ".join(more), value=figure.median.low)


def checks_report(ledger: CheckLedger) -> m.Report:
    """The ledger of trials as a report, a row a trial."""
    sections = by_line("Trials", ledger, lambda places: _checks_table(ledger, places))
    changed = m.section("", m.Lines(tuple(words.checks_changed(ledger))))
    return m.Report(parts=(*sections, *changed), empty="no trial was made")


def _checks_table(ledger: CheckLedger, places: Sequence[int]) -> m.Table:
    columns = (m.Column("trial", gives=True), *sides(pick(ledger.releases, places)))
    tried = [row for row in ledger.rows if set(pick(row.results, places)) != {CheckResult.NOT_TRIED}]
    return m.Table(columns, checks_rows(tried, places), ROOM)


def checks_rows(rows: Iterable[CheckRow], places: Sequence[int] | None = None) -> tuple[m.Row, ...]:
    """A row a trial, in some of the releases or in all."""
    picked = ((words.trial(row), row.results if places is None else pick(row.results, places)) for row in rows)
    return tuple(m.Row(m.texts(name, *map(words.check_result, results))) for name, results in picked)


def facts_report(ledger: FactLedger) -> m.Report:
    """A row a fact, with a mark where it is not what it was."""
    sections = by_line("Facts", ledger, lambda places: facts_table(ledger, places))
    return m.Report(parts=tuple(sections), empty="no fact was noted")


def facts_table(ledger: FactLedger, places: Sequence[int] | None = None) -> m.Table:
    """A row a fact, in some of the releases or in all."""
    chosen = range(len(ledger.releases)) if places is None else places
    columns = (m.Column("fact", gives=True), *sides(pick(ledger.releases, chosen)))
    rows = [
        m.Row(m.texts(row.name, *(words.fact(row.values[place], row.changes[place]) for place in chosen)))
        for row in ledger.rows
        if any(pick(row.values, chosen))
    ]
    return m.Table(columns, tuple(rows), ROOM, key=words.MARKS_KEY)


def claims_report(ledger: ClaimLedger) -> m.Report:
    """The ledger of claims as a report, a row a claim."""
    return m.Report(parts=claims_sections(ledger), empty="no card has claims or needs")


def claims_sections(ledger: ClaimLedger) -> tuple[m.Section, ...]:
    """The claims, and in words those that do not hold."""
    columns = (
        m.Column("release", gives=True), m.Column("published", gives=True), m.Column("figure", right=True),
        m.Column("measured", right=True), m.Column("runs", right=True), m.Column("holds"),
    )  # fmt: skip
    table = m.Table(columns, tuple(map(_claim_row, ledger.rows)))
    broken = tuple(words.broken(row) for row in ledger.rows if row.holds is False)
    left = left_out(ledger.selections.values()) if ledger.rows else ()
    ran = tuple(map(words.ran_on, ledger.ran_on))
    return (*m.section("Claims", table), *m.section("", m.Lines((*broken, *ran))), *left)


def _claim_row(row: ClaimRow) -> m.Row:
    cells = (row.release, row.what, row.quoted, words.measured(row), str(row.runs), words.holds(row))
    return m.Row(m.texts(*cells))


def weight_report(ledger: WeightLedger) -> m.Report:
    """A row a weight, releases across; below it what the first update was."""
    sections = by_line("Weight", ledger, lambda places: _weight_table(ledger, places))
    updates = tuple(line for weight in ledger.rows if (line := words.first_update(weight)))
    notes = m.section("", m.Lines(updates))
    return m.Report(parts=(*sections, *notes, *left_out(ledger.selections.values())), empty="there are no runs")


def fits_sections(rows: Sequence[Fit], limit: str) -> tuple[m.Section, ...]:
    """What keeps to a limit, and what is left of it."""
    columns = (m.Column("release", gives=True), m.Column("downloaded in all", right=True), m.Column("fits"),
               m.Column("left", right=True))  # fmt: skip
    told = tuple(
        m.Row(
            m.texts(
                row.release, NOTHING if row.download is None else words.weighs(row.download), words.keeps(row),
                words.left(row),
            )
        )
        for row in rows
    )  # fmt: skip
    answer = m.section("", m.Lines((of_limit(rows, limit),), 0))
    return (*answer, *m.section(f"Within {limit}", m.Table(columns, told)))


def weight_table(ledger: WeightLedger) -> m.Table:
    """All releases across, whatever they continue."""
    return _weight_table(ledger, range(len(ledger.releases)))


def _weight_table(ledger: WeightLedger, places: Sequence[int]) -> m.Table:
    weights = pick(ledger.rows, places)
    releases = sides(pick(ledger.releases, places), right=True)
    columns = (m.Column("weight", gives=True), *releases, m.Column("difference", right=True))
    rows = [_size_row(name, list(map(size, weights))) for name, size in WEIGHTS.items()]
    files = [weight.swap_file for weight in weights]
    rows += [_size_row("  of it a swap file", files)] if any(file is not None and file.high for file in files) else []
    rows += [
        _row("updates", [weight.updates for weight in weights], lambda count: show_figure(count, "")),
        _row("update took", [weight.update_time for weight in weights], show_duration),
        _row("image's age", [weight.age for weight in weights], lambda age: show_figure(age, "days")),
    ]
    return m.Table(columns, tuple(rows), ROOM)


def _size_row(name: str, sizes: Sequence[Range | None]) -> m.Row:
    """Sizes, and what the last release has more or less than the one before it, of those that are known whole."""
    known = [size for size in sizes if size is not None and size.high is not None]
    change = ""
    if len(known) > 1 and sizes[-1] is known[-1]:
        change = signed_difference(known[-2], known[-1], Unit.BYTES, name)
    return _row(name, sizes, words.weighs, change)


def _row(name: str, values: Sequence[Range | None], show: Callable[[Range], str], change: str = "") -> m.Row:
    cells = (m.Cell(NOTHING) if value is None else m.Cell(show(value), value=value.low) for value in values)
    return m.Row((m.Cell(name), *cells, m.Cell(change)))
