"""The ledger of software as a report: sets against sets, then every item."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.ledgers.software import GroupRow, SoftwareLedger, SoftwareRow
from metrograph.show.report import model as m
from metrograph.show.report.ledger_reports import ROOM, by_line, pick, sides
from metrograph.words.grammar import NOTHING, few
from metrograph.words.ledger_words import MARKS_KEY, fact


def software_report(ledger: SoftwareLedger) -> m.Report:
    """What became of each group, then a row an item, with a mark where it is not what it was."""
    items = by_line("Software", ledger, lambda places: software_table(ledger.rows, ledger.releases, places))
    return m.Report(parts=(*groups_sections(ledger.groups), *items), empty="no software was noted")


def groups_sections(groups: Sequence[GroupRow]) -> tuple[m.Section, ...]:
    """Sets against sets, a table for each two releases."""
    pairs = dict.fromkeys((row.earlier, row.later) for row in groups)
    tables = {
        pair: m.Table(_COLUMNS, tuple(_group_row(row) for row in groups if (row.earlier, row.later) == pair))
        for pair in pairs
    }
    return tuple(
        part for (earlier, later), table in tables.items() for part in m.section(f"From {earlier} to {later}", table)
    )


_COLUMNS = (
    m.Column("group"), m.Column("on board"), m.Column("gained", gives=True), m.Column("lost", gives=True),
    m.Column("raised", gives=True), m.Column("replaced", gives=True),
)  # fmt: skip


def _group_row(row: GroupRow) -> m.Row:
    replaced = [f"{gone} by {new}" for gone, new in row.replaced]
    before, after = ("?" if count is None else str(count) for count in (row.before, row.after))
    count = before if before == after else f"{before} to {after}"
    names = (few(items) for items in (row.gained, row.lost, row.raised, replaced))
    return m.Row(m.texts(row.group or "", count, *(name or NOTHING for name in names)))


def software_table(rows: Sequence[SoftwareRow], releases: Sequence[str], places: Sequence[int]) -> m.Table:
    """The software of some releases."""
    columns = (
        m.Column("group"),
        m.Column("item", gives=True),
        *sides(pick(releases, places)),
        m.Column("from", gives=True),
    )
    told = tuple(
        m.Row(m.texts(row.group or "", row.item, *(_cell(row, place) for place in places), _source(row, places)))
        for row in rows
        if any(pick(row.values, places))
    )
    return m.Table(columns, told, ROOM, key=MARKS_KEY)


def _cell(row: SoftwareRow, place: int) -> str:
    """Its version with a mark, and the newest that there was where it is behind that."""
    shown = fact(row.values[place], row.changes[place])
    return f"{shown} (newest {row.newest[place]})" if row.behind and row.behind[place] else shown


def _source(row: SoftwareRow, places: Sequence[int]) -> str:
    """Where the latest that says so has it from."""
    return next((source for place in reversed(places) if row.sources and (source := row.sources[place])), "")
