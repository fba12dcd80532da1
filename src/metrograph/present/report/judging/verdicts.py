"""The ledger of judgements as a report."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.ledgers.verdicts import Judgement, RatingRow, Shift, VerdictLedger, show_share
from metrograph.present.report import model as m
from metrograph.present.report.by_line import ROOM, by_line, pick, sides
from metrograph.present.wording.answers import judgements as words


def verdicts_report(ledger: VerdictLedger) -> m.Report:
    """Ratings and scores by release, then every verdict."""
    sections = by_line("Ratings", ledger, lambda places: ratings_table(ledger.rows, ledger.releases, places))
    return m.Report(
        parts=(*sections, *shift_sections(ledger.shifts), *verdict_sections(ledger.verdicts)),
        empty="nothing was judged",
    )


def shift_sections(shifts: Sequence[Shift]) -> tuple[m.Section, ...]:
    """What changed in judgement, then and now, with the figures that changed with it."""
    blocks = [
        block
        for shift in shifts
        for block in (m.Lines((words.shifted(shift),)), m.Lines(tuple(words.went_with(shift)), 4))
    ]
    return m.section("What changed in judgement", *blocks)


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
