"""The ledgers of software and of judgements as reports."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.ledgers.software import SoftwareLedger, SoftwareRow
from metrograph.ledgers.verdicts import Judgement, RatingRow, VerdictLedger, show_share
from metrograph.present.report import model as m
from metrograph.present.report.by_line import ROOM, by_line, pick, sides
from metrograph.present.wording.ledgers import MARKS_KEY, fact


def software_report(ledger: SoftwareLedger) -> m.Report:
    """A row an item, group by group, with a mark where it is not what it was."""
    sections = by_line("Software", ledger, lambda places: software_table(ledger.rows, ledger.releases, places))
    return m.Report(parts=tuple(sections), empty="no software was noted")


def software_table(rows: Sequence[SoftwareRow], releases: Sequence[str], places: Sequence[int]) -> m.Table:
    """The software of some releases."""
    columns = (m.Column("group"), m.Column("item", gives=True), *sides(pick(releases, places)))
    told = tuple(
        m.Row(m.texts(row.group or "", row.item, *(fact(row.values[place], row.changes[place]) for place in places)))
        for row in rows
        if any(pick(row.values, places))
    )
    return m.Table(columns, told, ROOM, key=MARKS_KEY)


def verdicts_report(ledger: VerdictLedger) -> m.Report:
    """Ratings and scores by release, then every verdict, then what is left to do."""
    sections = by_line("Ratings", ledger, lambda places: ratings_table(ledger.rows, ledger.releases, places))
    todos = tuple(
        f"{left.run}: {left.text}" + (f" (for {left.reader})" if left.reader else "") for left in ledger.todos
    )
    return m.Report(
        parts=(*sections, *verdict_sections(ledger.verdicts), *m.section("Left to do", m.Lines(todos))),
        empty="nothing was judged",
    )


def ratings_table(rows: Sequence[RatingRow], releases: Sequence[str], places: Sequence[int]) -> m.Table:
    """The ratings and scores of some releases."""
    columns = (m.Column("rating", gives=True), m.Column("for", gives=True), *sides(pick(releases, places)))
    told = tuple(
        m.Row(m.texts(row.name, row.reader or "", *(_parts(row, place) for place in places)))
        for row in rows
        if any(pick(row.parts, places))
    )
    return m.Table(columns, told, ROOM)


def _parts(row: RatingRow, place: int) -> str:
    part = row.parts[place]
    return m.NOTHING if part is None else show_share(part, row.whole)


def verdict_sections(verdicts: Sequence[Judgement]) -> tuple[m.Section, ...]:
    """Every verdict with what speaks for and against it."""
    blocks = [block for verdict in verdicts for block in _verdict(verdict)]
    return m.section("Verdicts", *blocks)


def _verdict(verdict: Judgement) -> tuple[m.Lines, m.Lines]:
    whom = f" (for {', '.join(verdict.whom)})" if verdict.whom else ""
    more = {"for": verdict.good, "against": verdict.against, "score": verdict.score}
    lines = tuple(f"{label}: {text}" for label, text in more.items() if text)
    return m.Lines((f"{verdict.run}: {verdict.text}{whom}",)), m.Lines(lines, 4)
