"""Keeps the ledger of issues: new, still there, gone, back again, or not retested since nobody came by.

An issue is tied to itself by its name, over editions and distributions, or without one by its wording within its line.
It is gone only where it was looked for and did not show: on the way through an installation a run that came by the same
place, the screen that is aligned with its own or without a screen the same phase; anywhere else a trial that passed. On
the same kind of rig, when it shows on some kinds only.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from enum import StrEnum
from functools import cached_property

import msgspec

from metrograph.compare.align.alignment import merge
from metrograph.compare.align.similarity import WEIGHTS, similarity
from metrograph.compare.flow_records import LogPlace
from metrograph.ledgers.digests.digest import Digest, details, route
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.log.quantities.ranges import Range, median
from metrograph.run.cards import Rig
from metrograph.run.records import RECORDING, Issue
from metrograph.run.route import NO_RULINGS, Route, Rulings, ScreenKey

_OF_HARDWARE = frozenset({"hardware", "firmware", "storage", "graphics", "wireless", "sound", "power"})
"""Areas whose issues are taken as bound to their kind of rig even where nothing else was tried."""

_LOOKED_AROUND = frozenset({"live", "desktop"})
"""Phases in which whoever reviews goes where they like."""

_SEVERITIES = ("blocker", "major", "minor", "cosmetic", None)


class IssueStatus(StrEnum):
    """The state of an issue in a release. GONE is said only where it could have shown; ABSENT before it was seen."""

    NEW = "new"
    STILL_THERE = "still there"
    GONE = "gone"
    BACK_AGAIN = "back again"
    NOT_RETESTED = "not retested"
    ABSENT = "absent"


class IssueCell(msgspec.Struct, frozen=True, rename={"status": "standing"}):
    """An issue in one release.

    status: against the releases of its line before this one; before: what was last known of it there, None where
        nothing was.
    seen: in how many runs; passed: how many came by its place on a rig where it could show, those included.
    runs: how many there are; rigs: where it was seen.
    """

    status: IssueStatus
    seen: int
    passed: int
    runs: int
    rigs: tuple[str, ...] = ()
    before: IssueStatus | None = None


class IssueRow(msgspec.Struct, frozen=True):
    """An issue across releases.

    name: what ties it to itself in other runs; None where its wording does.
    summary, severity, area: as it was noted last.
    place: the title of the screen where it stood first, or the phase where there was no screen.
    rig_bound: whether it shows on some kinds of rig only, so that others say nothing about it; only_there: whether it
        was looked for on others and not met.
    tried_before: whether a release before the first that has it came by the place without it, so that it is truly new.
    cells: an entry per release.
    first_seen, last_seen: releases.
    seen, passed: runs of all releases together.
    cost: the median of the time it took where it was overcome; None where it never was.
    unfixed: in how many runs it was not overcome.
    ways_round: what helped, each once; in_vain: what was tried and did not.
    only: where alone it was met, as it was said last.
    trials: those that it let fail, which are no trouble of their own.
    seen_at: the cues that told of it, one a run.
    """

    name: str | None
    summary: str
    severity: str | None
    area: str | None
    place: str
    rig_bound: bool
    tried_before: bool
    cells: tuple[IssueCell, ...]
    first_seen: str
    last_seen: str
    seen: int
    passed: int
    cost: Range | None
    unfixed: int
    ways_round: tuple[str, ...]
    in_vain: tuple[str, ...] = ()
    only_there: bool = False
    only: str | None = None
    trials: tuple[str, ...] = ()
    seen_at: tuple[LogPlace, ...] = ()

    def is_open_before(self, place: int) -> bool:
        """Whether the last that was known of it in its line, before the release at this place, is that it stood."""
        return self.cells[place].before not in {None, IssueStatus.GONE}


class IssueLedger(msgspec.Struct, frozen=True):
    """Issues by release. origins: the lines that they continue, where several are set side by side as one."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[IssueRow, ...]
    origins: tuple[str, ...] = ()


class Sighting(msgspec.Struct, frozen=True):
    """An issue in a run. screen: the one it stood on; None where there was none."""

    release: int
    run: Digest
    issue: Issue
    screen: ScreenKey | None


def issues_ledger(group: ReleaseGroup, rigs: Mapping[str, Rig], rulings: Rulings = NO_RULINGS) -> IssueLedger:
    """All issues of these releases, the worst first, and among equals in the order they were first seen."""
    seen: dict[tuple[str, str], list[Sighting]] = {}
    for number, digests in enumerate(group.runs.values()):
        for sighting in _sightings(number, digests):
            # A name is one issue wherever it is met; the same words about another system may well mean another thing.
            line = "" if sighting.issue.name else group.origins[number]
            seen.setdefault((line, identity(sighting.issue)), []).append(sighting)
    passing = _Passing(group, rigs, rulings)
    rows = [_row(group, sightings, passing) for sightings in seen.values()]
    rows.sort(key=lambda row: _SEVERITIES.index(row.severity) if row.severity in _SEVERITIES else len(_SEVERITIES))
    return IssueLedger(group.releases, group.lines, tuple(rows), group.origins)


def identity(issue: Issue) -> str:
    """What ties an issue to itself in another run: its name, or without one its wording."""
    return issue.name or " ".join(issue.summary.casefold().split())


def _sightings(release: int, digests: Iterable[Digest]) -> Iterable[Sighting]:
    """Every issue of some runs, once a run."""
    for run in digests:
        more = details(run)
        pairs = zip(more.issues, more.issue_screens, strict=True)
        noted = ((issue, screen) for issue, screen in pairs if issue.area != RECORDING)
        # Noted twice in one run it is one issue; how it was worded first is what it is called.
        first: dict[str, tuple[Issue, ScreenKey | None]] = {}
        for issue, screen in noted:
            first.setdefault(identity(issue), (issue, screen))
        yield from (Sighting(release, run, issue, screen) for issue, screen in first.values())


def _row(group: ReleaseGroup, sightings: Sequence[Sighting], passing: _Passing) -> IssueRow:
    first, last = sightings[0], sightings[-1]
    case = _Case(group, sightings, passing)
    # One that was never fixed has cost nobody knows how much, so it stays out of the median.
    overcome = [sighting.issue.lost for sighting in sightings if sighting.issue.lost is not None]
    cells = case.cells()
    return IssueRow(
        name=last.issue.name,
        summary=first.issue.summary,
        severity=last.issue.severity,
        area=last.issue.area,
        place=first.issue.screen or first.issue.phase,
        rig_bound=case.rig_bound,
        tried_before=any(
            cell.passed
            for cell, line in zip(cells[: first.release], group.origins, strict=False)
            if line == group.origins[first.release]
        ),
        cells=cells,
        first_seen=group.releases[first.release],
        last_seen=group.releases[last.release],
        seen=len(sightings),
        passed=sum(cell.passed for cell in cells),
        cost=median(overcome) if overcome else None,
        unfixed=sum(sighting.issue.fixed_at is None for sighting in sightings),
        ways_round=tuple(dict.fromkeys(sighting.issue.fix for sighting in sightings if sighting.issue.fix)),
        in_vain=tuple(dict.fromkeys(remedy for sighting in sightings for remedy in sighting.issue.tried)),
        only_there=case.only_there,
        only=last.issue.only,
        trials=tuple(sorted(case.trials)),
        seen_at=tuple(LogPlace(sighting.run.run, sighting.issue.at) for sighting in sightings),
    )


class _Case:
    """One issue, with all runs of the lines that have it."""

    def __init__(self, group: ReleaseGroup, sightings: Sequence[Sighting], passing: _Passing) -> None:
        self.group, self.sightings, self.passing = group, sightings, passing
        named = sightings[0].issue.name is not None
        self.lines = set(group.origins) if named else {group.origins[sightings[0].release]}
        self.having = {sighting.run.run for sighting in sightings}
        self.kinds = {passing.kind(sighting.run) for sighting in sightings}

    @cached_property
    def only_there(self) -> bool:
        """Whether other kinds of rig came by without it in a release that has it."""
        releases = {sighting.release for sighting in self.sightings}
        elsewhere = (
            run for release in releases for run in self._runs(release) if self.passing.kind(run) not in self.kinds
        )
        return self._is_said or any(map(self._came_by, elsewhere))

    @cached_property
    def _is_said(self) -> bool:
        """Whether somebody says that it was met on this rig alone; of an edition that says nothing of rigs."""
        return any(sighting.issue.only == sighting.run.rig for sighting in self.sightings)

    @cached_property
    def rig_bound(self) -> bool:
        """Whether it shows on some kinds of rig only, as others came by without it, or as its area says."""
        # Trouble with hardware cannot show on other hardware, even where nobody has tried to tell the two apart.
        return self.only_there or any(sighting.issue.area in _OF_HARDWARE for sighting in self.sightings)

    def cells(self) -> tuple[IssueCell, ...]:
        """The issue in each release: its status, in how many runs it was seen, and how many came by."""
        cells: list[IssueCell] = []
        told: dict[str, list[IssueStatus]] = {}
        for release, line in enumerate(self.group.origins):
            runs = self._runs(release) if line in self.lines else ()
            having = [run for run in runs if run.run in self.having]
            # A run that has it came by, wherever it was; any other counts only if it could have shown there.
            passed = [run for run in runs if run.run in self.having or (self._may_show(run) and self._came_by(run))]
            known = _known(told.get(line, ()))
            status = _status(bool(having), bool(passed), known)
            told.setdefault(line, []).append(status)
            rigs = tuple(dict.fromkeys(run.rig for run in having))
            before = known[-1] if known else None
            cells.append(IssueCell(status, len(having), len(passed), len(runs), rigs, before))
        return tuple(cells)

    def _runs(self, release: int) -> Sequence[Digest]:
        return self.group.runs[self.group.releases[release]]

    def _may_show(self, run: Digest) -> bool:
        return not self.rig_bound or self.passing.kind(run) in self.kinds

    @cached_property
    def trials(self) -> frozenset[str]:
        """The trials that the issue let fail: whoever makes none of them goes by its place and cannot know."""
        return frozenset(
            check.name
            for sighting in self.sightings
            for check in sighting.run.checks
            if check.result in {"fail", "partly"} and _words(check.name) <= _words(identity(sighting.issue))
        )

    def _came_by(self, run: Digest) -> bool:
        if self.trials:
            return any(check.name in self.trials and check.result == "pass" for check in run.checks)
        return run.told and any(_is_on_the_way(each) and self.passing.by(each, run) for each in self.sightings)


def _is_on_the_way(sighting: Sighting) -> bool:
    """Whether trouble stood where every run comes by: having been at a desktop is no look at what was wrong there."""
    return sighting.issue.phase not in _LOOKED_AROUND


def _words(text: str) -> frozenset[str]:
    return frozenset(re.findall(r"\w+", text.casefold()))


def _known(statuses: Iterable[IssueStatus]) -> list[IssueStatus]:
    """Without the releases that say nothing: what it was before them is still what is known."""
    return [status for status in statuses if status not in {IssueStatus.ABSENT, IssueStatus.NOT_RETESTED}]


def _status(seen: bool, passed: bool, known: Sequence[IssueStatus]) -> IssueStatus:
    if not known:
        return IssueStatus.NEW if seen else IssueStatus.ABSENT
    if seen:
        return IssueStatus.BACK_AGAIN if known[-1] is IssueStatus.GONE else IssueStatus.STILL_THERE
    return IssueStatus.GONE if passed else IssueStatus.NOT_RETESTED


class _Passing:
    """Says which runs came by the place of an issue. Routes that were aligned once are not aligned again."""

    def __init__(self, group: ReleaseGroup, rigs: Mapping[str, Rig], rulings: Rulings) -> None:
        self.group, self.rigs, self.rulings = group, rigs, rulings
        self.known: dict[tuple[Route, ScreenKey, Route], bool] = {}

    def kind(self, run: Digest) -> str:
        """What kind of rig a run was on; of one without a card, itself."""
        rig = self.rigs.get(run.rig, Rig())
        return " ".join(word for word in (rig.kind, rig.firmware) if word) or run.rig

    def by(self, sighting: Sighting, run: Digest) -> bool:
        """Whether a run came by the place of a sighting."""
        screen = sighting.screen
        if screen is None:
            return sighting.issue.phase in details(run).phases
        there = route(run)
        # The usual case by far, and the one in which nothing needs to be aligned.
        if any(other.title == screen.title and other.kind == screen.kind for other in there.screens):
            return True
        key = (route(sighting.run), screen, there)
        if key not in self.known:
            self.known[key] = self._aligned(*key)
        return self.known[key]

    def _aligned(self, home: Route, screen: ScreenKey, there: Route) -> bool:
        """Whether the screen that is aligned with this one is on another route; off its route, one similar to it."""
        # The screen of a lost attempt is not on its run's own route, so there is nothing to align it by.
        places = [place for place, other in enumerate(home.screens) if other.title == screen.title]
        if not places:
            return any(similarity(screen, other, self.rulings) >= WEIGHTS.same for other in there.screens)
        rows = merge([home.screens, there.screens], self.rulings)
        return any(row[0] in places and row[1] is not None for row in rows)
