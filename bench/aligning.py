"""How well and how fast flows are aligned: against known truth, beside a general-purpose aligner, and as they grow."""

from __future__ import annotations

import resource
import time
from collections.abc import Callable
from statistics import median
from typing import Any

from Bio.Align import PairwiseAligner

from bench.flows import Maker, Rates, TrueScreen, keys_of
from bench.measure import in_turn
from metrograph.compare.align.alignment import merge
from metrograph.compare.kinship import matrix_of
from metrograph.run.route import Route

_LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
_SEEDS = range(100, 140)


def quality() -> list[list[str]]:
    """Precision and recall of matches on flows of 60 screens, for two flows and for five in a chain."""
    rows = []
    for words, flows, rates in (
        ("two flows, 5 % of each", 2, Rates(0.05, 0.05, 0.05, 0.05)),
        ("two flows, 10 % of each", 2, Rates()),
        ("two flows, 20 % of each", 2, Rates(0.2, 0.2, 0.2, 0.2)),
        ("two flows, 30 % of each", 2, Rates(0.3, 0.3, 0.3, 0.3)),
        ("two flows, 30 % moved only", 2, Rates(0, 0, 0.3, 0)),
        ("two flows, 30 % renamed only", 2, Rates(0, 0, 0, 0.3)),
        ("two flows, 30 % inserted and deleted only", 2, Rates(0.3, 0.3, 0, 0)),
        ("five in a chain, 5 % of each from one to the next", 5, Rates(0.05, 0.05, 0.05, 0.05)),
        ("five in a chain, 10 % of each from one to the next", 5, Rates()),
    ):
        right = wrong = missed = 0
        for seed in _SEEDS:
            found = _matches(chain(Maker(seed), 60, flows, rates))
            right, wrong, missed = right + found[0], wrong + found[1], missed + found[2]
        rows.append([words, f"{right / (right + wrong):.4f}", f"{right / (right + missed):.4f}"])
    return rows


def chain(maker: Maker, screens: int, count: int, rates: Rates) -> list[list[TrueScreen]]:
    """So many releases, each made from the one before."""
    flows = [maker.flow(screens)]
    while len(flows) < count:
        flows.append(maker.later(flows[-1], rates))
    return flows


def _matches(flows: list[list[TrueScreen]]) -> tuple[int, int, int]:
    """How many matches of any two flows are right, wrong and missed."""
    rows = merge([keys_of(flow) for flow in flows])
    right = wrong = missed = 0
    for first in range(len(flows)):
        for second in range(first + 1, len(flows)):
            there = {screen.truth: place for place, screen in enumerate(flows[second])}
            true = {(place, there[each.truth]) for place, each in enumerate(flows[first]) if each.truth in there}
            pairs = ((row[first], row[second]) for row in rows)
            found = {pair for pair in pairs if None not in pair}
            right, wrong, missed = right + len(found & true), wrong + len(found - true), missed + len(true - found)
    return right, wrong, missed


def pairwise(rounds: int = 9) -> list[str]:
    """The score of a pair of flows of 60, many at once, beside an aligner in C on the same flows as letters."""
    flows = chain(Maker(7), 60, 100, Rates(0.02, 0.02, 0.02, 0.02))
    routes = [Route(tuple(keys_of(flow))) for flow in flows]
    letters = ["".join(_LETTERS[screen.truth % len(_LETTERS)] for screen in flow) for flow in flows]
    make: Any = PairwiseAligner  # it comes without types
    aligner = make(mode="global", match_score=1, mismatch_score=-1, gap_score=0)
    pairs = len(flows) * (len(flows) - 1) // 2

    def theirs() -> list[float]:
        return [aligner.score(one, two) for place, one in enumerate(letters) for two in letters[place + 1 :]]

    ours, other, ratio = in_turn(lambda: matrix_of(routes), theirs, rounds)
    return [
        "score of a pair of flows of 60, of 4,950 pairs",
        f"{ours / pairs * 1e6:.0f} µs",
        "Biopython's PairwiseAligner.score on letters",
        f"{other / pairs * 1e6:.0f} µs",
        f"{ratio:.1f}",
        "",
    ]


def hundred(rounds: int = 5) -> list[str]:
    """A hundred releases of 60 screens merged, beside all their pairs scored."""
    flows = [keys_of(flow) for flow in chain(Maker(7), 60, 100, Rates(0.02, 0.02, 0.02, 0.02))]
    routes = [Route(tuple(flow)) for flow in flows]
    ours, other, ratio = in_turn(lambda: merge(flows), lambda: matrix_of(routes), rounds)
    return [
        "100 releases x 60 screens merged",
        f"{ours:.2f} s",
        "kinship of the same",
        f"{other:.2f} s",
        f"{ratio:.1f}",
        "1 s",
    ]


def thousand() -> list[str]:
    """The kinship of a thousand runs that all differ, beside that of a hundred of them."""
    maker = Maker(3)
    releases = [flow for _ in range(10) for flow in chain(maker, 60, 10, Rates(0.03, 0.03, 0.03, 0.03))]
    runs = [maker.later(release, Rates(0, 0.02, 0.02, 0)) for release in releases for _ in range(10)]
    routes = [Route(tuple(keys_of(run))) for run in runs]
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    few, many = _seconds(lambda: matrix_of(routes[::10])), _seconds(lambda: matrix_of(routes))
    more = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    return [
        "kinship of 1,000 runs x 60 screens, 499,500 pairs",
        f"{many:.0f} s, {more:.0f} MiB more",
        "the same of 100 runs",
        f"{few:.2f} s",
        f"{many / few:.0f}",
        "a minute",
    ]


def growth() -> list[list[str]]:
    """How the time of merging grows with the screens of a flow, and with the number of flows."""
    rates = Rates(0.02, 0.02, 0.02, 0.02)
    sizes = [(screens, 20) for screens in (15, 30, 60, 120, 240)] + [(60, flows) for flows in (5, 10, 20, 40, 80, 160)]
    rows = []
    for screens, count in sizes:
        flows = [keys_of(flow) for flow in chain(Maker(7), screens, count, rates)]
        took = median(_seconds(lambda flows=flows: merge(flows)) for _ in range(3))  # type: ignore[misc]
        rows.append([f"{count} flows x {screens} screens", f"{took * 1000:.0f} ms"])
    return rows


def _seconds(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start
