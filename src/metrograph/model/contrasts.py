"""What may be concluded from a difference between two releases. These records are also the JSON that is printed."""

from __future__ import annotations

from typing import Literal

import msgspec

from metrograph.model.figures import Spread

Verdict = Literal["clear", "likely", "can't say"]
Method = Literal["permutation", "sampled permutation", "known spread", "none"]


class Contrast(msgspec.Struct, frozen=True, rename={"earlier": "from", "later": "to"}):
    """How one figure differs between two releases.

    name: of the figure, such as ``desktop`` or ``memory (installed)``; unit: ``s`` or ``bytes``.
    before, after: what the runs have that were compared.
    difference: of the medians, between its lower and its upper bound; None for a bound that a cut leaves open.
    interval: what the true difference lies in with 95 per cent confidence; None where nothing can be said.
    chance: how often chance alone would make a difference as large, corrected for the number of figures compared
        (Holm, 1979); None where nothing can be said.
    verdict: ``clear`` up to 0.04, ``likely`` up to 0.2.
    method: how that was worked out.
    freedom: of the spread, where it is the spread known from repeats; None otherwise.
    borrowed: releases whose repeats it was taken from, beside the two.
    rigs: those on which both were run, when runs on others were left out; empty when all were compared.
    """

    earlier: str
    later: str
    name: str
    unit: str
    before: Spread
    after: Spread
    difference: tuple[float | None, float | None]
    interval: tuple[float, float] | None
    chance: float | None
    verdict: Verdict
    method: Method
    freedom: int | None = None
    borrowed: tuple[str, ...] = ()
    rigs: tuple[str, ...] = ()
