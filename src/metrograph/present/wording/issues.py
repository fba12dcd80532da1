"""Says what became of an issue, where it shows, what it cost and what helped."""

from __future__ import annotations

from metrograph.ledgers.issues import IssueCell, IssueRow, IssueStatus
from metrograph.log.quantities.times import show_duration
from metrograph.present.report.model import NOTHING


def issue_name(row: IssueRow) -> str:
    """What an issue goes by."""
    return row.name or row.summary


def issue_status(row: IssueRow, cell: IssueCell) -> str:
    """What became of it, and in how many of the runs where it could show itself."""
    if cell.status is IssueStatus.ABSENT:
        return NOTHING
    word = "first seen" if cell.status is IssueStatus.NEW and not row.tried_before else cell.status
    return f"{word}, {cell.seen} of {cell.passed}" if cell.seen else str(word)


def issue_story(row: IssueRow) -> str:
    """What an issue is, how often it came, what it cost and what helped."""
    severity = f"{row.severity}, " if row.severity else ""
    name = f"{row.name}: " if row.name else ""
    span = row.first_seen if row.first_seen == row.last_seen else f"{row.first_seen} to {row.last_seen}"
    cost = f"; it cost {show_duration(row.cost)}" if row.cost is not None else ""
    return f"{name}{row.summary} ({severity}{row.place}). {span}: {_how_often(row)}{cost}{_cure(row)}."


def _how_often(row: IssueRow) -> str:
    often = "the only run that came by" if row.passed == 1 else f"{row.seen} of {row.passed} runs that came by"
    rigs = list(dict.fromkeys(rig for cell in row.cells for rig in cell.rigs))
    return often + (f", only on rigs like {', '.join(rigs)}" if row.rig_bound else "")


def _cure(row: IssueRow) -> str:
    if row.ways_round:
        return f"; way round: {', or '.join(row.ways_round)}"
    return f"; not overcome in {row.unfixed}" if row.unfixed else ""
