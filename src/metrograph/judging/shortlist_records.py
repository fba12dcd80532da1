"""The records of a shortlist: who passes, in which order, why, how sure that is, and what would turn it."""

from __future__ import annotations

from enum import StrEnum

import msgspec

from metrograph.log.quantities.ranges import Range

FIRST = 0.6
"""Share of the samples that a release has to come first in, to be called the first."""


class TopicKind(StrEnum):
    """The ledger in which a name that a reader uses is found."""

    FIGURE = "figure"
    READING = "reading"
    WEIGHT = "weight"
    TRIAL = "trial"
    RATING = "rating"
    SOFTWARE = "software"
    FACT = "fact"
    NOTHING = "nothing"


class Wrong(StrEnum):
    """Why a name that a reader uses cannot be used."""

    UNKNOWN = "unknown"
    STATES = "states"
    DIRECTION = "direction"
    UNIT = "unit"


class Unusable(msgspec.Struct, frozen=True):
    """A name that a reader uses and that cannot be used so.

    name: as the reader has it; known: what could stand there.
    """

    name: str
    wrong: Wrong
    known: tuple[str, ...] = ()

    @property
    def is_fatal(self) -> bool:
        """Whether nothing can be worked out; what nobody noted is merely unknown."""
        return self.wrong is not Wrong.UNKNOWN


class TopicValue(msgspec.Struct, frozen=True):
    """The value of one release in a topic.

    amount: the median of its runs, in the topic's unit; a trial that passed, and software on board, is 1; a rating is
        its part of the whole. None where nobody noted any.
    least, most: the outermost bounds of its runs; most is None where that is open.
    runs: how many have it.
    said: in words, for what is no figure.
    """

    amount: Range | None = None
    least: float = 0.0
    most: float | None = None
    runs: int = 0
    said: str = ""


class Need(msgspec.Struct, frozen=True):
    """How a release stands to something that is required.

    required: as the reader has it.
    met: None where what was noted leaves it open.
    kind, unit: of what is required; amount, said: what the release has of it, see ``TopicValue``.
    limit: as the reader has it; empty for what is no figure.
    """

    required: str
    name: str
    met: bool | None
    kind: TopicKind
    unit: str
    amount: Range | None = None
    said: str = ""
    limit: str = ""


class WishPart(msgspec.Struct, frozen=True):
    """The worth of a release by one wish.

    worth: between what it is worth at least and at most, 0 to 1; weight: its share of all weights, 0 to 1.
    kind, unit: of the topic; amount, said, runs: see ``TopicValue``.
    """

    wish: str
    weight: float
    worth: tuple[float, float]
    kind: TopicKind
    unit: str
    amount: Range | None = None
    said: str = ""
    runs: int = 0

    @property
    def middle(self) -> float:
        """Half-way between the least and the most that it is worth."""
        return (self.worth[0] + self.worth[1]) / 2

    @property
    def is_known(self) -> bool:
        """Whether anything was noted that says how much it is worth."""
        return self.amount is not None


class JudgedRelease(msgspec.Struct, frozen=True):
    """One release of a shortlist.

    passes: whether it has all that is required; None where that is open.
    failed, left_open: of what is required.
    worth: what its wishes are worth together at least and at most, 0 to 1; None of one that does not pass.
    first: share of the samples in which it comes first; ranks: at each rank, from the first.
    parts: a wish each, in the reader's order.
    at_least_as: others that it is at least as good as in every wish, and better in one.
    """

    release: str
    passes: bool | None
    failed: tuple[Need, ...] = ()
    left_open: tuple[Need, ...] = ()
    worth: tuple[float, float] | None = None
    first: float | None = None
    ranks: tuple[float, ...] = ()
    parts: tuple[WishPart, ...] = ()
    at_least_as: tuple[str, ...] = ()

    @property
    def middle(self) -> float:
        """Half-way between the least and the most that it is worth."""
        return sum(self.worth) / 2 if self.worth is not None else 0.0


class TurnedBy(StrEnum):
    """The thing that would have to change."""

    WEIGHT = "weight"
    FIGURE = "figure"


class Turn(msgspec.Struct, frozen=True):
    """The smallest change of one weight, or of one figure, with which another release comes first.

    by: which of them; wish: of which.
    release: whose figure it is; empty for a weight.
    before, after: the weight as the reader has it, or the figure in its unit.
    """

    by: TurnedBy
    wish: str
    release: str
    before: float
    after: float
    kind: TopicKind
    unit: str
    first: str


class MeasureNext(msgspec.Struct, frozen=True, rename={"against": "now"}):
    """The figure that is best noted next.

    sure: share of the samples in which the first would come first on the average, once this is known; against: now.
    runs: how many have it; 0 where nobody noted any.
    """

    release: str
    wish: str
    kind: TopicKind
    sure: float
    against: float
    runs: int


class Shortlist(msgspec.Struct, frozen=True):
    """The releases that a reader chooses from, the best first, then those that lack what is required.

    about: who the reader is; readings: how often figures and weights were varied; seed: what chance began with.
    weights: by which factor weights may be off.
    is_sure: whether the first is the first.
    wins: of those that pass, in their order: share of the samples in which one comes before another.
    relative: wishes that go from the worst to the best of those that are compared.
    unrepeated: wishes of which no repeats are known, so that a figure is taken as it is.
    unknown: names that nobody noted anything of.
    not_on_one_rig: whether there is no rig that all were installed on.
    """

    reader: str
    about: str
    order: tuple[JudgedRelease, ...]
    samples: int
    seed: int
    weights: float
    is_sure: bool
    wins: tuple[tuple[float, ...], ...] = ()
    turns: tuple[Turn, ...] = ()
    measure_next: tuple[MeasureNext, ...] = ()
    relative: tuple[str, ...] = ()
    unrepeated: tuple[str, ...] = ()
    unknown: tuple[str, ...] = ()
    not_on_one_rig: bool = False

    @property
    def releases(self) -> tuple[str, ...]:
        """All releases of the shortlist, in their order."""
        return tuple(candidate.release for candidate in self.order)

    @property
    def in_question(self) -> tuple[JudgedRelease, ...]:
        """Those that have what is required, or may have it."""
        return tuple(candidate for candidate in self.order if candidate.passes is not False)
