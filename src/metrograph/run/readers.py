"""Whom releases are chosen for, and what each wants of one: a reader has what is required, and wishes with weights."""

from __future__ import annotations

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


class Requirement(msgspec.Struct, frozen=True):
    """What a release must have to be chosen at all.

    text: as it was written; name: of the figure, trial, fact or software.
    limit: what a figure is held against, with its unit; value: what anything else must be, such as ``pass``.
    """

    text: str
    name: str
    relation: Relation
    limit: Quantity | None = None
    value: str = ""


class Wish(msgspec.Struct, frozen=True):
    """What counts for a reader, and how much.

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
