"""The ledger of trials: how each came out in each release, what got worse, what is well again."""

from __future__ import annotations

from enum import StrEnum

import msgspec

from metrograph.ledgers.digests.release_groups import ReleaseGroup


class CheckResult(StrEnum):
    """The result of a trial in all runs of a release together."""

    PASS = "pass"  # noqa: S105 - not a password
    FAIL = "fail"
    PARTLY = "partly"
    SKIPPED = "skipped"
    NOT_TRIED = "not tried"
    MIXED = "mixed"


_GOOD = {CheckResult.FAIL: 0, CheckResult.MIXED: 1, CheckResult.PARTLY: 1, CheckResult.PASS: 2}
"""How good a result is, of those that are held against each other."""


class CheckRow(msgspec.Struct, frozen=True):
    """A trial across releases, made under one condition.

    condition: what it was tried with; None where nothing was said.
    worse, well_again: releases in which it came out so against the last time it was made.
    """

    name: str
    results: tuple[CheckResult, ...]
    worse: tuple[str, ...]
    well_again: tuple[str, ...]
    condition: str | None = None


class CheckLedger(msgspec.Struct, frozen=True):
    """Trials by release."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[CheckRow, ...]


def checks_ledger(group: ReleaseGroup) -> CheckLedger:
    """Trials by release, a row for each condition that they were made under."""
    keys = dict.fromkeys(
        (check.name, check.condition) for runs in group.runs.values() for run in runs for check in run.checks
    )
    return CheckLedger(group.releases, group.lines, tuple(_row(*key, group) for key in keys))


def _row(name: str, condition: str | None, group: ReleaseGroup) -> CheckRow:
    results = [
        _together({c.result for run in runs for c in run.checks if (c.name, c.condition) == (name, condition)})
        for runs in group.runs.values()
    ]
    worse: list[str] = []
    better: list[str] = []
    last: dict[str, int] = {}
    for release, line, result in zip(group.releases, group.lines, results, strict=True):
        good = _GOOD.get(result)
        if good is None:
            continue
        before = last.setdefault(line, good)
        (worse if good < before else better if good > before else []).append(release)
        last[line] = good
    return CheckRow(name, tuple(results), tuple(worse), tuple(better), condition)


def _together(results: set[str]) -> CheckResult:
    """What a release's runs make together; a trial that some skipped counts as the others have it."""
    made = results - {CheckResult.SKIPPED}
    if len(made) > 1:
        return CheckResult.MIXED
    return CheckResult(next(iter(made or results), CheckResult.NOT_TRIED))
