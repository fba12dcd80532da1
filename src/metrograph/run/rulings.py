"""What a person has decided about screens: kept apart from routes, as every cue asks for the settings it stands in."""

from __future__ import annotations

import msgspec


class Rulings(msgspec.Struct, frozen=True):
    """What a person has decided about screens, over anything that speaks for or against it.

    same: pairs of titles that are for the same thing; apart: pairs that are not.
    """

    same: frozenset[frozenset[str]] = frozenset()
    apart: frozenset[frozenset[str]] = frozenset()


NO_RULINGS = Rulings()
