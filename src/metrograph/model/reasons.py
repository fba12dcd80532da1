"""What led to a match of screens. These records are also the JSON that is printed."""

from __future__ import annotations

from typing import Literal

import msgspec


class Reason(msgspec.Struct, frozen=True, rename={"one": "from", "other": "to"}):
    """Why two releases' screens share a row.

    one, other: the releases; one_title, other_title: their screens.
    kind: the kind that both have; None when they differ, or nobody knows one.
    title: how alike the titles are; keys: the part of the keys that both have, None where one has none; both 0 to 1.
    common: the keys that both have.
    across: whether the restart lies between them; moved: whether their places in the order differ.
    ruled: what a person has decided; None when nobody did.
    likeness: all together, 0 to 1; needed: how much of it makes two screens the same.
    before, after: the neighbour before and behind that they have in common; None where they have none.
    rival: the screen of ``other`` that would have been next, its likeness in ``rival_likeness``; None without one.
    """

    one: str
    other: str
    one_title: str
    other_title: str
    kind: str | None
    title: float
    keys: float | None
    common: tuple[str, ...]
    across: bool
    moved: bool
    ruled: Literal["same", "apart"] | None
    likeness: float
    needed: float
    before: str | None
    after: str | None
    rival: str | None
    rival_likeness: float | None


class Why(msgspec.Struct, frozen=True):
    """Why a row is as it is.

    row: its number, from 1; title: what it goes by; titles: per release, None where it is absent.
    reasons: each release that has it against the one before it that has.
    nearest: for each release that lacks it, its likest screen and that screen's likeness; None where none comes near.
    """

    row: int
    title: str
    releases: tuple[str, ...]
    titles: tuple[str | None, ...]
    reasons: tuple[Reason, ...]
    nearest: dict[str, tuple[str, float] | None]
