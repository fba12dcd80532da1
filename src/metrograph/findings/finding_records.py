"""The records of findings: what was found of two releases, which way it goes, how sure it is, and on what it rests."""

from __future__ import annotations

from enum import IntEnum, StrEnum

import msgspec

from metrograph.compare.flow_records import LogPlace
from metrograph.ledgers.issues import IssueStatus
from metrograph.log.quantities.ranges import Range


class Subject(StrEnum):
    """What a finding is about."""

    ISSUE = "issue"
    TRIAL = "trial"
    TIME = "time"
    READING = "reading"
    DISK_USED = "disk used"
    PRESET = "pre-set"
    CROSSED = "screens across the restart"
    SCREENS_NEW = "screens new"
    SCREENS_GONE = "screens gone"
    QUESTIONS_NEW = "questions new"
    QUESTIONS_GONE = "questions gone"
    SOFTWARE = "software"
    RATING = "rating"
    SAME_INSTALLER = "same installer"


class Way(StrEnum):
    """Whether what was found is better or worse in the later release, or only other."""

    WORSE = "worse"
    BETTER = "better"
    OTHER = "other"


class Sureness(StrEnum):
    """How sure a finding is: it was noted, or a difference of figures that is clear or likely. Chance is no finding."""

    NOTED = "noted"
    CLEAR = "clear"
    LIKELY = "likely"


class Priority(IntEnum):
    """What a reader decides by, the weightiest first."""

    BLOCKER = 0
    MAJOR = 1
    TRIALS = 2
    FIGURES = 3
    DEFAULTS = 4
    SCREENS = 5
    MINOR = 6
    SOFTWARE = 7
    LOOKS = 8


class DifferenceStep(msgspec.Struct, frozen=True):
    """A part of a difference. name: of a phase, or of what was added; amount: in the figure's unit, with its sign."""

    name: str
    amount: float


class Amount(msgspec.Struct, frozen=True):
    """How much a figure differs. name: of the measure or reading; steps: where that arises, which sum to it."""

    name: str
    unit: str
    before: Range
    after: Range
    steps: tuple[DifferenceStep, ...] = ()


class IssueOutcome(msgspec.Struct, frozen=True):
    """What became of an issue.

    status: in the later release; severity: None where none was noted.
    seen, passed: in how many runs of the release that tells it, of how many that came by; seen_before, passed_before:
        of the earlier one.
    rigs: where it is bound to; only_there: whether others were tried and did not have it.
    tried_before: whether the earlier release came by its place; known_before: whether any before did.
    across: whether the two releases are of different lines, of which neither came first.
    last_seen: the release before that had it last; shared_with: one of another line that has it too.
    """

    status: IssueStatus
    severity: str | None
    seen: int
    passed: int
    seen_before: int
    passed_before: int
    rigs: tuple[str, ...] = ()
    only_there: bool = False
    tried_before: bool = True
    known_before: bool = True
    across: bool = False
    last_seen: str = ""
    shared_with: str = ""


class TrialOutcome(msgspec.Struct, frozen=True):
    """How a trial came out.

    before: None where it was not made; under: its condition; detail: what was said of it; again: as it did some time
    before. before_under: how it came out before under another condition, where that is all there is.
    across: whether the two releases are of different lines.
    """

    before: str | None
    after: str
    under: str | None = None
    detail: str = ""
    again: bool = False
    before_under: str | None = None
    across: bool = False


class PresetChange(msgspec.Struct, frozen=True):
    """A value that is pre-set otherwise. screen: on which; as_in: an earlier release that had it too."""

    screen: str
    before: str
    after: str
    as_in: str | None = None


class ScreenList(msgspec.Struct, frozen=True):
    """Screens, or questions, in the order in which they come. late: whether they are behind the restart now."""

    titles: tuple[str, ...]
    late: bool = False


class ValueChange(msgspec.Struct, frozen=True):
    """A rating, as it was given before and is given now."""

    before: str
    after: str


Detail = IssueOutcome | TrialOutcome | Amount | PresetChange | ScreenList | ValueChange


class Finding(msgspec.Struct, frozen=True):
    """One thing that is worth telling of two releases.

    of: the earlier and the later, where they are of one line; thing: the issue in its own words, or the name of the
    trial, the figure, the key or the software.
    rests_on: cues, as far as they are known; figures rest on the runs that count.
    """

    what: Subject
    of: tuple[str, str]
    thing: str
    way: Way
    sure: Sureness
    weight: Priority
    detail: Detail
    rests_on: tuple[LogPlace, ...] = ()
