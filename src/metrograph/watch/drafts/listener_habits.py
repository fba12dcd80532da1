"""Remembers what a person took of what was heard: a kind that is often rejected is proposed less sure."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from contextlib import suppress

import msgspec

from metrograph.core.errors import UNDECODABLE
from metrograph.log.cues import Cue
from metrograph.store.local.drafts import add_decision_lines, decision_lines
from metrograph.store.local.logbook import Logbook

_USUAL = 4.0
"""Decisions that every kind begins with, half of what was expected of them each way: a single one says little."""


class Decision(msgspec.Struct, frozen=True):
    """What a person decided on something that was heard.

    kind: of the proposal, its verb and name; sure: how sure that was; taken: whether it became part of the run.
    counts: 1, or -1 for one that was taken back.
    """

    kind: str
    sure: float
    taken: bool
    counts: int = 1


def kind_of(cue: Cue) -> str:
    """The kind that decisions are remembered by: software is one, whatever it is for."""
    return cue.verb if cue.name is None or cue.verb in {"carries", "lacks"} else f"{cue.verb} {cue.name}"


def keep_decision(book: Logbook, decision: Decision) -> None:
    """Adds a decision to those of a logbook."""
    add_decision_lines(book, [msgspec.json.encode(decision)])


def load_habits(book: Logbook) -> dict[str, float]:
    """How much more or less likely each kind is than a listener thinks, in natural logarithms of odds."""
    decisions = []
    for line in decision_lines(book):
        with suppress(*UNDECODABLE):
            decisions.append(msgspec.json.decode(line, type=Decision))
    return habits(decisions)


def habits(decisions: Iterable[Decision]) -> dict[str, float]:
    """The same of decisions: those that were taken and rejected against as many as were expected to be.

    Both are counted with ``_USUAL`` more, shared as expected, so that it is nought without decisions and moves with
    the number of them (a ratio of two shrunken odds).
    """
    sums: dict[str, list[float]] = {}
    for each in decisions:
        of_kind = sums.setdefault(each.kind, [0.0, 0.0, 0.0, 0.0])
        of_kind[0 if each.taken else 1] += each.counts
        of_kind[2] += each.counts * each.sure
        of_kind[3] += each.counts * (1 - each.sure)
    return {
        kind: math.log((taken + _USUAL) / (right + _USUAL)) - math.log((rejected + _USUAL) / (wrong + _USUAL))
        for kind, (taken, rejected, right, wrong) in sums.items()
        if taken + rejected > 0
    }


def with_habit(sure: float, cue: Cue, known: Mapping[str, float]) -> float:
    """How sure something is with what this logbook's reviewers usually say to its kind."""
    shift = known.get(kind_of(cue), 0.0)
    if not shift or not 0 < sure < 1:
        return sure
    odds = math.log(sure / (1 - sure)) + shift
    return round(1 / (1 + math.exp(-odds)), 3)
