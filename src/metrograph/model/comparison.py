"""What comes out when flows are laid beside each other. These records are also the JSON that is printed.

"Release" stands here for one side of the comparison: all runs of a release, or the one run that was named. Lists with
an entry per release are in the order of ``Comparison.releases``, the baseline first. Durations and moments are
``Range`` in seconds; where a release has several runs they are medians.
"""

from __future__ import annotations

from typing import Literal

import msgspec

from metrograph.model.contrasts import Contrast
from metrograph.model.figures import Spread
from metrograph.model.issues import IssueRow
from metrograph.model.ledgers import CheckRow
from metrograph.model.ranges import Range
from metrograph.model.runs import Choice, Milestones, Run

What = Literal[
    "overview-new",
    "overview-gone",
    "screen-split",
    "screen-merged",
    "screen-crossed",
    "screen-new",
    "screen-gone",
    "preset-changed",
    "question-new",
    "question-gone",
    "check-changed",
    "layout-changed",
    "offer-changed",
    "question-moved",
    "typing-changed",
    "phase-new",
    "phase-gone",
    "hands-changed",
    "screen-moved",
    "choice-changed",
    "screen-renamed",
]
"""What may change, in the order in which it matters to a person who installs."""

Grounds = Literal["times", "results"]
"""What a reason for care takes the ground from: times cannot be compared at all, or results are to be read with it."""


class Side(msgspec.Struct, frozen=True):
    """What stands on one side: a release or a run by name, and its runs, at least one, oldest first."""

    name: str
    runs: tuple[Run, ...]


class Moment(msgspec.Struct, frozen=True):
    """Where in the logs something can be found. at: on the clock of the run."""

    run: str
    at: Range


class Cell(msgspec.Struct, frozen=True):
    """A screen of the merged flow as one release has it.

    returns: how often it was come back to at most; coming back to an overview is none.
    runs: how many of the release's runs passed it.
    seen: when it came up, in the latest run that has it under this title.
    noted: for each choice, when it was made, in the latest run that made it so.
    answered: for each choice, how many runs answered that question at all.
    place: where it stands among the release's own screens, from 1.
    door: whether it stands behind a door of an overview, where a person takes the screens in any order.
    """

    title: str
    phase: str
    on_clock: Range
    person: Range
    machine: Range
    returns: int
    runs: int
    choices: tuple[Choice, ...] = ()
    noted: tuple[Moment, ...] = ()
    answered: tuple[int, ...] = ()
    seen: Moment | None = None
    door: bool = False
    place: int = 0


class Row(msgspec.Struct, frozen=True):
    """One screen of the merged flow.

    number: from 1; titles: all it goes by; cells: an entry per release, None where it is absent.
    """

    number: int
    kind: str
    titles: tuple[str, ...]
    cells: tuple[Cell | None, ...]


class Change(msgspec.Struct, frozen=True, rename={"earlier": "from", "later": "to"}):
    """One difference between two releases.

    kind, title: of the screen; None where it is no screen that changed.
    key: of the choice, or the name of the check, the phase, or the part of the layout.
    before, after: a title, a place in the flow, a value or a comma list, according to ``what``.
    before_at, after_at: the cues it rests on, in the earlier and the later release; None where there is none.
    as_in: of a pre-set value, the last release before the two that had the later one too; None when there is none.
    """

    earlier: str
    later: str
    what: What
    kind: str | None = None
    title: str | None = None
    key: str | None = None
    before: str | None = None
    after: str | None = None
    before_at: Moment | None = None
    after_at: Moment | None = None
    as_in: str | None = None


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
    grounds: Grounds


class Comparison(msgspec.Struct, frozen=True):
    """Several releases beside each other.

    overviews: the screen whose doors lead to the others; None where an installer has none.
    changes: between neighbours; since_baseline: between the baseline and those that are not its neighbours.
    figures: per release, by name.
    contrasts: what may be concluded, for the same pairs as the changes.
    checks: trials by release.
    """

    baseline: str
    releases: tuple[str, ...]
    runs: tuple[tuple[str, ...], ...]
    overviews: tuple[str | None, ...]
    rows: tuple[Row, ...]
    changes: tuple[Change, ...]
    since_baseline: tuple[Change, ...]
    times: tuple[Times, ...]
    figures: tuple[dict[str, Spread], ...]
    contrasts: tuple[Contrast, ...]
    issues: tuple[IssueRow, ...]
    readings: tuple[ReadingRow, ...]
    checks: tuple[CheckRow, ...]
    care: tuple[Care, ...]
