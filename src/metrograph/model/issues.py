"""The ledger of issues: what became of each from release to release. Also the JSON that is printed."""

from __future__ import annotations

from typing import Literal

import msgspec

from metrograph.model.ranges import Range

Standing = Literal["new", "still there", "gone", "back again", "not retested", "absent"]
"""``gone`` is said only where it could have shown itself; ``absent`` stands before it was first seen."""


class IssueCell(msgspec.Struct, frozen=True):
    """An issue in one release.

    standing: against the releases of its line before this one.
    seen: in how many runs; passed: how many came by its place on a rig where it could show, those included.
    runs: how many there are; rigs: where it was seen.
    """

    standing: Standing
    seen: int
    passed: int
    runs: int
    rigs: tuple[str, ...] = ()


class IssueRow(msgspec.Struct, frozen=True):
    """An issue across releases.

    name: what ties it to itself in other runs; None where its wording does.
    summary, severity, area: as it was noted last.
    place: the title of the screen where it stood first, or the phase where there was no screen.
    rig_bound: whether it shows on some kinds of rig only, so that others say nothing about it.
    tried_before: whether a release before the first that has it came by the place without it, so that it is truly new.
    cells: an entry per release.
    first_seen, last_seen: releases.
    seen, passed: runs of all releases together.
    cost: the median of the time it took where it was overcome; None where it never was.
    unfixed: in how many runs it was not overcome.
    ways_round: what helped, each once.
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


class IssueLedger(msgspec.Struct, frozen=True):
    """Issues by release; see ``ledgers`` for what ``releases`` and ``lines`` are."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[IssueRow, ...]
