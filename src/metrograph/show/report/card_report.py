"""Cards held against each other as a report."""

from __future__ import annotations

from metrograph.ledgers.card_ledger import CardGroup, CardLedger, CardRow, by_group
from metrograph.ledgers.facts import FactChange
from metrograph.log.quantities.units import show_size
from metrograph.show.report import model as m
from metrograph.show.report.ledger_reports import sides
from metrograph.words.ledger_words import MARKS_KEY, fact, of_cards

_ROOM = m.Room(fixed=26, side=18)
_HEADINGS = {
    CardGroup.RELEASE: "Release", CardGroup.SYSTEM: "Made of", CardGroup.NEEDS: "Needs", CardGroup.TOOLS: "Tools",
}  # fmt: skip


def cards_report(ledger: CardLedger) -> m.Report:
    """The answer, a table for each group of rows, then what each publishes as new."""
    return m.Report(
        parts=(*m.section("", m.Lines(tuple(of_cards(ledger)), 0)), *cards_sections(ledger)),
        empty="these cards say nothing that could be compared",
    )


def cards_sections(ledger: CardLedger) -> tuple[m.Section, ...]:
    """All that cards say, release by release."""
    parts = [
        part for group, rows in by_group(ledger) for part in m.section(_HEADINGS[group], _table(ledger, group, rows))
    ]
    news = (
        part
        for release, lines in zip(ledger.releases, ledger.news, strict=True)
        for part in m.section(f"Published as new in {release}", m.Lines(lines))
    )
    return (*parts, *news)


def _table(ledger: CardLedger, group: CardGroup, rows: list[CardRow]) -> m.Table:
    columns = [m.Column("published", gives=True), *sides(ledger.releases)]
    columns[:0] = [m.Column("for", gives=True)] if group is CardGroup.NEEDS else []
    return m.Table(tuple(columns), tuple(_row(group, row) for row in rows), _ROOM, key=MARKS_KEY)


def _row(group: CardGroup, row: CardRow) -> m.Row:
    first = (row.of,) if group is CardGroup.NEEDS else ()
    # That each release has its own version and days goes without saying.
    marked = group is not CardGroup.RELEASE or any(row.sizes)
    changes = row.changes if marked else (FactChange.SAME,) * len(row.changes)
    shown = zip(row.values, row.sizes, changes, strict=True)
    cells = (
        fact(show_size(size.low) if size is not None and value == f"{size.low:.0f}" else value, change)
        for value, size, change in shown
    )
    return m.Row(m.texts(*first, row.name, *cells))
