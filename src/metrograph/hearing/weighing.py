"""Says how sure each statement is, from what speaks for and against it; the weights are learnt.

A logistic regression over clues: the pattern, where in the job, what stands around, how a name was found. The weights
lie beside this file with what they were made from; ``bench.hearing`` makes them.
"""

from __future__ import annotations

import json
import math
from collections.abc import Iterable, Iterator
from functools import cache
from pathlib import Path

import msgspec

from metrograph.hearing.statements import Statement

LEAST = 0.4
"""Below it nothing is said: more of it would be wrong than right, and a person would have to look at all of it."""


class ClueWeights(msgspec.Struct, frozen=True):
    """What each clue counts, in natural logarithms of odds. made_from: what they were learnt from."""

    bias: float
    clues: dict[str, float]
    made_from: str = ""


def weigh(found: Iterable[Statement], weights: ClueWeights | None = None) -> Iterator[Statement]:
    """Statements with how sure each is."""
    known = weights or learnt()
    for each in found:
        odds = known.bias + sum(known.clues.get(clue, 0.0) for clue in (*each.clues, each.kind))
        yield msgspec.structs.replace(each, sure=round(1 / (1 + math.exp(-odds)), 3))


@cache
def learnt() -> ClueWeights:
    """The weights that come with the program."""
    return msgspec.convert(json.loads(Path(__file__).with_name("weights.json").read_text("utf-8")), ClueWeights)
