"""Puts the findings of two releases together: each event once, and what a reader decides by first."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from metrograph.findings.finding_records import Finding, IssueOutcome, PresetChange, Subject, Way
from metrograph.findings.of_figures import of_figures
from metrograph.findings.of_flow import of_flow
from metrograph.findings.of_trouble import Ends, of_trouble
from metrograph.ledgers.comparison import Comparison, Neighbours
from metrograph.ledgers.issues import IssueStatus

_WAYS = (Way.WORSE, Way.BETTER, Way.OTHER)


def findings_of(comparison: Comparison, pair: Neighbours) -> tuple[Finding, ...]:
    """What is worth telling of two releases that are neighbours, the weightiest first."""
    places = comparison.releases.index(pair.earlier), comparison.releases.index(pair.later)
    ends = Ends(comparison.releases, comparison.lines, *places)
    found = (
        *of_trouble(comparison.issues, comparison.checks, ends),
        *of_figures(comparison, pair),
        *of_flow(comparison, pair),
    )
    return tuple(in_order(merged(found, comparison)))


def in_order(findings: Iterable[Finding]) -> list[Finding]:
    """The weightiest first; of the same weight what is worse before what is better; else as they were found."""
    return sorted(findings, key=lambda each: (each.weight, _WAYS.index(each.way)))


def merged(findings: Sequence[Finding], comparison: Comparison) -> list[Finding]:
    """Without what is only a part of another: a pre-set value is, where an issue stood on its screen and turned."""
    turned = {
        row.place
        for row in comparison.issues
        for each in findings
        if isinstance(each.detail, IssueOutcome) and each.thing == row.summary and each.detail.status in _TURNED
    }
    return [each for each in findings if not (isinstance(each.detail, PresetChange) and each.detail.screen in turned)]


_TURNED = frozenset({IssueStatus.NEW, IssueStatus.BACK_AGAIN, IssueStatus.GONE})


def told_first(findings: Sequence[Finding], what: Iterable[Subject]) -> list[Finding]:
    """Those of some subjects, in their order."""
    wanted = frozenset(what)
    return [each for each in findings if each.what in wanted]
