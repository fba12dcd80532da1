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
from functools import lru_cache
from itertools import combinations, product
from math import comb, exp, fsum, inf, log, sqrt

import msgspec
import numpy as np
import numpy.typing as npt

from metrograph.model.contrasts import Method, Verdict
from metrograph.model.ranges import Range

CLEAR, LIKELY = 0.04, 0.2
"""Up to which chance, corrected for the number of comparisons, a difference is called so.

With 0.05 one in twenty would be exceeded in half of all simulations without a difference; this keeps below it.
"""

CONFIDENCE = 0.95
_FINEST = CLEAR / 12  # the least chance that a clean split has to be able to reach; a dozen figures are usual
_MOST_SPLITS = 12_870  # of 8 against 8 runs; more are sampled
_SAMPLED = 9_999
_LEAST = 0.005  # of a value: figures are noted with two or three digits, and spread less than these tell
_STEPS = 30  # of halving, until an interval's end is known to a billionth of where it was looked for

Numbers = npt.NDArray[np.float64]


class Test(msgspec.Struct, frozen=True):
    """What came of a test. chance, interval, method, freedom: see ``Contrast``; chance is not yet corrected."""

    chance: float | None
    interval: tuple[float, float] | None
    method: Method
    freedom: int | None = None


class Known(msgspec.Struct, frozen=True):
    """The spread that repeats are known to have: of logarithms, its variance and its degrees of freedom."""

    variance: float
    freedom: int


def known_spread(groups: Sequence[Sequence[Range]]) -> Known | None:
    """The spread within groups of repeats, pooled; None where no group has two positive values known exactly."""
    squares, freedom = 0.0, 0
    for group in groups:
        values = [log(each.low) for each in group if each.exact and each.low > 0]
        if len(values) > 1:
            middle = sum(values) / len(values)
            squares += sum((value - middle) ** 2 for value in values)
            freedom += len(values) - 1
    return Known(max(squares / freedom, _LEAST**2), freedom) if freedom else None


def compare_runs(before: Sequence[Range], after: Sequence[Range], known: Known | None = None) -> Test:
    """Whether two groups of runs differ, each with at least one.

    known: the spread of repeats, for where there are too few runs to split.
    """
    enough = 2 / comb(len(before) + len(after), len(before)) <= _FINEST
    method = method_of(len(before), len(after)) if enough else "known spread" if known is not None else "none"
    if method == "none" or any(each.high is None for each in (*before, *after)):
        return Test(None, None, "none")
    tests = [_test(one, two, method, known) for one, two in product(_corners(before), _corners(after))]
    if any(test.chance is None for test in tests):
        return Test(None, None, "none")
    chances = [test.chance for test in tests if test.chance is not None]
    intervals = [test.interval for test in tests if test.interval is not None]
    corners = product(_corners(before), _corners(after))
    signs = {np.sign(two.sum() / len(two) - one.sum() / len(one)) for one, two in corners}
    hull = (min(low for low, _ in intervals), max(high for _, high in intervals)) if intervals else None
    return Test(1.0 if len(signs) > 1 else max(chances), hull, method, tests[0].freedom)


def method_of(first: int, second: int) -> Method:
    """How groups of so many runs are split."""
    return "permutation" if comb(first + second, first) <= _MOST_SPLITS else "sampled permutation"


def corrected(chances: Sequence[float | None]) -> list[float | None]:
    """The same chances, corrected for being so many (Holm, 1979); None stays None and does not count."""
    known = sorted((chance, place) for place, chance in enumerate(chances) if chance is not None)
    found: list[float | None] = [None] * len(chances)
    largest = 0.0
    for rank, (chance, place) in enumerate(known):
        largest = max(largest, min(1.0, chance * (len(known) - rank)))
        found[place] = largest
    return found


def verdict(chance: float | None) -> Verdict:
    """What a corrected chance means in a word."""
    if chance is None or chance > LIKELY:
        return "can't say"
    return "clear" if chance <= CLEAR else "likely"


def _corners(values: Sequence[Range]) -> list[Numbers]:
    """The values at all their lower bounds, and at all their upper ones when these differ."""
    lows = np.array([each.low for each in values], dtype=np.float64)
    highs = np.array([each.low if each.high is None else each.high for each in values], dtype=np.float64)
    return [lows] if np.array_equal(lows, highs) else [lows, highs]


def _test(before: Numbers, after: Numbers, method: Method, known: Known | None) -> Test:
    if method == "known spread" and known is not None:
        return _against_known(before, after, known)
    sums = _Splits(before, after)
    return Test(sums.chance(0.0), sums.interval(), method)


def _against_known(before: Numbers, after: Numbers, known: Known) -> Test:
    """Student's test of two means of logarithms whose spread is known from elsewhere, with its freedom."""
    from scipy.special import stdtr, stdtrit

    if min(before.min(), after.min()) <= 0:
        return Test(None, None, "none")
    one, two = (fsum(map(log, values)) / len(values) for values in (before, after))
    error = sqrt(known.variance * (1 / len(before) + 1 / len(after)))
    chance = 2 * float(stdtr(known.freedom, -abs(two - one) / error))
    reach = float(stdtrit(known.freedom, (1 + CONFIDENCE) / 2)) * error
    base = exp(one)
    low, high = (base * (exp(two - one + side * reach) - 1) for side in (-1, 1))
    return Test(chance, (low, high), "known spread", known.freedom)


class _Splits:
    """All ways, or a sample of them, to split the values of two groups into groups of their sizes."""

    def __init__(self, before: Numbers, after: Numbers) -> None:
        self.values = np.concatenate([before, after])
        self.first, self.second = len(before), len(after)
        self.marks = _marks(self.first, self.second)
        self.exact = method_of(self.first, self.second) == "permutation"

    def chance(self, shift: float) -> float:
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
        if self.chance(outside) > 1 - CONFIDENCE:
            return inf if outside > inside else -inf
        for _ in range(_STEPS):
            middle = (inside + outside) / 2
            inside, outside = (middle, outside) if self.chance(middle) > 1 - CONFIDENCE else (inside, middle)
        return inside


@lru_cache(64)
def _marks(first: int, second: int) -> Numbers:
    """splits x values: 1 where a value belongs to the first group. The actual split is the first."""
    count = first + second
    if method_of(first, second) == "permutation":
        chosen = np.array(list(combinations(range(count), first)))
    else:
        chance = np.random.default_rng(20_251)
        chosen = np.array([chance.permutation(count)[:first] for _ in range(_SAMPLED)])
    marks = np.zeros((len(chosen), count))
    np.put_along_axis(marks, chosen, 1.0, axis=1)
    return marks
