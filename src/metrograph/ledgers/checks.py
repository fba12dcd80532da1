"""The ledger of trials: how each came out in each release, what got worse, what is well again."""

from __future__ import annotations

from enum import StrEnum

import msgspec

from metrograph.compare.flow_records import LogPlace
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
    worse, better: releases in which it came out so against the last time it was made in their line; well_again: of the
        better ones those in which it passes, as it did some time before.
    details: what was said of it, for each release, as it was last made; empty where nothing was.
    made_at: the cues that told of it, one for each time.
    """

    name: str
    results: tuple[CheckResult, ...]
    worse: tuple[str, ...]
    well_again: tuple[str, ...]
    condition: str | None = None
    better: tuple[str, ...] = ()
    details: tuple[str, ...] = ()
    made_at: tuple[LogPlace, ...] = ()


class CheckLedger(msgspec.Struct, frozen=True):
    """Trials by release. origins: the lines that they continue, where several are set side by side as one."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[CheckRow, ...]
    origins: tuple[str, ...] = ()


def checks_ledger(group: ReleaseGroup) -> CheckLedger:
    """Trials by release, a row for each condition that they were made under."""
    keys = dict.fromkeys(
        (check.name, check.condition) for runs in group.runs.values() for run in runs for check in run.checks
    )
    return CheckLedger(group.releases, group.lines, tuple(_row(*key, group) for key in keys), group.origins)


def _row(name: str, condition: str | None, group: ReleaseGroup) -> CheckRow:
    key = name, condition
    results = [
        _together({c.result for run in runs for c in run.checks if (c.name, c.condition) == (name, condition)})
        for runs in group.runs.values()
    ]
    worse: list[str] = []
    better: list[str] = []
    again: list[str] = []
    last: dict[str, int] = {}
    passed: set[str] = set()
    for release, line, result in zip(group.releases, group.lines, results, strict=True):
        good = _GOOD.get(result)
        if good is None:
            continue
        before = last.setdefault(line, good)
        (worse if good < before else better if good > before else []).append(release)
        if result is CheckResult.PASS:
            again += [release] if good > before and line in passed else []
            passed.add(line)
        last[line] = good
    return CheckRow(
        name,
        tuple(results),
        tuple(worse),
        tuple(again),
        condition,
        tuple(better),
        _details(*key, group),
        _made(*key, group),
    )


def _made(name: str, condition: str | None, group: ReleaseGroup) -> tuple[LogPlace, ...]:
    return tuple(
        LogPlace(run.run, check.at)
        for runs in group.runs.values()
        for run in runs
        for check in run.checks
        if (check.name, check.condition) == (name, condition)
    )


def _details(name: str, condition: str | None, group: ReleaseGroup) -> tuple[str, ...]:
    """What was last said of a trial in each release."""
    said = [
        [
            check.detail or ""
            for run in runs
            for check in run.checks
            if (check.name, check.condition) == (name, condition)
        ]
        for runs in group.runs.values()
    ]
    return tuple(each[-1] if each else "" for each in said)


def _together(results: set[str]) -> CheckResult:
    """What a release's runs make together; a trial that some skipped counts as the others have it."""
    made = results - {CheckResult.SKIPPED}
    if len(made) > 1:
        return CheckResult.MIXED
    return CheckResult(next(iter(made or results), CheckResult.NOT_TRIED))
