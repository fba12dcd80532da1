"""Fits the weights of alignment on flows whose true alignment is known, and says what they reach on flows kept apart."""

from __future__ import annotations

import random
from collections.abc import Iterable, Sequence

import msgspec

from bench.flows import Maker, Rates, TrueScreen, keys_of
from metrograph.compare.align.alignment import merge
from metrograph.compare.align.similarity import WEIGHTS, Weights

_FITTED, _APART = range(60), range(1000, 1060)  # seeds of flows
_GRIDS = {
    "same": (0.5, 0.55, 0.6, 0.65), "kind": (0.62, 0.66, 0.7, 0.75, 0.8), "keys": (0.5, 0.62, 0.7, 0.8, 0.9),
    "against_kinds": (0.35, 0.45, 0.5, 0.55, 0.59), "without_kind": (0.6, 0.7, 0.8, 0.9), "across": (0.9, 0.94, 0.97, 1.0),
    "alone": (0.7, 0.75, 0.8, 0.85, 0.9), "second_best": (1.0, 2.0, 3.0, 4.0, 6.0),
}  # fmt: skip
Flows = list[list[TrueScreen]]


def flows_of(seed: int) -> Flows:
    """Two to six releases of 20 to 60 screens; how much changes from one to the next differs from line to line."""
    chance, maker = random.Random(seed), Maker(seed)
    rates = Rates(*(chance.choice((0.02, 0.05, 0.1, 0.2)) for _ in range(4)))
    flows = [maker.flow(chance.randint(20, 60))]
    for _ in range(chance.randint(1, 5)):
        flows.append(maker.later(flows[-1], rates))
    return flows


def score(weights: Weights, lines: Iterable[Flows]) -> tuple[float, float, float]:
    """Precision, recall and their harmonic mean (F1) of all matches of any two releases of a line."""
    right = wrong = missed = 0
    for flows in lines:
        truths = [[screen.truth for screen in flow] for flow in flows]
        rows = merge([keys_of(flow) for flow in flows], weights=weights)
        for first, one in enumerate(truths):
            for second in range(first + 1, len(truths)):
                there = {truth: place for place, truth in enumerate(truths[second])}
                true = {(place, there[truth]) for place, truth in enumerate(one) if truth in there}
                found = {
                    (row[first], row[second]) for row in rows if row[first] is not None and row[second] is not None
                }
                right, wrong, missed = right + len(found & true), wrong + len(found - true), missed + len(true - found)
    precision, recall = right / (right + wrong), right / (right + missed)
    return precision, recall, 2 * precision * recall / (precision + recall)


def holds(weights: Weights) -> bool:
    """What has to be so whatever flows say: one kind is enough, titles against two known kinds are not."""
    return weights.kind * weights.across >= weights.same > weights.against_kinds


def fit(lines: Sequence[Flows], start: Weights) -> Weights:
    """The best weights that are found by changing one after the other until none helps any more."""
    best, reached = start, score(start, lines)[2]
    while True:
        before = reached
        for name, grid in _GRIDS.items():
            for value in grid:
                tried = msgspec.structs.replace(best, **{name: value})
                if tried != best and holds(tried) and (now := score(tried, lines)[2]) > reached + 1e-5:
                    best, reached = tried, now
        if reached <= before:
            return best


def table() -> list[list[str]]:
    """Before and after, on the flows that were fitted and on those kept apart."""
    lines, apart = [flows_of(seed) for seed in _FITTED], [flows_of(seed) for seed in _APART]
    fitted = fit(lines, WEIGHTS)
    rows = []
    for words, weights in (("the weights as they are", WEIGHTS), ("fitted anew", fitted)):
        for where, some in (("fitted on", lines), ("kept apart", apart)):
            rows.append([words, where, *(f"{figure:.4f}" for figure in score(weights, some))])
    return [*rows, [str(msgspec.structs.asdict(fitted)), "", "", "", ""]]


if __name__ == "__main__":
    for row in table():
        print("| " + " | ".join(row) + " |")
