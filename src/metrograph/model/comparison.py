"""What comes out when flows are laid beside each other. These records are also the JSON that is printed.

"Release" stands here for one side of the comparison: all runs of a release, or the one run that was named. Lists with
an entry per release are in the order of ``Comparison.releases``, the baseline first. Durations and moments are
``Range`` in seconds; where a release has several runs they are medians.
"""

from __future__ import annotations

from typing import Literal

import msgspec

from metrograph.model.ranges import Range
from metrograph.model.runs import Choice, Milestones, Run

What = Literal[
    "screen-new",
    "screen-gone",
    "screen-renamed",
    "screen-moved",
    "question-new",
    "question-gone",
    "preset-changed",
    "choice-changed",
    "offer-changed",
    "check-changed",
]
Standing = Literal["new", "still there", "gone", "not passed again", "absent"]


class Side(msgspec.Struct, frozen=True):
    """What stands on one side: a release or a run by name, and its runs, at least one, oldest first."""

    name: str
    runs: tuple[Run, ...]


class Cell(msgspec.Struct, frozen=True):
    """A screen of the merged flow as one release has it.

    runs: how many of the release's runs passed it.
    """

    title: str
    phase: str
    on_clock: Range
    person: Range
    machine: Range
    returns: int
    runs: int
    choices: tuple[Choice, ...] = ()


class Row(msgspec.Struct, frozen=True):
    """One screen of the merged flow. titles: all it goes by; cells: an entry per release, None where it is absent."""

    kind: str
    titles: tuple[str, ...]
    cells: tuple[Cell | None, ...]


class Change(msgspec.Struct, frozen=True, rename={"earlier": "from", "later": "to"}):
    """One difference between two neighbours.

    kind, title: of the screen; for a check they are None. key: of the choice, or the name of the check.
    before, after: a title, a place in the flow, a value or a comma list, according to ``what``.
    """

    earlier: str
    later: str
    what: What
    kind: str | None = None
    title: str | None = None
    key: str | None = None
    before: str | None = None
    after: str | None = None


class PhaseTime(msgspec.Struct, frozen=True):
    """The time of one phase in one release, failed attempts included."""

    on_clock: Range
    person: Range
    machine: Range


class Times(msgspec.Struct, frozen=True):
    """Where the time of one release went.

    runs: how many there are; attempts: how many they took together.
    phases: by name, in the order they come.
    """

    release: str
    runs: int
    attempts: int
    elapsed: Range
    on_clock: Range
    person: Range
    machine: Range
    paused: Range
    lost: Range
    milestones: Milestones
    phases: dict[str, PhaseTime]


class IssueRow(msgspec.Struct, frozen=True):
    """An issue across releases.

    seen: in how many of its runs each release had it.
    standing: an entry per release, against the one before it; the baseline's says ``new`` or ``absent``.
    """

    name: str | None
    summary: str
    severity: str | None
    seen: tuple[int, ...]
    standing: tuple[Standing, ...]


class ReadingRow(msgspec.Struct, frozen=True):
    """A figure across releases, taken in one state and under one load.

    load: rest, busy, or None where it was not said.
    values: a median per release, None where it was not taken.
    """

    name: str
    state: str
    unit: str
    load: str | None
    values: tuple[float | None, ...]


class Care(msgspec.Struct, frozen=True):
    """A reason to read the results with care. values: an entry per release."""

    what: str
    values: tuple[str, ...]
    sentence: str


class Comparison(msgspec.Struct, frozen=True):
    """Several releases beside each other."""

    baseline: str
    releases: tuple[str, ...]
    runs: tuple[tuple[str, ...], ...]
    rows: tuple[Row, ...]
    changes: tuple[Change, ...]
    times: tuple[Times, ...]
    issues: tuple[IssueRow, ...]
    readings: tuple[ReadingRow, ...]
    care: tuple[Care, ...]
