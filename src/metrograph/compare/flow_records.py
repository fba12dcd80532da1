"""What comes out when flows are laid beside each other. These records are also the JSON that is printed.

"Release" stands here for one side of the comparison: all runs of a release, or the one run that was named. Lists with
an entry per release are in the order of the sides. Durations and moments are ``Range`` in seconds; where a release has
several runs they are medians.
"""

from __future__ import annotations

from enum import StrEnum

import msgspec

from metrograph.core.visitor import AnswerFields, Answering
from metrograph.log.quantities.ranges import Range
from metrograph.run.records import Choice, Run


class What(StrEnum):
    """A kind of change, in the order in which they matter to a person who installs."""

    OVERVIEW_NEW = "overview-new"
    OVERVIEW_GONE = "overview-gone"
    SCREEN_SPLIT = "screen-split"
    SCREEN_MERGED = "screen-merged"
    SCREEN_CROSSED = "screen-crossed"
    SCREEN_NEW = "screen-new"
    SCREEN_GONE = "screen-gone"
    PRESET_CHANGED = "preset-changed"
    QUESTION_NEW = "question-new"
    QUESTION_GONE = "question-gone"
    CHECK_CHANGED = "check-changed"
    CHECK_FIRST = "check-first"
    SOFTWARE_NEW = "software-new"
    SOFTWARE_GONE = "software-gone"
    LAYOUT_CHANGED = "layout-changed"
    OFFER_CHANGED = "offer-changed"
    QUESTION_MOVED = "question-moved"
    TYPING_CHANGED = "typing-changed"
    PHASE_NEW = "phase-new"
    PHASE_GONE = "phase-gone"
    HANDS_CHANGED = "hands-changed"
    SCREEN_MOVED = "screen-moved"
    CHOICE_CHANGED = "choice-changed"
    SCREEN_RENAMED = "screen-renamed"
    SOFTWARE_CHANGED = "software-changed"
    RATING_CHANGED = "rating-changed"
    SCORE_CHANGED = "score-changed"


MOVES = frozenset({What.SCREEN_MOVED, What.SCREEN_CROSSED})
"""Changes of a screen's place."""


class Side(msgspec.Struct, frozen=True):
    """One side of a comparison: a release or a run by name, and its runs, at least one, oldest first.

    line: what it continues; what one line has and another does not note is no change.
    """

    name: str
    runs: tuple[Run, ...]
    line: str = ""


class LogPlace(msgspec.Struct, frozen=True):
    """Where in the logs something can be found. at: on the clock of the run."""

    run: str
    at: Range


class FlowCell(msgspec.Struct, frozen=True):
    """A screen of the merged flow as one release has it.

    on_clock, person, machine: medians of the runs that count; None where none of them passed it.
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
    on_clock: Range | None
    person: Range | None
    machine: Range | None
    returns: int
    runs: int
    choices: tuple[Choice, ...] = ()
    noted: tuple[LogPlace, ...] = ()
    answered: tuple[int, ...] = ()
    seen: LogPlace | None = None
    door: bool = False
    place: int = 0


class FlowRow(msgspec.Struct, frozen=True):
    """One screen of the merged flow.

    number: from 1; titles: all it goes by; cells: an entry per release, None where it is absent.
    """

    number: int
    kind: str
    titles: tuple[str, ...]
    cells: tuple[FlowCell | None, ...]


_WITHOUT_ANSWER = frozenset({What.QUESTION_MOVED, What.TYPING_CHANGED})
"""Changes of a question that tell no answer."""


class Change(Answering, frozen=True, rename={"earlier": "from", "later": "to"}):
    """One difference between two releases.

    kind, title: of the screen; None where it is no screen that changed.
    key: of the choice, or the name of the check, the phase, the part of the layout, the software, or the rating.
    under: the condition of a check, the group of software, or the reader of a score; None where nothing was said.
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
    before_at: LogPlace | None = None
    after_at: LogPlace | None = None
    as_in: str | None = None
    under: str | None = None

    def answer(self) -> AnswerFields:
        """What was answered on either side."""
        return AnswerFields(None if self.what in _WITHOUT_ANSWER else self.key, ("before", "after"))


class Unknown(msgspec.Struct, frozen=True):
    """Something that one release has and another says nothing of, and why that means nothing.

    release: the one that says nothing; other: the one that has it.
    what: screen, question or phase; name: its title, key or name; on: the screen of a question.
    """

    release: str
    other: str
    what: str
    name: str
    why: str
    on: str | None = None


class Affects(StrEnum):
    """The reach of a caveat: times cannot be compared at all, or results are to be read with it."""

    TIMES = "times"
    RESULTS = "results"


class CaveatKind(StrEnum):
    """A circumstance that may differ."""

    RIG = "rig"
    MACHINE = "machine"
    MEMORY = "memory"
    PROCESSORS = "processors"
    DISK = "disk"
    FIRMWARE = "firmware"
    GRAPHICS = "graphics"
    NETWORK = "network"
    WAY = "way"
    METHOD = "method"
    ENCRYPTION = "encryption"
    EXTRAS = "extras"
    LANGUAGE = "language"
    CUTS = "cuts"
    OPEN = "open"
    RUNS = "runs"
    IMAGE_AGE = "image age"
    CHOICES = "choices"
    STATE = "state"


class Caveat(msgspec.Struct, frozen=True):
    """A reason to read the results with care.

    values: an entry per release; empty where nothing was said.
    names: what the caveat is about beyond its kind: the rigs in common, the name of a reading; more: how many further
        ones there are.
    """

    what: CaveatKind
    values: tuple[str, ...]
    affects: Affects
    names: tuple[str, ...] = ()
    more: int = 0
