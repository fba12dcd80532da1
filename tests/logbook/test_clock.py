"""The clock: a cue's time does not depend on what is done to the wall clock."""

import unittest
from datetime import UTC, datetime, timedelta
from unittest import mock

from metrograph.logbook import clock
from metrograph.logbook.clock import ANCHOR, Instant, anchor, elapsed
from metrograph.model.cues import Header

BEGUN = datetime(2026, 5, 2, 8, 0, tzinfo=UTC)
START = Instant(BEGUN, "aaaa", 1000.0)
HEADER = Header("r", "b", BEGUN, ((ANCHOR, anchor(BEGUN, START)),))


class Clocks(unittest.TestCase):
    def test_within_one_boot_the_wall_clock_may_do_what_it_likes(self) -> None:
        for jump in (timedelta(0), timedelta(hours=5), timedelta(days=-3)):
            later = Instant(BEGUN + timedelta(seconds=90) + jump, "aaaa", 1090.25)
            self.assertEqual(elapsed(HEADER, later), 90_250)

    def test_in_another_boot_the_wall_clock_has_to_do(self) -> None:
        self.assertEqual(elapsed(HEADER, Instant(BEGUN + timedelta(seconds=90), "bbbb", 12.0)), 90_000)

    def test_another_time_zone_changes_nothing(self) -> None:
        moved = (BEGUN + timedelta(seconds=90)).astimezone()
        self.assertEqual(elapsed(Header("r", "b", BEGUN), Instant(moved, "", 0)), 90_000)

    def test_a_run_begun_in_the_past_is_anchored_there(self) -> None:
        header = Header(
            "r", "b", BEGUN - timedelta(minutes=10), ((ANCHOR, anchor(BEGUN - timedelta(minutes=10), START)),)
        )
        self.assertEqual(elapsed(header, Instant(BEGUN, "aaaa", 1001.0)), 601_000)

    def test_an_anchor_that_was_edited_counts_as_none(self) -> None:
        header = Header("r", "b", BEGUN, ((ANCHOR, "aaaa soon"),))
        self.assertEqual(elapsed(header, Instant(BEGUN + timedelta(seconds=1), "aaaa", 5.0)), 1000)
        self.assertIsNone(elapsed(Header(), START))

    def test_the_process_started_before_now_and_not_long_ago(self) -> None:
        started, present = clock.process_start(), clock.now()
        self.assertEqual(started.boot, present.boot)
        self.assertTrue(0 <= present.ticks - started.ticks < 3600)
        self.assertAlmostEqual((present.wall - started.wall).total_seconds(), present.ticks - started.ticks, delta=0.05)

    def test_where_the_system_does_not_tell_it_is_this_moment(self) -> None:
        with mock.patch("pathlib.Path.read_text", side_effect=OSError):
            self.assertEqual((clock.process_start().boot, anchor(BEGUN, clock.now())), ("", ""))
