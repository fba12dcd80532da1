"""Says how much a figure is worth to a reader: from nothing at one end of a wish to everything at the other."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from metrograph.judging.shortlist_records import TopicValue, Unusable, WishPart, Wrong
from metrograph.judging.topics import Topic
from metrograph.log.quantities.quantity import Quantity
from metrograph.log.quantities.ranges import Range
from metrograph.run.readers import Wish

ALL = (0.0, 1.0)
"""What something may be worth that nobody knows."""


class Scale(msgspec.Struct, frozen=True):
    """Where a figure is worth nothing and where everything, in its unit; where both are the same, all are worth that.

    relative: whether these are the worst and the best of those that are compared.
    """

    worst: float
    best: float
    relative: bool = False

    def worth(self, value: float) -> float:
        """What a value is worth: in proportion between the two ends, and no more or less beyond them."""
        if self.worst == self.best:
            return 1.0
        return min(max((value - self.worst) / (self.best - self.worst), 0.0), 1.0)

    def value(self, worth: float) -> float:
        """The value that is worth so much."""
        return self.worst + worth * (self.best - self.worst)

    def span(self, low: float, high: float | None) -> tuple[float, float]:
        """What lies between two values is worth at least and at most; high is None where nobody knows how much more."""
        beyond = 1.0 if self.best > self.worst else 0.0
        ends = self.worth(low), beyond if high is None else self.worth(high)
        return min(ends), max(ends)


class Criterion(msgspec.Struct, frozen=True):
    """A wish with what it is about and how its worth is measured."""

    wish: Wish
    topic: Topic
    scale: Scale

    def part(self, release: str, weights: float) -> WishPart:
        """What it makes of a release. weights: of all wishes together."""
        held = self.topic.of(release)
        return WishPart(
            wish=self.wish.name, weight=self.wish.weight / weights, worth=self.worth(held), kind=self.topic.kind,
            unit=self.topic.unit, amount=held.amount, said=held.said, runs=held.runs,
        )  # fmt: skip

    def worth(self, held: TopicValue) -> tuple[float, float]:
        """What the median of a release's runs is worth at least and at most."""
        return ALL if held.amount is None else self.scale.span(held.amount.low, held.amount.high)

    def utmost(self, held: TopicValue) -> tuple[float, float]:
        """What any of its runs is worth at least and at most."""
        return ALL if held.amount is None else self.scale.span(held.least, held.most)


def criterion(wish: Wish, topic: Topic, releases: Sequence[str]) -> Criterion | Unusable:
    """A wish with its scale, among some releases."""
    scale = _said(wish, topic) if wish.worst is not None else _usual(wish, topic, releases)
    return scale if isinstance(scale, Unusable) else Criterion(wish, topic, scale)


def _said(wish: Wish, topic: Topic) -> Scale | Unusable:
    """The scale that the reader gives."""
    ends = [scaled(end, topic) for end in (wish.worst, wish.best) if end is not None]
    known = [end for end in ends if end is not None]
    if len(known) < 2:
        return Unusable(wish.name, Wrong.UNIT, (topic.unit,))
    return Scale(known[0], known[1])


def _usual(wish: Wish, topic: Topic, releases: Sequence[str]) -> Scale | Unusable:
    """From nothing to one for shares; for figures, from the worst to the best of those that are compared."""
    if topic.is_share:
        return Scale(0.0, 1.0)
    if topic.better is None:
        return Unusable(wish.name, Wrong.DIRECTION, (topic.unit,))
    known = [held.amount for release in releases if (held := topic.of(release)).amount is not None]
    # A bound is no figure: a scale ends where one of its ends does, never half-way between them.
    ends = [end for amount in known for end in (amount.low, amount.high) if end is not None]
    low, high = (min(ends), max(ends)) if ends else (0.0, 0.0)
    return Scale(high, low, relative=True) if topic.better == "less" else Scale(low, high, relative=True)


def scaled(quantity: Quantity, topic: Topic) -> float | None:
    """A figure that a reader gives, in the unit of the topic; None where it is in another.

    A rating is a part of its whole, so that 7 of 10 is 0.7. A figure that nobody has noted takes any unit.
    """
    amount: Range | None = quantity.amount
    if amount is None:
        return None
    if topic.kind == "rating":
        word, _, whole = quantity.unit.partition(" ")
        return amount.low / float(whole) if word == "of" and whole and float(whole) else None
    if topic.kind == "nothing" or (quantity.unit == topic.unit and not topic.is_share):
        return amount.low
    return None
