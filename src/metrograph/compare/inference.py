"""Says whether two groups of few runs differ, or may be two handfuls from the same sack.

Which method is used follows from the numbers of runs alone, never from their values, so that it cannot be picked to
please:

* With so many runs that chance alone would seldom split them cleanly, the difference of the means is held against all
  ways to split the same values in two groups of the same sizes (Fisher, 1935; Pitman, 1937); against a sample of them
  where there are too many. The interval is that of all shifts the same test would not reject.
* With fewer, the spread that repeats of releases are known to have is taken for both (Student, 1908), in logarithms, as
  times and sizes spread in proportion to themselves.
* Without any repeats, nothing is said.

A range from a cut is carried through: the test is made at all four corners, the least convincing counts, and the
interval covers all of theirs.
"""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum
from functools import lru_cache
from itertools import combinations, product
from math import comb, exp, fsum, inf, log, sqrt

import msgspec
import numpy as np
import numpy.typing as npt

from metrograph.compare import student_t
from metrograph.log.quantities.ranges import Range


class Confidence(StrEnum):
    """How sure one may be of a difference."""

    CLEAR = "clear"
    LIKELY = "likely"
    UNKNOWN = "can't say"


class Method(StrEnum):
    """How a shortlist was worked out."""

    PERMUTATION = "permutation"
    SAMPLED = "sampled permutation"
    POOLED = "known spread"
    NONE = "none"


CLEAR, LIKELY = 0.04, 0.2
"""Up to which p-value, corrected for the number of comparisons, a difference is called so.

With 0.05 one in twenty would be exceeded in half of all simulations without a difference; this keeps below it.
"""

CONFIDENCE = 0.95  # the usual share, so that readers know what an interval means
_FINEST = CLEAR / 12  # the least chance that a clean split has to be able to reach; a dozen figures are usual
_MOST_SPLITS = 12_870  # of 8 against 8 runs; more are sampled
_SAMPLED = 9_999  # with the real split ten thousand, so that shares are whole
_LEAST = 0.005  # of a value: figures are noted with two or three digits, and spread less than these tell
_STEPS = 30  # of halving, until an interval's end is known to a billionth of where it was looked for

Numbers = npt.NDArray[np.float64]


class Test(msgspec.Struct, frozen=True):
    """The result of a test; see ``Contrast``. The p-value is not yet corrected."""

    p_value: float | None
    interval: tuple[float, float] | None
    method: Method
    degrees_of_freedom: int | None = None


NO_TEST = Test(None, None, Method.NONE)


class PooledSpread(msgspec.Struct, frozen=True):
    """The spread that repeats are known to have: of logarithms, its variance and its degrees of freedom."""

    variance: float
    degrees_of_freedom: int


def pooled_spread(groups: Sequence[Sequence[Range]]) -> PooledSpread | None:
    """The spread within groups of repeats, pooled; None where no group has two positive values known exactly."""
    squares, degrees_of_freedom = 0.0, 0
    for group in groups:
        logs = [log(value.low) for value in group if value.exact and value.low > 0]
        if len(logs) > 1:
            mean = sum(logs) / len(logs)
            squares += sum((value - mean) ** 2 for value in logs)
            degrees_of_freedom += len(logs) - 1
    if not degrees_of_freedom:
        return None
    return PooledSpread(max(squares / degrees_of_freedom, _LEAST**2), degrees_of_freedom)


def compare_runs(before: Sequence[Range], after: Sequence[Range], pooled: PooledSpread | None = None) -> Test:
    """Whether two groups of runs differ, each with at least one.

    pooled: the spread of repeats, for where there are too few runs to split.
    """
    method = _method(len(before), len(after), pooled)
    if method is Method.NONE or any(value.high is None for value in (*before, *after)):
        return NO_TEST
    corners = list(product(_corners(before), _corners(after)))
    tests = [_test(one, two, method, pooled) for one, two in corners]
    p_values = [test.p_value for test in tests if test.p_value is not None]
    if len(p_values) < len(tests):
        return NO_TEST
    intervals = [test.interval for test in tests if test.interval is not None]
    hull = (min(low for low, _ in intervals), max(high for _, high in intervals)) if intervals else None
    signs = {np.sign(two.mean() - one.mean()) for one, two in corners}
    return Test(1.0 if len(signs) > 1 else max(p_values), hull, method, tests[0].degrees_of_freedom)


def _method(first: int, second: int, pooled: PooledSpread | None) -> Method:
    """How groups of so many runs are compared; their values have no say in it."""
    if 2 / comb(first + second, first) <= _FINEST:
        return splitting_method(first, second)
    return Method.POOLED if pooled is not None else Method.NONE


def splitting_method(first: int, second: int) -> Method:
    """How groups of so many runs are split."""
    return Method.PERMUTATION if comb(first + second, first) <= _MOST_SPLITS else Method.SAMPLED


def corrected(p_values: Sequence[float | None]) -> list[float | None]:
    """P-values corrected for being so many (Holm, 1979); None stays None and does not count."""
    known = sorted((p_value, place) for place, p_value in enumerate(p_values) if p_value is not None)
    adjusted: list[float | None] = [None] * len(p_values)
    largest = 0.0
    for rank, (p_value, place) in enumerate(known):
        largest = max(largest, min(1.0, p_value * (len(known) - rank)))
        adjusted[place] = largest
    return adjusted


def confidence_of(p_value: float | None) -> Confidence:
    """What a corrected p-value means in a word."""
    if p_value is None or p_value > LIKELY:
        return Confidence.UNKNOWN
    return Confidence.CLEAR if p_value <= CLEAR else Confidence.LIKELY


def _corners(values: Sequence[Range]) -> list[Numbers]:
    """The values at all their lower bounds, and at all their upper ones when these differ."""
    lows = np.array([value.low for value in values], dtype=np.float64)
    highs = np.array([value.low if value.high is None else value.high for value in values], dtype=np.float64)
    return [lows] if np.array_equal(lows, highs) else [lows, highs]


def _test(before: Numbers, after: Numbers, method: Method, pooled: PooledSpread | None) -> Test:
    if method is Method.POOLED and pooled is not None:
        return _against_pooled(before, after, pooled)
    splits = _Splits(before, after)
    return Test(splits.p_value(0.0), splits.interval(), method)


def _against_pooled(before: Numbers, after: Numbers, pooled: PooledSpread) -> Test:
    """Student's test of two means of logarithms whose spread is known from elsewhere."""
    if min(before.min(), after.min()) <= 0:
        return NO_TEST
    one, two = (fsum(map(log, values)) / len(values) for values in (before, after))
    error = sqrt(pooled.variance * (1 / len(before) + 1 / len(after)))
    p_value = max(1 - student_t.within(abs(two - one) / error, pooled.degrees_of_freedom), 0.0)
    far = student_t.reach(CONFIDENCE, pooled.degrees_of_freedom) * error
    base = exp(one)
    low, high = (base * (exp(two - one + side * far) - 1) for side in (-1, 1))
    return Test(p_value, (low, high), Method.POOLED, pooled.degrees_of_freedom)


class _Splits:
    """All ways, or a sample of them, to split the values of two groups into groups of their sizes."""

    def __init__(self, before: Numbers, after: Numbers) -> None:
        self.values = np.concatenate([before, after])
        self.first, self.second = len(before), len(after)
        self.marks = _marks(self.first, self.second)
        self.exact = splitting_method(self.first, self.second) is Method.PERMUTATION

    def p_value(self, shift: float) -> float:
        """How often a split differs as much as the groups do once ``shift`` is taken off the second, on either side.

        It is twice the smaller of the two tails, as a split into unequal groups is not symmetric.
        """
        values = self.values.copy()
        values[self.first :] -= shift
        firsts = self.marks @ values
        means = (values.sum() - firsts) / self.second - firsts / self.first
        seen = values[self.first :].mean() - values[: self.first].mean()
        blur = 1e-9 * (1 + float(np.abs(values).max()))
        tail = min(int(np.count_nonzero(means >= seen - blur)), int(np.count_nonzero(means <= seen + blur)))
        return min(1.0, 2 * (tail / len(means) if self.exact else (tail + 1) / (len(means) + 1)))

    def interval(self) -> tuple[float, float]:
        """All shifts that the test would not reject."""
        seen = float(self.values[self.first :].mean() - self.values[: self.first].mean())
        reach = 4 * float(np.ptp(self.values)) + 1e-9
        low, high = (self._end(seen, seen + side * reach) for side in (-1, 1))
        return low, high

    def _end(self, inside: float, outside: float) -> float:
        """Where between a shift that is kept and one that is rejected the one becomes the other."""
        if self.p_value(outside) > 1 - CONFIDENCE:
            return inf if outside > inside else -inf
        for _ in range(_STEPS):
            middle = (inside + outside) / 2
            inside, outside = (middle, outside) if self.p_value(middle) > 1 - CONFIDENCE else (inside, middle)
        return inside


@lru_cache(64)
def _marks(first: int, second: int) -> Numbers:
    """splits x values: 1 where a value belongs to the first group. The actual split is the first."""
    count = first + second
    if splitting_method(first, second) is Method.PERMUTATION:
        chosen = np.array(list(combinations(range(count), first)))
    else:
        chance = np.random.default_rng(20_251)
        chosen = np.array([chance.permutation(count)[:first] for _ in range(_SAMPLED)])
    marks = np.zeros((len(chosen), count))
    np.put_along_axis(marks, chosen, 1.0, axis=1)
    return marks
