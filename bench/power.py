"""How often a true difference is found, and how often one is found where there is none, by simulation."""

from __future__ import annotations

import numpy as np

from metrograph.compare.inference import compare_runs, confidence_of, corrected, pooled_spread
from metrograph.log.quantities.ranges import Range

_TRIALS, _TRIALS_OF_EIGHT = 2000, 500
_SPREAD = 0.08  # of the times of one release on one rig; in the demo it is between 2 and 12 per cent


def rows() -> list[list[str]]:
    """For a figure alone, and for one of eight that are compared at once: runs, and how often it is found."""
    found = []
    for runs, borrowed in ((1, 0), (1, 4), (2, 0), (3, 0), (5, 0), (10, 0)):
        words = f"{runs} against {runs}" + (f", {borrowed} repeats of another release" if borrowed else "")
        found.append([words, *(_share(runs, borrowed, factor, figures) for factor in (1.0, 1.2) for figures in (1, 8))])
    return found


def _share(runs: int, borrowed: int, factor: float, figures: int) -> str:
    """How often the first of some figures is called clear, and how often clear or likely; the others do not differ."""
    chance = np.random.default_rng(11)
    found = [
        _confidence(chance, runs, borrowed, factor, figures)
        for _ in range(_TRIALS_OF_EIGHT if figures > 1 else _TRIALS)
    ]
    clear = found.count("clear") / len(found)
    return f"{clear:.1%} / {clear + found.count('likely') / len(found):.1%}"


def _confidence(chance: np.random.Generator, runs: int, borrowed: int, factor: float, figures: int) -> str:
    tests = []
    for figure in range(figures):
        values = np.exp(chance.normal(7, _SPREAD, 2 * runs + borrowed))
        values[runs : 2 * runs] *= factor if figure == 0 else 1.0
        groups = [[Range(float(v), float(v)) for v in part] for part in np.split(values, [runs, 2 * runs])]
        tests.append(compare_runs(groups[0], groups[1], pooled_spread(groups)))
    return confidence_of(corrected([test.p_value for test in tests])[0])
