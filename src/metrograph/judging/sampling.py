"""Varies figures and weights together, many times, and counts how often each release comes at each rank.

This is rank acceptability in the manner of stochastic multicriteria acceptability analysis (Lahdelma and Salminen,
2001). In each sample

* a weight is the reader's own, up to a factor either way, every factor being as likely as its inverse;
* a figure lies anywhere within its range, and its median is off by as much as so few runs leave open: their logarithms
  spread as repeats are known to, with a variance that is itself known only from so many repeats (Student, 1908);
* what nobody noted is worth anything between nothing and everything, and a trial that nobody made passes or fails.

Chance begins with a number made of the seed, the wish and the release, so that neither the order in which they are
named nor who else is compared makes a difference to what is drawn for any of them.
"""

from __future__ import annotations

from collections.abc import Sequence
from hashlib import blake2b
from math import pi, sqrt

import msgspec
import numpy as np
import numpy.typing as npt

from metrograph.compare.inference import PooledSpread, pooled_spread
from metrograph.judging.shortlist_records import TopicKind, TopicValue
from metrograph.judging.worth import Criterion, Scale

# A fixed start, so that an order is the same tomorrow; shares are known to half a hundredth.
SEED, SAMPLES = 2001, 10_000
Numbers = npt.NDArray[np.float64]
_DISCRETE = frozenset({TopicKind.TRIAL, TopicKind.SOFTWARE})
_UTMOST = 50.0
"""The largest logarithm of a factor: one that no scale reaches, where a single pair of repeats leaves all open."""
_OF_MEDIAN = (1.0, 0.5, 0.449, 0.298, 0.287, 0.215)
"""Variances of the median of one to six normal values of variance 1 (order statistics); of more, about pi / 2n."""


class RankCounts(msgspec.Struct, frozen=True):
    """The counts over all samples.

    ranks: releases x ranks, the share of the samples in which a release has a rank; those of equal worth share theirs.
    wins: releases x releases, the share in which one comes before another; equal ones have half each.
    first: samples, which release comes first, by its place; of equal ones, the earlier.
    """

    ranks: Numbers
    wins: Numbers
    first: npt.NDArray[np.intp]


class Samples:
    """Draws what may be."""

    def __init__(self, criteria: Sequence[Criterion], weights: float, seed: int = SEED, count: int = SAMPLES) -> None:
        self.criteria, self.weights, self.seed, self.count = criteria, weights, seed, count
        self.spreads = [pooled_spread(each.topic.repeats) for each in criteria]
        self._deviations: dict[int, Numbers] = {}

    def worth(self, place: int, release: str) -> Numbers:
        """What the wish at a place makes of a release in each sample, 0 to 1."""
        each = self.criteria[place]
        held, chance = each.topic.of(release), self._chance(each.wish.name, release)
        if held.amount is None:
            if each.topic.kind in _DISCRETE:
                return chance.integers(0, 2, self.count).astype(np.float64)
            return chance.random(self.count)
        if held.amount.high is None or held.amount.low <= 0:
            low, high = each.scale.span(held.amount.low, held.amount.high)
            return low + (high - low) * chance.random(self.count)
        low, high = held.amount.low, held.amount.high
        between = np.full(self.count, low) if low == high else low + (high - low) * chance.random(self.count)
        return _worths(each.scale, between * self._factors(place, held, chance))

    def scores(self, releases: Sequence[str]) -> Numbers:
        """releases x samples: what each is worth in each."""
        scores = np.zeros((len(releases), self.count))
        for place, each in enumerate(self.criteria):
            factor = self.weights ** self._chance(each.wish.name, "weight").uniform(-1, 1, self.count)
            for row, release in enumerate(releases):
                scores[row] += self.worth(place, release) * (each.wish.weight * factor)
        return scores

    def _factors(self, place: int, held: TopicValue, chance: np.random.Generator) -> Numbers | float:
        """By what the median of a release's runs may be off in each sample; 1 where no repeats say how much."""
        known = self.spreads[place]
        if known is None:
            return 1.0
        deviations = chance.standard_normal(self.count) * sqrt(_variance_of_median(held.runs))
        if place not in self._deviations:
            self._deviations[place] = self._drawn(place, known)
        return np.exp(np.clip(deviations * self._deviations[place], -_UTMOST, _UTMOST))

    def _drawn(self, place: int, known: PooledSpread) -> Numbers:
        """How far repeats may really spread, in each sample; all releases have it in common."""
        chance = self._chance(self.criteria[place].wish.name, "spread")
        degrees = known.degrees_of_freedom
        return np.sqrt(known.variance * degrees / chance.chisquare(degrees, self.count))

    def _chance(self, wish: str, of: str) -> np.random.Generator:
        digest = blake2b(f"{self.seed}\0{wish}\0{of}".encode(), digest_size=16).digest()
        return np.random.Generator(np.random.PCG64(int.from_bytes(digest, "big")))


def _worths(scale: Scale, values: Numbers) -> Numbers:
    """What values are worth; see ``Scale.worth``."""
    if scale.worst == scale.best:
        return np.ones_like(values)
    return np.clip((values - scale.worst) / (scale.best - scale.worst), 0.0, 1.0)


def _variance_of_median(runs: int) -> float:
    return _OF_MEDIAN[runs - 1] if runs <= len(_OF_MEDIAN) else pi / (2 * runs)


def outcome(scores: Numbers) -> RankCounts:
    """Who comes at which rank. scores: releases x samples."""
    samples = scores.shape[1]
    by_trial = np.ascontiguousarray(scores.T)
    order = np.argsort(-by_trial, axis=1, kind="stable")
    ordered = np.take_along_axis(by_trial, order, axis=1)
    return RankCounts(_ranks(order, ordered) / samples, _wins(scores) / samples, order[:, 0])


def _ranks(order: npt.NDArray[np.intp], ordered: Numbers) -> Numbers:
    """How often each release has each rank. order: samples x ranks, the releases; ordered: their scores."""
    count = order.shape[1]
    places = np.arange(count)
    begins = np.ones(order.shape, dtype=bool)
    begins[:, 1:] = ordered[:, 1:] < ordered[:, :-1]
    first = np.maximum.accumulate(np.where(begins, places, 0), axis=1)
    ends = np.ones(order.shape, dtype=bool)
    ends[:, :-1] = begins[:, 1:]
    last = np.minimum.accumulate(np.where(ends, places, count)[:, ::-1], axis=1)[:, ::-1]
    sizes = last - first + 1
    ranks = np.zeros(count * count)
    for step in range(int(sizes.max(initial=0))):  # equal ones have each of their ranks in equal parts
        has = step < sizes
        cells = order[has] * count + first[has] + step
        ranks += np.bincount(cells, weights=1 / sizes[has], minlength=count * count)
    return ranks.reshape(count, count)


def _wins(scores: Numbers) -> Numbers:
    """How often each release is worth more than each other; equal ones have half each."""
    count, samples = scores.shape
    wins = np.zeros((count, count))
    near = scores.astype(np.float32)  # who is ahead is seen in seven digits as well, in half the time
    for row in range(count):
        more = np.count_nonzero(near[row] > near[row + 1 :], axis=1)
        least = np.count_nonzero(near[row] >= near[row + 1 :], axis=1)
        wins[row, row + 1 :] = (more + least) / 2
        wins[row + 1 :, row] = samples - (more + least) / 2
    return wins
