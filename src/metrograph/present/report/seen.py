"""The report of what was seen in a recording."""

from __future__ import annotations

from metrograph.log.lexicon import OTHER
from metrograph.log.quantities.times import show_moment
from metrograph.present.report.model import NOTHING, Cell, Column, Lines, Report, Row, Section, Table
from metrograph.present.wording.seen import seen_answer, seen_marks, seen_title
from metrograph.sources.watch.seen import Seen, SeenSpan

_COLUMNS = (
    Column("at", right=True),
    Column("for", right=True),
    Column("screen", gives=True),
    Column("kind"),
    Column("sure", right=True),
    Column("", gives=True),
)


def seen_report(seen: Seen) -> Report:
    """Answer and table of what was seen."""
    rows = tuple(map(_row, seen.spans))
    answer = Section("", (Lines((seen_answer(seen),), indent=0),), plain=True)
    return Report(title=seen.source, head=(answer,), parts=(Section("", (Table(_COLUMNS, rows),)),) if rows else ())


def _row(span: SeenSpan) -> Row:
    words = (
        show_moment(span.start),
        show_moment(span.end - span.start),
        seen_title(span),
        NOTHING if span.kind == OTHER else span.kind,
        f"{span.sure:.2f}",
        seen_marks(span),
    )
    return Row(tuple(Cell(word) for word in words))
