"""The ledger of issues as a report: for each line of releases a table, and below it a sentence an issue."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.ledgers.issues import IssueCell, IssueLedger, IssueRow, IssueStatus
from metrograph.show.report import model as m
from metrograph.show.report.ledger_reports import under
from metrograph.words.ledger_words import issue_name, issue_status, issue_story

_ROOM = m.Room(fixed=40, side=20)


def issues_report(ledger: IssueLedger) -> m.Report:
    """All issues, the worst first in each line."""
    parts: list[m.Section] = []
    for line in dict.fromkeys(ledger.lines):
        places = [place for place, name in enumerate(ledger.lines) if name == line]
        rows = [row for row in ledger.rows if any(_is_known(row.cells[place]) for place in places)]
        parts += m.section(f"Issues {line}".strip(), *_under(line, issue_blocks(ledger.releases, places, rows)))
    return m.Report(parts=tuple(parts), empty="no issue was noted")


def _is_known(cell: IssueCell) -> bool:
    """Whether an issue was met in the line by then, or looked for after it was."""
    return bool(cell.seen) or cell.status is not IssueStatus.ABSENT


def _under(line: str, blocks: Sequence[m.Block]) -> tuple[m.Block, ...]:
    return tuple(under(line, block) if isinstance(block, m.Table) else block for block in blocks)


def issue_blocks(releases: Sequence[str], places: Sequence[int], rows: Sequence[IssueRow]) -> tuple[m.Block, ...]:
    """Some issues in some releases."""
    columns = [m.Column("issue", gives=True)]
    columns += [m.Column(releases[place], gives=True, side=True) for place in places]
    cells = [m.texts(issue_name(row), *(issue_status(row, row.cells[place]) for place in places)) for row in rows]
    table = m.Table(tuple(columns), tuple(map(m.Row, cells)), _ROOM)
    return table, m.Lines(tuple(issue_story(row, releases) for row in rows))
