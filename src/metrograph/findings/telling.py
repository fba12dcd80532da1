"""Puts the findings of two releases together: each event once, and what a reader decides by first."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence

from metrograph.findings.finding_records import Finding, IssueOutcome, PresetChange, Subject, Way
from metrograph.findings.of_figures import of_figures
from metrograph.findings.of_flow import of_flow
from metrograph.findings.of_trouble import Ends, of_trouble
from metrograph.ledgers.comparison import Comparison, Neighbours
from metrograph.ledgers.issues import IssueRow, IssueStatus

_A_WORD = 4  # letters: shorter ones stand in any sentence
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
    """Without what is only a part of another: a pre-set value is, where an issue about it turned."""
    told = {each.thing for each in findings if isinstance(each.detail, IssueOutcome) and each.detail.status in _TURNED}
    turned = [row for row in comparison.issues if row.summary in told]
    return [
        each
        for each in findings
        if not (
            isinstance(each.detail, PresetChange) and any(_is_about(row, each.thing, each.detail) for row in turned)
        )
    ]


def _is_about(row: IssueRow, key: str, preset: PresetChange) -> bool:
    """Whether an issue stood on the screen of a pre-set value and has a word of it, or of what is pre-set."""
    named = {word for word in re.findall(r"\w+", f"{preset.screen} {key}".casefold()) if len(word) >= _A_WORD}
    said = set(re.findall(r"\w+", f"{row.name or ''} {row.summary}".casefold()))
    return row.place == preset.screen and bool(named & said)


_TURNED = frozenset({IssueStatus.NEW, IssueStatus.BACK_AGAIN, IssueStatus.GONE})


def told_first(findings: Sequence[Finding], what: Iterable[Subject]) -> list[Finding]:
    """Those of some subjects, in their order."""
    wanted = frozenset(what)
    return [each for each in findings if each.what in wanted]
