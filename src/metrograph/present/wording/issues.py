"""Says what became of an issue, where it shows, what it cost and what helped."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.ledgers.issues import IssueCell, IssueRow, IssueStatus
from metrograph.log.quantities.times import show_duration
from metrograph.present.report.model import NOTHING
from metrograph.present.wording.names import on_rig


def issue_name(row: IssueRow) -> str:
    """What an issue goes by."""
    return row.name or row.summary


def issue_status(row: IssueRow, cell: IssueCell) -> str:
    """What became of it, and in how many of the runs where it could show itself."""
    if cell.status is IssueStatus.ABSENT:
        return NOTHING
    word = "first seen" if cell.status is IssueStatus.NEW and not row.tried_before else cell.status
    return f"{word}, {cell.seen} of {cell.passed}" if cell.seen else str(word)


def issue_story(row: IssueRow, releases: Sequence[str]) -> str:
    """What an issue is, in which runs it came, what it cost and what helped."""
    severity = f"{row.severity}, " if row.severity else ""
    name = f"{row.name}: " if row.name else ""
    seen = [_how_often(cell, release) for cell, release in zip(row.cells, releases, strict=True) if cell.seen]
    rigs = list(dict.fromkeys(rig for cell in row.cells for rig in cell.rigs))
    bound = f", only on rigs like {', '.join(map(on_rig, rigs))}" if row.rig_bound else ""
    cost = f"; it cost {show_duration(row.cost)}" if row.cost is not None else ""
    return (
        f"{name}{row.summary} ({severity}{row.place}). In {' and '.join(seen)}{bound}{cost}{_cure(row)}{_in_vain(row)}."
    )


def _how_often(cell: IssueCell, release: str) -> str:
    """In how many of the runs that came by its place."""
    if cell.passed == 1:
        return f"the only run of {release} that came by"
    return f"{f'all {cell.seen}' if cell.seen == cell.passed else f'{cell.seen} of {cell.passed}'} runs of {release}"


def _in_vain(row: IssueRow) -> str:
    return f"; tried in vain: {', '.join(row.in_vain)}" if row.in_vain else ""


def _cure(row: IssueRow) -> str:
    if row.ways_round:
        return f"; way round: {', or '.join(row.ways_round)}"
    if not row.unfixed:
        return ""
    return "; no cure found" if row.unfixed == row.seen else f"; no cure found in {row.unfixed} of {row.seen}"
