"""The clock: a cue's time does not depend on what is done to the wall clock."""

import os
import subprocess
import sys
import unittest
from datetime import UTC, datetime, timedelta, timezone
from unittest import mock

from metrograph.core.errors import MetrographError
from metrograph.log.cues import Header, Log
from metrograph.store import clock
from metrograph.store.clock import ANCHOR, Instant, anchor, cue_time, elapsed, renewed

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

    def test_summer_time_and_a_journey_change_nothing(self) -> None:
        lisbon = timezone(timedelta(hours=1))
        begun = datetime(2026, 10, 25, 1, 50, tzinfo=lisbon)  # ten minutes before clocks go back
        header = Header("r", "b", begun)
        self.assertEqual(elapsed(header, Instant(datetime(2026, 10, 25, 1, 10, tzinfo=UTC), "", 0)), 20 * 60_000)
        tokyo = timezone(timedelta(hours=9))
        self.assertEqual(elapsed(header, Instant(datetime(2026, 10, 25, 10, 10, tzinfo=tokyo), "", 0)), 20 * 60_000)

    def test_a_new_boot_is_anchored_by_its_first_cue(self) -> None:
        restarted = Instant(BEGUN + timedelta(minutes=10), "bbbb", 30.0)
        said = renewed(HEADER, restarted, earliest=0)
        self.assertEqual(said, "aaaa 1000.00, bbbb -570.00")
        header = Header("r", "b", BEGUN, ((ANCHOR, said or ""),))
        # Asleep for an hour and set back a day meanwhile: only the boot's clock counts, and the first boot's still does.
        self.assertEqual(elapsed(header, Instant(BEGUN - timedelta(days=1), "bbbb", 3630.0)), 4_200_000)
        self.assertEqual(elapsed(header, Instant(BEGUN, "aaaa", 1001.0)), 1000)
        self.assertIsNone(renewed(header, Instant(BEGUN, "bbbb", 99.0), earliest=0))

    def test_a_shell_that_waited_before_it_became_the_command_is_not_its_start(self) -> None:
        script = "from metrograph.store.clock import now, process_start; print(now().ticks - process_start().ticks)"
        for shell in (f"sleep 2; exec '{sys.executable}' -c '{script}'", f"sleep 2; '{sys.executable}' -c '{script}'"):
            done = subprocess.run(["bash", "-c", shell], capture_output=True, text=True, check=True)
            self.assertLess(float(done.stdout), 1.5)

    def test_a_moment_still_to_come_is_refused_where_this_clock_tells_the_time(self) -> None:
        present, log = Instant(BEGUN + timedelta(minutes=2), "aaaa", 1120.0), Log("a-1", HEADER, ())
        self.assertEqual([cue_time(log, present, said) for said in ("1:30", "2:50")], [90_000, 170_000])
        with self.assertRaisesRegex(MetrographError, "--at 50:00 is still to come: the run's clock says 2:00"):
            cue_time(log, present, "50:00")
        told_afterwards = Log("a-1", Header("r", "b", BEGUN), ())
        self.assertEqual(cue_time(told_afterwards, present, "50:00"), 3_000_000)

    def test_a_wall_clock_that_must_be_wrong_anchors_nothing(self) -> None:
        early = Instant(BEGUN + timedelta(minutes=1), "bbbb", 30.0)
        self.assertIsNone(renewed(HEADER, early, earliest=61_000))
        self.assertIsNone(renewed(Header("r", "b", BEGUN), early, earliest=0))

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

    def test_the_process_started_a_moment_ago(self) -> None:
        script = (
            "import time; from metrograph.store.clock import *\n"
            "while time.process_time() < 2: pass\n"  # that much loading takes it, on a slow machine
            "print(process_start().ticks, now().ticks)"
        )
        before = clock.now().ticks
        said = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True).stdout
        started, asked = map(float, said.split())
        self.assertLess(abs(started - before), 1)
        self.assertGreaterEqual(asked - started, 1.9)

    def test_a_start_that_cannot_be_is_not_believed(self) -> None:
        for age in (-5.0, 90.0):
            stat = f"1 (a b) {' '.join(['0'] * 19)} {round((clock.now().ticks - age) * os.sysconf('SC_CLK_TCK'))}"
            with mock.patch("pathlib.Path.read_text", return_value=stat):
                self.assertAlmostEqual(clock.process_start().ticks, clock.now().ticks, delta=1)

    def test_where_the_system_does_not_tell_it_is_this_moment(self) -> None:
        with mock.patch("pathlib.Path.read_text", side_effect=OSError):
            self.assertEqual((clock.process_start().boot, anchor(BEGUN, clock.now())), ("", ""))
