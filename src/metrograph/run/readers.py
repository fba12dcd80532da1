"""Whom releases are chosen for, and what each wants of one: a reader has what is required, and wishes with weights."""

from __future__ import annotations

import re
from enum import StrEnum

import msgspec

from metrograph.log.quantities.quantity import Quantity

WEIGHTS = 1.5
"""By which factor weights may be off, unless the reader says so: nobody knows their own better than that."""


class Relation(StrEnum):
    """How a release is held against what is required."""

    AT_MOST = "<="
    BELOW = "<"
    AT_LEAST = ">="
    ABOVE = ">"
    IS = ":"
    CARRIES = "carries"
    LACKS = "lacks"


_CARRIED = re.compile(r"carries\s+(\S.*)")
_QUALIFIED = re.compile(r"(.+?) (?:\(([^()]+)\)|with (.+))")


class TopicName(msgspec.Struct, frozen=True):
    """A reader's name for something that a release has, taken apart.

    text: as it was written; item: what it is about, alone; is_carried: whether it is software on board.
    state: of a reading, such as ``installed``; condition: of a trial; None where none is said.
    """

    text: str
    item: str
    is_carried: bool = False
    state: str | None = None
    condition: str | None = None

    @classmethod
    def of(cls, text: str) -> TopicName:
        """The parts of a name: ``carries writer``, ``memory (installed)``, ``printer with a card``, ``hands-on``."""
        if carried := _CARRIED.fullmatch(text):
            return cls(text, carried[1], is_carried=True)
        if qualified := _QUALIFIED.fullmatch(text):
            return cls(text, qualified[1], state=qualified[2], condition=qualified[3])
        return cls(text, text)


class Requirement(msgspec.Struct, frozen=True):
    """A requirement: what a release must have to be chosen at all.

    text: as it was written; name: of the figure, trial, fact or software.
    limit: what a figure is held against, with its unit; value: what anything else must be, such as ``pass``.
    """

    text: str
    name: str
    relation: Relation
    limit: Quantity | None = None
    value: str = ""

    @property
    def topic(self) -> str:
        """The name of what it is about."""
        return f"carries {self.name}" if self.relation in {Relation.CARRIES, Relation.LACKS} else self.name


class Wish(msgspec.Struct, frozen=True):
    """A wish: what counts for a reader, and how much.

    weight: beside the weights of the others.
    worst, best: where it is worth nothing, and where everything; None where that goes without saying (a trial, a
        rating, software), or is to be the worst and the best of those that are compared.
    """

    name: str
    weight: float
    worst: Quantity | None = None
    best: Quantity | None = None


class Reader(msgspec.Struct, frozen=True):
    """Somebody for whom a release is chosen.

    name: as the settings have it; about: who that is.
    weights: by which factor the weights may be off, at least 1.
    """

    name: str
    about: str = ""
    required: tuple[Requirement, ...] = ()
    wishes: tuple[Wish, ...] = ()
    weights: float = WEIGHTS
