"""Ranges: sums that stay exact, and what is open stays open."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.log.quantities.ranges import ZERO, Range, difference, exactly, median, total

EXACT = st.integers(0, 10**9).map(exactly)


class Ranges(unittest.TestCase):
    def test_sums(self) -> None:
        self.assertEqual(Range(1, 2) + Range(10, 20), Range(11, 22))
        self.assertEqual(Range(1, 2) + Range(10, None), Range(11, None))
        self.assertEqual(total([]), ZERO)
        self.assertEqual(exactly(100) + exactly(200), exactly(300))  # 0.1 + 0.2 in floats would not be

    def test_differences_keep_their_bounds(self) -> None:
        self.assertEqual(difference(Range(10, 10), Range(25, 25)), (15, 15))
        self.assertEqual(difference(Range(10, 20), Range(15, 40)), (-5, 30))
        self.assertEqual(difference(Range(10, None), Range(15, 15)), (None, 5))
        self.assertEqual(difference(Range(10, 10), Range(15, None)), (5, None))

    def test_where_to_draw_it(self) -> None:
        self.assertEqual((Range(480, 720).middle, Range(480, None).middle), (600, 480))

    def test_median_of_each_bound(self) -> None:
        self.assertEqual(median([Range(3, 3), Range(1, 1), Range(2, 9)]), Range(2, 3))
        self.assertEqual(median([Range(1, 1), Range(2, 2)]), Range(1.5, 1.5))
        self.assertEqual(median([Range(1, 1), Range(2, None)]), Range(1.5, None))
        self.assertEqual(median([Range(1, 1), Range(2, 2), Range(3, None)]), Range(2, 2))
        with self.assertRaises(ValueError):
            median([])

    @given(st.lists(st.integers(0, 10**9)))
    def test_totals_of_milliseconds_are_exact_in_any_order(self, parts: list[int]) -> None:
        self.assertEqual(total(map(exactly, parts)), exactly(sum(parts)))
        self.assertEqual(total(map(exactly, reversed(parts))), exactly(sum(parts)))
