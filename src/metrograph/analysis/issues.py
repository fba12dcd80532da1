"""Keeps the ledger of issues: new, still there, gone, back again, or not retested since nobody came by.

An issue is tied to itself by its name, or without one by its wording. It is gone only where a run came by the same
place without it: the screen that is aligned with its own, or without a screen the same phase; on the same kind of rig,
when it shows on some kinds only.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property

import msgspec

from metrograph.analysis.alignment import merge
from metrograph.analysis.digests import details, way
from metrograph.analysis.ledgers import Group
from metrograph.analysis.likeness import SAME, likeness
from metrograph.model.cards import Rig
from metrograph.model.flows import NO_RULINGS, Rulings, Stop, Way
from metrograph.model.issues import IssueCell, IssueLedger, IssueRow, Standing
from metrograph.model.ledgers import Digest
from metrograph.model.ranges import median
from metrograph.model.runs import Issue

_OF_HARDWARE = frozenset({"hardware", "firmware", "storage", "graphics", "wireless", "sound", "power"})
"""Areas whose issues are taken as bound to their kind of rig even where nothing else was tried."""

_SEVERITIES = ("blocker", "major", "minor", "cosmetic", None)


class Sighting(msgspec.Struct, frozen=True):
    """An issue in a run. stop: the screen it stood on; None where there was none."""

    release: int
    run: Digest
    issue: Issue
    stop: Stop | None


def issues_ledger(group: Group, rigs: Mapping[str, Rig], rulings: Rulings = NO_RULINGS) -> IssueLedger:
    """All issues of these releases, the worst first, and among equals in the order they were first seen."""
    found: dict[tuple[str, str], list[Sighting]] = {}
    for number, digests in enumerate(group.runs.values()):
        for sighting in _sightings(number, digests):
            found.setdefault((group.lines[number], identity(sighting.issue)), []).append(sighting)
    passing = _Passing(group, rigs, rulings)
    rows = [_row(group, sightings, passing) for sightings in found.values()]
    rows.sort(key=lambda row: _SEVERITIES.index(row.severity) if row.severity in _SEVERITIES else len(_SEVERITIES))
    return IssueLedger(group.releases, group.lines, tuple(rows))


def identity(issue: Issue) -> str:
    """What ties an issue to itself in another run: its name, or without one its wording."""
    return issue.name or " ".join(issue.summary.casefold().split())


def _sightings(release: int, digests: Iterable[Digest]) -> Iterable[Sighting]:
    """Every issue of some runs, once a run."""
    for run in digests:
        own = details(run)
        noted = zip(own.issues, own.issue_stops, strict=True)
        for issue, stop in {identity(issue): (issue, stop) for issue, stop in noted}.values():
            yield Sighting(release, run, issue, stop)


def _row(group: Group, sightings: Sequence[Sighting], passing: _Passing) -> IssueRow:
    first, last = sightings[0], sightings[-1]
    case = _Case(group, sightings, passing)
    overcome = [each.issue.lost for each in sightings if each.issue.lost is not None]
    cells = case.cells()
    return IssueRow(
        name=last.issue.name,
        summary=last.issue.summary,
        severity=last.issue.severity,
        area=last.issue.area,
        place=first.issue.screen or first.issue.phase,
        rig_bound=case.rig_bound,
        tried_before=any(cell.passed for cell in cells[: first.release]),
        cells=cells,
        first_seen=group.releases[first.release],
        last_seen=group.releases[last.release],
        seen=len(sightings),
        passed=sum(cell.passed for cell in cells),
        cost=median(overcome) if overcome else None,
        unfixed=len(sightings) - len(overcome),
        ways_round=tuple(dict.fromkeys(each.issue.fix for each in sightings if each.issue.fix)),
    )


class _Case:
    """One issue, with all runs of its line."""

    def __init__(self, group: Group, sightings: Sequence[Sighting], passing: _Passing) -> None:
        self.group, self.sightings, self.passing = group, sightings, passing
        self.line = group.lines[sightings[0].release]
        self.having = {each.run.run for each in sightings}
        self.kinds = {passing.kind(each.run) for each in sightings}

    @cached_property
    def rig_bound(self) -> bool:
        """Whether other kinds of rig came by without it in a release that has it, or its area says so."""
        releases = {each.release for each in self.sightings}
        elsewhere = (
            run for release in releases for run in self._runs(release) if self.passing.kind(run) not in self.kinds
        )
        return any(each.issue.area in _OF_HARDWARE for each in self.sightings) or any(map(self._came_by, elsewhere))

    def cells(self) -> tuple[IssueCell, ...]:
        """What became of it in each release."""
        cells: list[IssueCell] = []
        for release in range(len(self.group.releases)):
            runs = self._runs(release) if self.group.lines[release] == self.line else ()
            own = [run for run in runs if run.run in self.having]
            passed = [run for run in runs if run.run in self.having or (self._may_show(run) and self._came_by(run))]
            standing = _standing(bool(own), bool(passed), [cell.standing for cell in cells])
            rigs = tuple(dict.fromkeys(run.rig for run in own))
            cells.append(IssueCell(standing, len(own), len(passed), len(runs), rigs))
        return tuple(cells)

    def _runs(self, release: int) -> Sequence[Digest]:
        return self.group.runs[self.group.releases[release]]

    def _may_show(self, run: Digest) -> bool:
        return not self.rig_bound or self.passing.kind(run) in self.kinds

    def _came_by(self, run: Digest) -> bool:
        return any(self.passing.by(each, run) for each in self.sightings)


def _standing(seen: bool, passed: bool, before: Sequence[Standing]) -> Standing:
    known = [standing for standing in before if standing not in {"absent", "not retested"}]
    if not known:
        return "new" if seen else "absent"
    if seen:
        return "back again" if known[-1] == "gone" else "still there"
    return "gone" if passed else "not retested"


class _Passing:
    """Says which runs came by the place of an issue. Ways that were aligned once are not aligned again."""

    def __init__(self, group: Group, rigs: Mapping[str, Rig], rulings: Rulings) -> None:
        self.group, self.rigs, self.rulings = group, rigs, rulings
        self.known: dict[tuple[Way, Stop, Way], bool] = {}

    def kind(self, run: Digest) -> str:
        """What kind of rig a run was on; of one without a card, itself."""
        rig = self.rigs.get(run.rig, Rig())
        return " ".join(word for word in (rig.kind, rig.firmware) if word) or run.rig

    def by(self, sighting: Sighting, run: Digest) -> bool:
        """Whether a run came by the place of a sighting."""
        stop = sighting.stop
        if stop is None:
            return sighting.issue.phase in details(run).phases
        there = way(run)
        if any(each.title == stop.title and each.kind == stop.kind for each in there.stops):
            return True
        key = (way(sighting.run), stop, there)
        if key not in self.known:
            self.known[key] = self._aligned(*key)
        return self.known[key]

    def _aligned(self, home: Way, stop: Stop, there: Way) -> bool:
        """Whether the screen that is aligned with a stop is in another way; off its own way, one like it."""
        places = [place for place, each in enumerate(home.stops) if each.title == stop.title]
        if not places:
            return any(likeness(stop, each, self.rulings) >= SAME for each in there.stops)
        rows = merge([home.stops, there.stops], self.rulings)
        return any(row[0] in places and row[1] is not None for row in rows)
