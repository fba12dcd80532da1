"""The way through an installer, reduced to what its alignment with others goes by. Kept in digests of runs."""

from __future__ import annotations

import msgspec


class Stop(msgspec.Struct, frozen=True, array_like=True):
    """A screen of a way, as alignment sees it.

    late: whether it comes after the restart.
    keys: of what was asked there, sorted, each once.
    """

    title: str
    kind: str
    late: bool = False
    keys: tuple[str, ...] = ()


class Way(msgspec.Struct, frozen=True, array_like=True):
    """The screens of the way that led to the end, in the order they were first seen.

    hub: the index of the overview whose doors lead to the other screens; None where an installer has no such screen.
    doors: the indices of the screens behind its doors. A person takes them in any order.
    """

    stops: tuple[Stop, ...] = ()
    hub: int | None = None
    doors: tuple[int, ...] = ()


class Rulings(msgspec.Struct, frozen=True):
    """What a person has decided about screens, over anything that speaks for or against it.

    same: pairs of titles that are for the same thing; apart: pairs that are not.
    """

    same: frozenset[frozenset[str]] = frozenset()
    apart: frozenset[frozenset[str]] = frozenset()


NO_RULINGS = Rulings()
