"""The ledger of issues in the terminal: for each line of releases a table, and below it a sentence an issue."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.language.times import show_duration
from metrograph.model.issues import IssueCell, IssueLedger, IssueRow
from metrograph.views.paper import Paper
from metrograph.views.safe import readable
from metrograph.views.table import Column, render_lines, render_table

_NOTHING = "—"
_LEFT, _ACROSS = 40, 20  # columns of what is no release, and of a release


def render_issues(ledger: IssueLedger, paper: Paper) -> str:
    """All issues, the worst first in each line."""
    ledger = readable(ledger)
    parts = []
    for line in dict.fromkeys(ledger.lines):
        places = [place for place, name in enumerate(ledger.lines) if name == line]
        rows = [row for row in ledger.rows if any(row.cells[place].runs for place in places)]
        if rows:
            parts.append(issue_table(f"Issues {line}".strip(), ledger.releases, places, rows, paper))
    return paper.finish("\n".join(parts) if parts else "no issue was noted\n")


def issue_table(
    title: str, releases: Sequence[str], places: Sequence[int], rows: Sequence[IssueRow], paper: Paper
) -> str:
    """Some issues in some releases; of too many for the paper, the latest."""
    most = len(places) if paper.piped else max((paper.width - _LEFT) // _ACROSS, 2)
    shown = places[-most:]
    columns = [Column("issue", gives=True), *(Column(releases[place], gives=True) for place in shown)]
    cells = [[row.name or row.summary, *(cell_of(row, row.cells[place]) for place in shown)] for row in rows]
    lines = [line for row in rows for line in told(row)]
    if len(shown) < len(places):
        lines.append(f"{len(places) - len(shown)} earlier releases are left out; --json has all.")
    return f"{paper.heading(title)}\n{render_table(columns, cells, paper)}{render_lines(lines, paper)}"


def cell_of(row: IssueRow, cell: IssueCell) -> str:
    """What became of it, and in how many of the runs where it could show itself."""
    if cell.standing == "absent":
        return _NOTHING
    word = "first seen" if cell.standing == "new" and not row.tried_before else cell.standing
    return f"{word}, {cell.seen} of {cell.passed}" if cell.seen else word


def told(row: IssueRow) -> list[str]:
    """What an issue is, how often it came, what it cost and what helped."""
    severity = f"{row.severity}, " if row.severity else ""
    often = "the only run that came by" if row.passed == 1 else f"{row.seen} of {row.passed} runs that came by"
    rigs = list(dict.fromkeys(rig for cell in row.cells for rig in cell.rigs))
    where = f", only on rigs like {', '.join(rigs)}" if row.rig_bound else ""
    span = row.first_seen if row.first_seen == row.last_seen else f"{row.first_seen} to {row.last_seen}"
    cost = f"; it cost {show_duration(row.cost)}" if row.cost is not None else ""
    cure = f"; way round: {', or '.join(row.ways_round)}" if row.ways_round else ""
    unfixed = f"; not overcome in {row.unfixed}" if row.unfixed and not row.ways_round else ""
    name = f"{row.name}: " if row.name else ""
    return [f"{name}{row.summary} ({severity}{row.place}). {span}: {often}{where}{cost}{cure}{unfixed}."]
