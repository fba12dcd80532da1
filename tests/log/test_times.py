"""Times: exact in and out, ranges shown as ranges."""

import os
import time
import unittest
from datetime import UTC, datetime, timedelta, timezone
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from metrograph.log.faults import Unreadable
from metrograph.log.quantities.ranges import Range
from metrograph.log.quantities.times import (
    format_time,
    parse_moment,
    parse_time,
    show_duration,
    show_tenths,
)


class Times(unittest.TestCase):
    def test_tenths(self) -> None:
        for duration, shown in (
            (Range(1.4, 1.4), "0:01.4"), (Range(61, 62.25), "1:01–1:02.2"), (Range(5, None), "≥ 0:05"), (Range(0, 1), "0:00–0:01"),
        ):  # fmt: skip
            self.assertEqual(show_tenths(duration), shown)

    def test_a_moment_that_was_twice_or_never_is_asked_back(self) -> None:
        at = datetime(2025, 11, 1, tzinfo=UTC)
        with mock.patch.dict(os.environ, TZ="Europe/Berlin"):
            time.tzset()
            self.addCleanup(time.tzset)
            for text in ("2025-10-26 02:30", "2025-03-30 02:30"):
                with self.assertRaisesRegex(Unreadable, "is not one moment"):
                    parse_moment(text, at)
            self.assertEqual(parse_moment("2025-10-26 04:30", at), datetime(2025, 10, 26, 3, 30, tzinfo=UTC))

    def test_worked_examples(self) -> None:
        for text, milliseconds in {
            "0:00": 0,
            "0:07.2": 7_200,
            "0:07.25": 7_250,
            "0:07.025": 7_025,
            "4:10": 250_000,
            "75:20": 4_520_000,
            "1:04:10": 3_850_000,
            "100:00:00": 360_000_000,
        }.items():
            self.assertEqual(parse_time(text), milliseconds, text)

    def test_what_is_no_time(self) -> None:
        for text in (
            "",
            "4",
            "4:1",
            "4:60",
            "1:60:00",
            "1:4:10",
            "-4:10",
            "4:10.",
            "4:10.1234",
            "٤:١٠",
            "4:10 ",
            "1234567:00",
        ):
            self.assertIsNone(parse_time(text), text)

    def test_shortest_form(self) -> None:
        self.assertEqual(format_time(7_250), "0:07.25")
        self.assertEqual(format_time(4_520_000), "1:15:20")

    @given(st.integers(0, 10**9))
    def test_round_trip(self, milliseconds: int) -> None:
        self.assertEqual(parse_time(format_time(milliseconds)), milliseconds)


class Durations(unittest.TestCase):
    def test_shown_as_known(self) -> None:
        self.assertEqual(show_duration(Range(250, 250)), "4:10")
        self.assertEqual(show_duration(Range(600, 900)), "10:00–15:00")
        self.assertEqual(show_duration(Range(250, None)), "≥ 4:10")
        self.assertEqual(show_duration(Range(3850.4, 3850.4)), "1:04:10")
        self.assertEqual(show_duration(Range(0.1, 0.4)), "0:00")


class Moments(unittest.TestCase):
    NOW = datetime(2026, 5, 2, 10, 4, tzinfo=timezone(timedelta(hours=2)))

    def test_clock_times_are_the_last_that_were(self) -> None:
        self.assertEqual(parse_moment("9:30", self.NOW), self.NOW.replace(hour=9, minute=30))
        self.assertEqual(parse_moment("23:30", self.NOW), datetime(2026, 5, 1, 23, 30, tzinfo=self.NOW.tzinfo))

    def test_full_moments(self) -> None:
        self.assertEqual(parse_moment("2026-05-02T10:04:11Z", self.NOW), datetime(2026, 5, 2, 10, 4, 11, tzinfo=UTC))
        local = parse_moment("2026-05-02 10:04", self.NOW)
        self.assertIsNotNone(local and local.tzinfo)
        self.assertIsNone(parse_moment("yesterday", self.NOW))
