"""Finds what is to be told of trouble and of trials; a trial that an issue let fail is a part of that issue."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import msgspec

from metrograph.findings.finding_records import Finding, IssueOutcome, Priority, Subject, Sureness, TrialOutcome, Way
from metrograph.ledgers.checks import CheckResult, CheckRow
from metrograph.ledgers.issues import IssueRow, IssueStatus

_BY_SEVERITY = {"blocker": Priority.BLOCKER, "major": Priority.MAJOR}
_BAD_NEWS = frozenset({IssueStatus.NEW, IssueStatus.BACK_AGAIN, IssueStatus.STILL_THERE})
_GOOD = {CheckResult.FAIL: 0, CheckResult.MIXED: 1, CheckResult.PARTLY: 1, CheckResult.PASS: 2}


class Ends(msgspec.Struct, frozen=True):
    """Two releases among several, by name and by place; earlier is None where the later is the first of its line.

    lines: what each of the several continues.
    """

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    earlier: int | None
    later: int

    @property
    def names(self) -> tuple[str, str]:
        """Both names; the first is empty where there is none."""
        return "" if self.earlier is None else self.releases[self.earlier], self.releases[self.later]

    @property
    def across(self) -> bool:
        """Whether neither continues the other."""
        return self.earlier is not None and self.lines[self.earlier] != self.lines[self.later]


def of_trouble(issues: Sequence[IssueRow], checks: Sequence[CheckRow], ends: Ends) -> Iterator[Finding]:
    """What became of trouble, and of trials, between two releases."""
    told = [
        (row, finding)
        for row in issues
        if (finding := _shared(row, ends) if ends.across else _issue(row, ends)) is not None
    ]
    yield from (finding for _, finding in told)
    part_of_issues = {name for row, _ in told for name in row.trials}
    for check in checks:
        if check.name not in part_of_issues and (trial := _trial(check, checks, ends)) is not None:
            yield trial


def _issue(row: IssueRow, ends: Ends) -> Finding | None:
    """What became of an issue in the later of two releases of a line; None where nothing is to be told."""
    cell = row.cells[ends.later]
    if cell.status is IssueStatus.ABSENT:
        return None
    # What was gone before is not cured once more, and nobody has to look for it.
    if cell.status in {IssueStatus.GONE, IssueStatus.NOT_RETESTED} and not row.is_open_before(ends.later):
        return None
    way = Way.WORSE if cell.status in _BAD_NEWS else Way.BETTER if cell.status is IssueStatus.GONE else Way.OTHER
    # The last release of the line that had it tells how often it came then.
    line = ends.lines[ends.later]
    had = [at for at in range(ends.later) if ends.lines[at] == line and row.cells[at].seen]
    elsewhere = [at for at, other in enumerate(row.cells) if other.seen and ends.lines[at] != line]
    before = row.cells[had[-1]] if had else None
    rigs = cell.rigs or (before.rigs if before else ())
    detail = IssueOutcome(
        cell.status, row.severity, cell.seen, cell.passed,
        before.seen if before else 0, before.passed if before else 0,
        rigs if row.rig_bound else (), row.only_there,
        ends.earlier is not None and row.cells[ends.earlier].passed > 0, row.tried_before,
        last_seen=ends.releases[had[-1]] if had else "",
        shared_with=ends.releases[elsewhere[-1]] if elsewhere and cell.seen else "",
    )  # fmt: skip
    return Finding(Subject.ISSUE, ends.names, row.summary, way, Sureness.NOTED, _weight(row), detail, row.seen_at)


def _weight(row: IssueRow) -> Priority:
    return _BY_SEVERITY.get(row.severity or "", Priority.MINOR)


def _shared(row: IssueRow, ends: Ends) -> Finding | None:
    """Trouble that two releases of different lines share, or that one of them has where the other was looked at."""
    one, other = (row.cells[place] for place in (ends.earlier or 0, ends.later))
    both = bool(one.seen and other.seen)
    if not (one.seen or other.seen) or not (both or (one.passed and other.passed)):
        return None
    having = other if other.seen else one
    way = Way.OTHER if both else Way.WORSE if other.seen else Way.BETTER
    detail = IssueOutcome(
        IssueStatus.STILL_THERE if both else IssueStatus.NEW, row.severity, having.seen, having.passed,
        one.seen, one.passed, having.rigs if row.rig_bound else (), row.only_there, across=True,
    )  # fmt: skip
    return Finding(Subject.ISSUE, ends.names, row.summary, way, Sureness.NOTED, _weight(row), detail, row.seen_at)


def _trial(check: CheckRow, checks: Sequence[CheckRow], ends: Ends) -> Finding | None:
    """A trial that came out otherwise, or that does not pass where it was first made; None where it is as it was."""
    before = CheckResult.NOT_TRIED if ends.earlier is None else check.results[ends.earlier]
    after = check.results[ends.later]
    if after not in _GOOD or (before in _GOOD and _GOOD[before] == _GOOD[after]):
        return None
    if before not in _GOOD and (after is CheckResult.PASS or ends.across):
        return None
    worse = before not in _GOOD or _GOOD[after] < _GOOD[before]
    detail = TrialOutcome(
        str(before) if before in _GOOD else None, str(after), check.condition, check.details[ends.later],
        ends.releases[ends.later] in check.well_again and not ends.across,
        None if before in _GOOD or ends.earlier is None else _otherwise(check, checks, ends.earlier),
        ends.across,
    )  # fmt: skip
    way = Way.WORSE if worse else Way.BETTER
    return Finding(Subject.TRIAL, ends.names, check.name, way, Sureness.NOTED, Priority.TRIALS, detail, check.made_at)


def _otherwise(check: CheckRow, checks: Sequence[CheckRow], place: int) -> str | None:
    """How a trial came out in a release under another condition, such as ``pass with a phone``; None if it did not."""
    found = [each for each in checks if each.name == check.name and each is not check and each.results[place] in _GOOD]
    told = (f"{each.results[place]} {f'with {each.condition}' if each.condition else 'without'}" for each in found)
    return next(told, None)
