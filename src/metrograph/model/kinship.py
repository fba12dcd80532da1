"""How alike installers are, and any figure along releases. These records are also the JSON that is printed."""

from __future__ import annotations

import msgspec

from metrograph.model.figures import Spread


class Kinship(msgspec.Struct, frozen=True):
    """How alike the installers of releases are, time aside.

    releases: in an order that puts kin beside each other; runs: how many each has.
    matrix: releases x releases, 0 to 1, 1 on the diagonal.
    families: groups of releases that are all kin, in the same order.
    """

    releases: tuple[str, ...]
    runs: tuple[int, ...]
    matrix: tuple[tuple[float, ...], ...]
    families: tuple[tuple[str, ...], ...]


class Trend(msgspec.Struct, frozen=True):
    """One figure along the releases of one line, oldest first.

    name: of the figure; unit: ``s``, ``bytes``, ``%``, or empty for a count; better: ``less``, ``more`` or None.
    points: a spread per release, None where no run has it.
    """

    name: str
    words: str
    unit: str
    better: str | None
    line: str
    releases: tuple[str, ...]
    points: tuple[Spread | None, ...]
