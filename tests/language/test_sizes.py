"""Sizes: both families kept apart, exact bytes."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.language.sizes import format_size, loose_unit, parse_size, show_size


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
        }.items():
            self.assertEqual(parse_size(text), size, text)

    def test_loose_units_are_taken_for_the_binary_ones_and_told(self) -> None:
        self.assertEqual((parse_size("4 G"), parse_size("300M"), parse_size("2 gigs")), (4 << 30, 300 << 20, 2 << 30))
        self.assertEqual((loose_unit("/ ext4 24 G"), loose_unit("300M")), (("G", "GiB"), ("M", "MiB")))
        for clear in ("4 GB", "4 GiB", "4", "swap file", "none"):
            self.assertIsNone(loose_unit(clear))

    def test_what_is_no_size(self) -> None:
        for text in ("", "25", "GiB", "25 Gigs", "-1 GiB", "1,5 GiB", "1e9 B", "٢ GiB"):
            self.assertIsNone(parse_size(text), text)

    def test_shown_in_the_binary_family(self) -> None:
        sizes = {0: "0 bytes", 1023: "1023 bytes", 1024: "1 KiB", 812 << 20: "812 MiB", 120 * 10**9: "112 GiB"}
        sizes |= {
            int(24.7 * 2**30): "24.7 GiB",
            int(1.08 * 2**30): "1.08 GiB",
            2**20 - 1: "1 MiB",
            10 * 2**30: "10 GiB",
        }
        for size, shown in sizes.items():
            self.assertEqual(show_size(size), shown)

    @given(st.integers(0, 2**62))
    def test_exact_form_round_trips(self, size: int) -> None:
        self.assertEqual(parse_size(format_size(size)), size)
