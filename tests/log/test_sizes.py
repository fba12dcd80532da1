"""Sizes: both families kept apart, exact bytes, shown in the family that they were said in or the reader chose."""

import contextvars
import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.log.quantities.quantity import loose_unit, parse_exact
from metrograph.log.quantities.units import choose_family, format_size, rounded_size, show_size, show_size_shortly


def size_of(text: str) -> float:
    return parse_exact(text, "bytes")


class Sizes(unittest.TestCase):
    def test_worked_examples(self) -> None:
        for text, size in {
            "0 B": 0,
            "512 bytes": 512,
            "1 KiB": 1024,
            "1 kB": 1000,
            "25 GiB": 26_843_545_600,
            "25 GB": 25_000_000_000,
            "24.7 GiB": 26_521_423_053,  # 24.7 x 1,073,741,824 = 26,521,423,052.8
            "300mb": 300_000_000,
            "163 megabytes": 163_000_000,
            "1,3 GB": 1_300_000_000,
        }.items():
            self.assertEqual(size_of(text), size, text)

    def test_loose_units_are_taken_for_the_binary_ones_and_told(self) -> None:
        self.assertEqual((size_of("4 G"), size_of("300M"), size_of("2 gigs")), (4 << 30, 300 << 20, 2 << 30))
        self.assertEqual((loose_unit("/ ext4 24 G"), loose_unit("300M")), (("G", "GiB"), ("M", "MiB")))
        for clear in ("4 GB", "4 GiB", "4", "swap file", "none"):
            self.assertIsNone(loose_unit(clear))

    def test_shown_in_the_family_that_it_was_said_in(self) -> None:
        sizes = {0: "0 bytes", 1023: "1023 bytes", 1024: "1 KiB", 812 << 20: "812 MiB", 120 * 10**9: "120 GB"}
        sizes |= {
            int(24.7 * 2**30): "24.7 GiB",
            int(1.08 * 2**30): "1.08 GiB",
            2**20 - 1: "1 MiB",
            10 * 2**30: "10 GiB",
            163 * 10**6: "163 MB",
            2 * 10**9: "2 GB",
            625 << 20: "625 MiB",  # 655,360,000 bytes are round in both families, and rounder in this one
            2000: "2 kB",
        }
        for size, shown in sizes.items():
            self.assertEqual(show_size(size), shown)

    def test_small_ones_keep_the_digits_that_a_difference_needs(self) -> None:
        # 1217 and 1323 MiB differ by 106; as 1.19 and 1.29 GiB they would by 102.
        for size, shown, shortly in (
            (1217 << 20, "1217 MiB", "1.19 GiB"), (1280 << 20, "1.25 GiB", "1.25 GiB"), (10_001 << 20, "9.77 GiB", "9.77 GiB"),
            (9990 << 20, "9990 MiB", "9.76 GiB"), (11878 << 20, "11.6 GiB", "11.6 GiB"), (812 << 20, "812 MiB", "812 MiB"),
            (-(1217 << 20), "-1217 MiB", "-1.19 GiB"),
        ):  # fmt: skip
            self.assertEqual((show_size(size), show_size_shortly(size)), (shown, shortly))
            self.assertEqual(rounded_size(rounded_size(size)), rounded_size(size))

    def test_the_readers_choice_goes_before(self) -> None:
        def shown() -> tuple[str, str, float]:
            choose_family(lambda: "decimal")
            return show_size(812 << 20), show_size(163 * 10**6), rounded_size(812 << 20)

        # 812 MiB are 851,443,712 bytes
        self.assertEqual(contextvars.copy_context().run(shown), ("851 MB", "163 MB", 851_000_000))

    @given(st.integers(0, 2**62))
    def test_exact_form_round_trips(self, size: int) -> None:
        self.assertAlmostEqual(size_of(format_size(size)), size, delta=size / 2**52)
