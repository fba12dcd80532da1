"""Quantities as people say them: each form of the language, and what is refused rather than taken for something else."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.log.faults import Unreadable
from metrograph.log.quantities.quantity import Share, parse_length, parse_quantity, parse_share
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.ratings import RatingSaid, parse_rating, rating_in_words
from metrograph.log.quantities.units import BYTES, COUNT, PERCENT, SECONDS
from metrograph.measures.show import show_figure

MEGA = 10**6


def read(text: str, unit: str | None = None, name: str = "") -> tuple[Range | None, str]:
    quantity = parse_quantity(text, unit, name)
    return quantity.amount, quantity.unit


def refused(text: str, unit: str | None = None, name: str = "") -> str:
    try:
        parse_quantity(text, unit, name)
    except Unreadable as wrong:
        return wrong.sentence
    raise AssertionError(f"{text} was taken")


def exact(value: float) -> Range:
    return Range(value, value)


class Said(unittest.TestCase):
    def test_every_form_means_what_it_says(self) -> None:
        for text, unit, amount in (
            ("163 MB", BYTES, exact(163 * MEGA)),
            ("163 megabytes", BYTES, exact(163 * MEGA)),
            ("163MB", BYTES, exact(163 * MEGA)),
            ("1,3 GB", BYTES, exact(1300 * MEGA)),
            ("1.300,5 MB", BYTES, exact(1300.5 * MEGA)),
            ("500..600 MB", BYTES, Range(500 * MEGA, 600 * MEGA)),
            ("500–600 MB", BYTES, Range(500 * MEGA, 600 * MEGA)),
            ("between 500 and 600 MB", BYTES, Range(500 * MEGA, 600 * MEGA)),
            ("500 MB..1 GB", BYTES, Range(500 * MEGA, 1000 * MEGA)),
            ("5..10 min", SECONDS, Range(300, 600)),
            ("8:00..12:00", SECONDS, Range(480, 720)),
            ("16..17", COUNT, Range(16, 17)),
            ("16..17 updates", COUNT, Range(16, 17)),
            ("under 500 MB", BYTES, Range(0, 500 * MEGA)),
            ("at most 500 MB", BYTES, Range(0, 500 * MEGA)),
            ("> 2", COUNT, Range(2, None)),
            ("at least 2 GiB", BYTES, Range(2 << 30, None)),
            ("80 %", PERCENT, exact(80)),
            ("1:10", SECONDS, exact(70)),
            ("70 s", SECONDS, exact(70)),
            ("1 h 20 min", SECONDS, exact(4800)),
            ("2 of 10", "of 10", exact(2)),
            ("4 frames/s", "frames/s", exact(4)),
            ("?", SECONDS, Range(0, None)),
        ):
            wanted = unit if unit in {BYTES, SECONDS, PERCENT, COUNT} else None
            self.assertEqual(read(text, wanted, "updates"), (amount, unit), text)

    def test_about_reaches_a_fifth_to_either_side_and_is_told(self) -> None:
        for text in ("about 600", "~600", "around 600", "roughly 600", "circa 600"):
            amount = parse_quantity(text, COUNT).amount
            self.assertEqual((amount, amount and amount.about), (exact(600).guessed(0.2), True), text)
        amount = parse_quantity("about 600", COUNT).amount
        self.assertEqual((amount and amount.low, amount and amount.high), (480, 720))
        wide = parse_quantity("about 600", COUNT, width=0.5).amount
        self.assertEqual((wide and wide.low, wide and wide.high), (300, 900))

    def test_words_are_kept_and_are_no_number(self) -> None:
        for text in ("a few", "many", "hardly any"):
            quantity = parse_quantity(text, COUNT)
            self.assertEqual((quantity.amount, quantity.text), (None, text))

    def test_what_was_not_understood_is_refused_with_what_could_stand_there(self) -> None:
        for text, unit, told in (
            ("163", BYTES, "does not say in what"),
            ("163 packages", BYTES, "“packages” is not what this is measured in"),
            ("163 megabuytes", BYTES, "megabytes"),
            ("1,300 MB", BYTES, "“1,300” could be 1.300 or 1300"),
            ("600..500 MB", BYTES, "no range"),
            ("16 MB", COUNT, "is not what this is measured in"),
            ("lots of 5", None, "cannot be read as a quantity"),
            ("1:10 min", SECONDS, "two units"),
            ("500 MB..3 min", None, "no range"),
        ):
            self.assertIn(told, refused(text, unit, "updates"), text)

    def test_shown_as_it_was_known(self) -> None:
        for text, unit, shown in (
            ("1,3 GB", BYTES, "1.3 GB"),
            ("about 600", COUNT, "≈ 600"),
            ("500..600 MB", BYTES, "500–600 MB"),
            ("under 500 MB", BYTES, "< 500 MB"),
            ("more than 2", COUNT, "> 2"),
            ("80 %", PERCENT, "80 %"),
            ("2 of 10", None, "2 of 10"),
        ):
            quantity = parse_quantity(text, unit)
            assert quantity.amount is not None
            self.assertEqual(show_figure(quantity.amount, quantity.unit), shown)

    @given(st.text(max_size=30))
    def test_whatever_is_said_is_read_or_refused(self, text: str) -> None:
        for unit in (BYTES, SECONDS, COUNT, None):
            try:
                amount = parse_quantity(text, unit).amount
            except Unreadable:
                continue
            self.assertTrue(amount is None or amount.high is None or amount.low <= amount.high)


class Lengths(unittest.TestCase):
    def test_cuts_take_ranges_guesses_and_what_nobody_knows(self) -> None:
        for text, length in (
            ("4:10", exact(250)), ("8:00..12:00", Range(480, 720)), ("5 min", exact(300)), ("?", Range(0, None)),
        ):  # fmt: skip
            self.assertEqual(parse_length(text), length)
        about = parse_length("about 5:00")
        self.assertEqual((about.low, about.high, about.about), (240, 360, True))
        for wrong in ("12:00..8:00", "8", "", "..", "8:00..", "a while"):
            with self.assertRaises(Unreadable):
                parse_length(wrong)

    def test_shares(self) -> None:
        self.assertEqual((parse_share("7 of 10"), parse_share("7.5/10")), (Share(7, 10), Share(7.5, 10)))
        for wrong in ("11 of 10", "good", "7", "3 of 0"):
            self.assertIsNone(parse_share(wrong))


class Spoken(unittest.TestCase):
    def test_halves_counts_and_parts_of_a_whole(self) -> None:
        cases = {
            "half a gigabyte": (5e8, "bytes"), "one and a half gigs": (1.5 * 2**30, "bytes"),
            "two and a quarter minutes": (135.0, "s"), "three quarters of an hour": (2700.0, "s"),
            "73,523 packages": (73523.0, "packages"), "1,234,567 files": (1234567.0, "files"),
        }  # fmt: skip
        for said, (amount, unit) in cases.items():
            read = parse_quantity(said)
            self.assertEqual((read.amount, read.unit), (Range(amount, amount), unit), said)
        part = parse_quantity("527 MB of 3 GB", "bytes")
        self.assertEqual((part.amount, part.total), (Range(5.27e8, 5.27e8), 3e9))
        self.assertEqual(parse_quantity("73,523", "").amount, Range(73523, 73523))
        for words in ("two of them failed", "half of what it was", "a quarter"):
            self.assertIsNone(parse_quantity(words).amount, words)
        for wrong in ("1,300 MB", "527 MB of 3 s", "527 MB of about 3 GB"):
            with self.assertRaises(Unreadable):
                parse_quantity(wrong, "bytes")

    def test_ratings(self) -> None:
        cases = {
            "good": (4, 6, True), "Very Good": (5, 6, True), "7 of 10": (7, 10, False), "7": (7, 10, False),
            "4 stars": (4, 5, False), "4 of 5 stars": (4, 5, False), "80 %": (80, 100, False), "8.5/10": (8.5, 10, False),
        }  # fmt: skip
        for said, expected in cases.items():
            self.assertEqual(parse_rating(said), RatingSaid(*expected), said)
        for none in ("11", "6 stars", "120 %", "goodish", ""):
            self.assertIsNone(parse_rating(none), none)
        self.assertEqual((rating_in_words(4), rating_in_words(4.5)), ("good", "good to very good"))
