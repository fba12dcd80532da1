"""What may be concluded from few runs: against SciPy on the same numbers, closed forms, and by simulation."""

import unittest
from math import exp, log, sqrt

import msgspec
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from metrograph.compare import student_t
from metrograph.compare.contrasts import Contrast, contrasts
from metrograph.compare.inference import (
    _SAMPLED,
    Method,
    PooledSpread,
    compare_runs,
    confidence_of,
    corrected,
    pooled_spread,
)
from metrograph.ledgers.digests.digest import digest, taken
from metrograph.log.quantities.ranges import Range
from metrograph.measures.reducing import Taken
from tests.helpers import run_of


def exact(*values: float) -> list[Range]:
    return [Range(value, value) for value in values]


class Methods(unittest.TestCase):
    def test_so_many_runs_are_split_whatever_is_known_of_spread(self) -> None:
        one, other = exact(1, 2, 3, 4, 5, 6), exact(11, 12, 13, 14, 15, 16)
        self.assertIs(compare_runs(one, other, PooledSpread(0.01, 3)).method, Method.PERMUTATION)
        few = compare_runs(one[:2], other[:2], PooledSpread(0.01, 3))
        self.assertEqual((few.method, few.degrees_of_freedom), (Method.POOLED, 3))


class Student(unittest.TestCase):
    @given(st.integers(1, 200), st.floats(0, 60), st.floats(0.01, 0.999))
    def test_it_is_what_a_library_says(self, degrees: int, t: float, share: float) -> None:
        self.assertAlmostEqual(student_t.within(t, degrees), 1 - 2 * stats.t.cdf(-t, degrees), 9)
        self.assertAlmostEqual(student_t.reach(share, degrees) / stats.t.ppf((1 + share) / 2, degrees), 1, 7)


class Splitting(unittest.TestCase):
    BEFORE, AFTER = (61.0, 58.0, 66.0, 60.0, 57.0, 63.0), (70.0, 64.0, 69.0, 75.0, 68.0, 62.0, 71.0)

    def test_the_chance_is_that_of_scipy(self) -> None:
        found = compare_runs(exact(*self.BEFORE), exact(*self.AFTER))
        theirs = stats.permutation_test(
            (self.BEFORE, self.AFTER), lambda one, two, axis: np.mean(two, axis=axis) - np.mean(one, axis=axis),
            vectorized=True, n_resamples=10_000,  # more than there are, so all
        )  # fmt: skip
        self.assertEqual(found.method, "permutation")
        self.assertAlmostEqual(found.p_value or 0, float(theirs.pvalue))

    def test_a_clean_split_by_hand(self) -> None:
        # One split of 924 is as far to one side as this; there are two sides.
        found = compare_runs(exact(1, 2, 3, 4, 5, 6), exact(11, 12, 13, 14, 15, 16))
        self.assertAlmostEqual(found.p_value or 0, 2 / 924)

    def test_the_interval_is_what_the_test_would_not_reject(self) -> None:
        found = compare_runs(exact(*self.BEFORE), exact(*self.AFTER))
        assert found.interval is not None
        low, high = found.interval
        for shift, kept in ((low + 0.01, True), (low - 0.01, False), (high - 0.01, True), (high + 0.01, False)):
            shifted = exact(*(value - shift for value in self.AFTER))
            self.assertEqual((compare_runs(exact(*self.BEFORE), shifted).p_value or 0) > 0.05, kept, shift)

    def test_too_many_splits_are_sampled_always_the_same(self) -> None:
        before, after = exact(*np.arange(10.0)), exact(*np.arange(4.0, 14.0))
        found = compare_runs(before, after)
        self.assertEqual((found.method, found), ("sampled permutation", compare_runs(before, after)))
        # A chance that was sampled is never nothing: what was seen is one of all that may be (Phipson and Smyth, 2010).
        apart = compare_runs(exact(*np.arange(10.0)), exact(*np.arange(100.0, 110.0)))
        self.assertAlmostEqual(apart.p_value or 0, 2 / (_SAMPLED + 1))
        self.assertAlmostEqual(found.p_value or 0, stats.ttest_ind(range(10), range(4, 14)).pvalue, delta=0.01)

    @settings(max_examples=25)
    @given(st.lists(st.integers(1, 99), min_size=6, max_size=7), st.lists(st.integers(1, 99), min_size=6, max_size=6))
    def test_turning_the_sides_round_turns_the_interval_round(self, one: list[int], two: list[int]) -> None:
        there, back = compare_runs(exact(*one), exact(*two)), compare_runs(exact(*two), exact(*one))
        assert there.interval is not None
        assert back.interval is not None
        self.assertEqual(there.p_value, back.p_value)
        np.testing.assert_allclose(there.interval, (-back.interval[1], -back.interval[0]), atol=1e-6)


class Pooling(unittest.TestCase):
    def test_the_spread_is_pooled_within_groups(self) -> None:
        groups = [exact(100, 110), exact(50, 55, 60), exact(7), [Range(1, 9)]]
        within = [np.var(np.log(values), ddof=1) * (len(values) - 1) for values in ((100, 110), (50, 55, 60))]
        found = pooled_spread(groups)
        assert found is not None
        self.assertAlmostEqual(found.variance, float(sum(within)) / 3)
        self.assertEqual(found.degrees_of_freedom, 3)
        self.assertIsNone(pooled_spread([exact(1), exact(2)]))

    def test_repeats_that_agree_to_the_digit_spread_by_half_a_per_cent(self) -> None:
        self.assertEqual(pooled_spread([exact(8, 8)]), PooledSpread(0.005**2, 1))

    def test_with_the_spread_of_the_two_alone_it_is_students_test_of_the_logarithms(self) -> None:
        before, after = (60.0, 66.0, 63.0), (70.0, 74.0)
        pooled = pooled_spread([exact(*before), exact(*after)])
        found = compare_runs(exact(*before), exact(*after), pooled)
        theirs = stats.ttest_ind(np.log(after), np.log(before))
        self.assertAlmostEqual(found.p_value or 0, float(theirs.pvalue))
        reach = theirs.confidence_interval(0.95)
        base = exp(float(np.mean(np.log(before))))
        np.testing.assert_allclose(found.interval or (), (base * (exp(reach.low) - 1), base * (exp(reach.high) - 1)))

    def test_one_run_each_by_hand(self) -> None:
        # A spread of a tenth: the error of a difference is sqrt(2) tenths, and 20 % more is 1.29 of that.
        found = compare_runs(exact(100), exact(120), PooledSpread(0.01, 8))
        self.assertAlmostEqual(found.p_value or 0, 2 * float(stats.t.sf(log(1.2) / (0.1 * sqrt(2)), 8)))
        self.assertEqual((found.method, found.degrees_of_freedom), ("known spread", 8))
        self.assertEqual(compare_runs(exact(100), exact(120)).method, "none")


class Ranges(unittest.TestCase):
    def test_the_least_convincing_corner_counts_and_the_interval_covers_all(self) -> None:
        pooled = PooledSpread(0.0001, 20)
        near, far = (compare_runs(exact(100), exact(value), pooled) for value in (110, 130))
        found = compare_runs(exact(100), [Range(110, 130)], pooled)
        self.assertEqual(found.p_value, near.p_value)
        assert found.interval and near.interval and far.interval
        self.assertEqual(found.interval, (near.interval[0], far.interval[1]))

    def test_ranges_that_reach_past_each_other_say_nothing_and_open_ones_neither(self) -> None:
        pooled = PooledSpread(0.0001, 20)
        self.assertEqual(compare_runs(exact(100), [Range(90, 130)], pooled).p_value, 1.0)
        self.assertIsNone(compare_runs(exact(100), [Range(90, None)], pooled).p_value)


class Confidences(unittest.TestCase):
    def test_holm_by_hand(self) -> None:
        self.assertEqual(corrected([0.01, None, 0.04, 0.03]), [0.03, None, 0.06, 0.06])
        self.assertEqual(corrected([0.6, 0.7]), [1.0, 1.0])

    def test_words(self) -> None:
        self.assertEqual([confidence_of(each) for each in (0.04, 0.041, 0.2, 0.21, None)],
                         ["clear", "likely", "likely", "can't say", "can't say"])  # fmt: skip

    def test_without_a_difference_clear_comes_up_seldom(self) -> None:
        chance = np.random.default_rng(5)
        for runs, borrowed in ((1, 4), (2, 0), (3, 0), (6, 0)):
            clear = 0
            for _ in range(2000):
                values = np.exp(chance.normal(6, 0.08, 2 * runs + borrowed))
                before, after, others = (
                    exact(*values[:runs]),
                    exact(*values[runs : 2 * runs]),
                    exact(*values[2 * runs :]),
                )
                found = compare_runs(before, after, pooled_spread([before, after, others]))
                clear += confidence_of(found.p_value) == "clear"
            self.assertLessEqual(clear, 0.05 * 2000, runs)


def run(release: str, number: int, minutes: int, rig: str = "bench", memory: int = 1) -> Taken:
    cues = f"0:00 screen Disk\n{minutes}:00 phase desktop\n{minutes}:01 reading memory = {memory} GiB\n{minutes + 1}:00 end done"
    return msgspec.structs.replace(taken(digest(run_of(cues, f"{release}-{number}"))), rig=rig)


class Contrasts(unittest.TestCase):
    def of(self, found: tuple[Contrast, ...], name: str = "desktop") -> Contrast:
        return next(each for each in found if each.name == name)

    def test_one_run_each_borrows_the_spread_of_other_releases_and_says_so(self) -> None:
        releases = {"a": [run("a", 1, 10)], "b": [run("b", 1, 20)]}
        alone = self.of(contrasts("a", "b", releases))
        self.assertEqual((alone.method, alone.confidence, alone.difference), ("none", "can't say", (600.0, 600.0)))
        others = {"c": [run("c", 1, 30), run("c", 2, 31), run("c", 3, 30)], "d": [run("d", 1, 9)]}
        found = self.of(contrasts("a", "b", releases, others))
        self.assertEqual((found.method, found.borrowed, found.degrees_of_freedom), ("known spread", ("c",), 2))
        self.assertEqual(found.confidence, "clear")

    def test_repeats_on_different_rigs_are_no_repeats(self) -> None:
        releases = {"a": [run("a", 1, 10), run("a", 2, 90, "laptop")], "b": [run("b", 1, 20)]}
        self.assertEqual(self.of(contrasts("a", "b", releases)).method, "none")

    def test_chances_are_corrected_for_all_that_are_compared(self) -> None:
        releases = {
            "a": [run("a", n, 10 + n) for n in range(3)],
            "b": [run("b", n, 14 + n, memory=2) for n in range(3)],
        }
        found = contrasts("a", "b", releases)
        alone = compare_runs(
            exact(600, 660, 720), exact(840, 900, 960), pooled_spread([exact(600, 660, 720), exact(840, 900, 960)])
        )
        self.assertGreater(self.of(found).p_value or 0, alone.p_value or 0)
        self.assertEqual(
            (self.of(found, "memory (installed)").unit, self.of(found, "memory (installed)").confidence),
            ("bytes", "clear"),
        )
