"""Comparing: what changed, what it cost, what stands, and why to be careful."""

import unittest
from pathlib import Path

from metrograph.analysis.compare import compare
from metrograph.analysis.fold import fold
from metrograph.language.reader import read_log
from metrograph.model.cards import Rig
from metrograph.model.comparison import Change, Comparison, Side
from tests.helpers import DEMO, run_of, seconds


def sides(*logs: str) -> list[Side]:
    """A side of one run for each of these logs, named a, b, c."""
    return [Side(name, (run_of(log, name),)) for name, log in zip("abcd", logs, strict=False)]


def told(comparison: Comparison) -> list[tuple[str | None, ...]]:
    """The changes, without between whom."""
    return [(each.what, each.title, each.key, each.before, each.after) for each in comparison.changes]


def demo_side(release: str) -> Side:
    """A release of the demo with its runs."""
    paths = sorted(Path(DEMO / "runs").glob(f"{release}-*.metro"))
    return Side(release, tuple(fold(read_log(path.read_text())[0], path.stem) for path in paths))


class Changes(unittest.TestCase):
    def test_screens(self) -> None:
        found = compare(sides(
            "0:00 screen Language\n0:10 screen Keyboard\n0:20 screen Where are you?\n0:30 screen Package source\n0:40 screen Disk\n1:00 end done",
            "0:00 screen Language\n0:10 screen Time zone\n0:20 screen Disk\n0:30 screen Keyboard\n0:40 screen Extra drivers\n1:00 end done",
        ))  # fmt: skip
        self.assertEqual(
            told(found),
            [
                ("screen-moved", "Keyboard", None, "questions, after Language", "questions, after Disk"),
                ("screen-renamed", "Time zone", None, "Where are you?", "Time zone"),
                ("screen-gone", "Package source", None, None, None),
                ("screen-new", "Extra drivers", None, None, None),
            ],
        )

    def test_behind_the_restart_is_a_move_even_in_the_same_order(self) -> None:
        before = "0:00 screen Your account\n1:00 screen Copying files\n2:00 phase desktop\n3:00 end done"
        after = "0:00 screen Copying files\n1:00 phase restart\n2:00 screen Your account\n3:00 end done"
        change = compare(sides(before, after)).changes[0]
        self.assertEqual((change.what, change.before, change.after),
                         ("screen-moved", "questions, first", "setup, after Copying files"))  # fmt: skip

    def test_answers(self) -> None:
        before = """
            0:00 screen Disk
            0:01 keep swap = none
                offered: none, partition
            0:02 choose groups = +a, -b
                was: +b
            0:03 enter test text
        """
        after = """
            0:00 screen Disk
            0:01 choose swap = none
                was: file
                offered: none, file
            0:02 choose groups = -b, +a
                was: +b
            0:03 keep encryption = off
        """
        self.assertEqual(
            told(compare(sides(before, after))),
            [
                ("preset-changed", "Disk", "swap", "none", "file"),
                ("offer-changed", "Disk", "swap", "none, partition", "none, file"),
                ("question-gone", "Disk", "test text", None, None),
                ("question-new", "Disk", "encryption", None, "off"),
            ],
        )

    def test_trials(self) -> None:
        found = compare(
            sides(
                "0:00 check printer: pass\n0:01 check share: skipped",
                "0:00 check printer: fail\n0:01 check share: pass",
            )
        )
        self.assertEqual(
            found.changes, (Change("a", "b", "check-changed", key="printer", before="pass", after="fail"),)
        )

    def test_a_run_against_itself_has_none(self) -> None:
        side = demo_side("larkmoor-8.0-heron")
        self.assertEqual(compare([side, side]).changes, ())


class Issues(unittest.TestCase):
    def test_new_still_there_gone_back_and_not_passed_again(self) -> None:
        here, away = "0:00 screen Disk\n0:01 issue a: x\n1:00 end done", "0:00 screen Disk\n1:00 end done"
        elsewhere = "0:00 phase desktop\n1:00 end done"
        row = compare(sides(here, here, away, here)).issues[0]
        self.assertEqual(row.standing, ("new", "still there", "gone", "new"))
        self.assertEqual(row.seen, (1, 1, 0, 1))
        self.assertEqual(compare(sides(here, elsewhere)).issues[0].standing, ("new", "not passed again"))
        self.assertEqual(compare(sides(away, here)).issues[0].standing, ("absent", "new"))

    def test_without_a_name_the_wording_ties_it(self) -> None:
        found = compare(sides("0:00 issue The  mouse hangs", "0:00 issue the mouse hangs"))
        self.assertEqual([row.standing for row in found.issues], [("new", "still there")])


class Figures(unittest.TestCase):
    def test_times_are_medians_and_ranges_stay_ranges(self) -> None:
        logs = ("0:00 wait\n1:00 end done", "0:00 wait\n3:00 end done", "0:00 wait\n1:00 cut 1:00..5:00\n2:00 end done")
        side = Side("all", tuple(run_of(log) for log in logs))
        times = compare([side, side]).times[0]
        self.assertEqual((times.runs, times.machine, times.person), (3, seconds(180), seconds(0)))
        self.assertEqual(compare([Side("x", side.runs[2:]), side]).times[0].on_clock, seconds(180, 420))

    def test_readings_meet_in_one_state_only(self) -> None:
        live, installed = (
            "0:00 phase live\n0:01 reading memory = 1 GiB",
            "0:00 phase desktop\n0:01 reading memory = 2 GiB",
        )
        rows = compare(sides(live, installed)).readings
        self.assertEqual(
            [(row.state, row.values) for row in rows], [("live", (2**30, None)), ("installed", (None, 2**31))]
        )


class Demo(unittest.TestCase):
    def setUp(self) -> None:
        self.found = compare([demo_side("larkmoor-7.0-heron"), demo_side("larkmoor-8.0-heron")])

    def test_the_story_can_be_read_off(self) -> None:
        told_of = told(self.found)
        self.assertIn(("preset-changed", "Disk", "swap", "none", "file"), told_of)
        self.assertIn(("preset-changed", "Keyboard", "layout", "English (US)", "English (UK)"), told_of)
        self.assertIn(("check-changed", None, "printer", "pass", "fail"), told_of)
        standing = {row.name: (row.seen, row.standing) for row in self.found.issues}
        self.assertEqual(standing["disk-hidden"], ((0, 1), ("absent", "new")))
        self.assertEqual([len(row.cells) - row.cells.count(None) for row in self.found.rows], [2] * 15)

    def test_a_gap_in_the_record_stays_a_range_and_lunch_is_off_the_clock(self) -> None:
        run = demo_side("osterby-2026.1").runs[0]
        # 1:01:30 in the file, less 45:30 of lunch, plus a gap of 8 to 12 minutes.
        self.assertEqual((run.clock.on_clock, run.clock.paused), (seconds(1440, 1680), seconds(2730)))
        # From the issue at 3:50 to its fix at 4:40, with the gap between them.
        self.assertEqual((run.clock.lost, run.issues[0].lost), (seconds(530, 770), seconds(530, 770)))
        self.assertEqual(run.milestones.installed, seconds(1252, 1492))

    def test_lost_time_is_that_of_the_lost_attempt(self) -> None:
        runs = demo_side("larkmoor-8.0-heron").runs
        self.assertEqual(
            {run.run[-1]: run.clock.lost for run in runs}, dict.fromkeys("134", seconds(0)) | {"2": seconds(687)}
        )
        lost = [time.lost for time in self.found.times]
        self.assertEqual(lost, [seconds(0), seconds(0)])  # the median of three times 0:00 and one 11:27

    def test_readings_under_load_are_not_mixed_with_those_at_rest(self) -> None:
        found = compare(sides("0:00 phase desktop\n0:01 reading memory = 1 GiB\n    load: rest\n0:02 reading memory = 3 GiB\n    load: busy",
                              "0:00 phase desktop\n0:01 reading memory = 2 GiB\n    load: rest"))  # fmt: skip
        self.assertEqual([(row.load, row.values) for row in found.readings],
                         [("rest", (1 << 30, 2 << 30)), ("busy", (3 << 30, None))])  # fmt: skip

    def test_care_names_what_differs(self) -> None:
        rigs = {"bench-vm": Rig(memory=4 << 30), "loan-laptop": Rig(memory=8 << 30)}
        found = compare([demo_side("larkmoor-7.0-heron"), demo_side("larkmoor-8.0-heron")], rigs)
        care = {each.what: each.values for each in found.care}
        self.assertEqual(care, {"rig": ("bench-vm", "bench-vm, loan-laptop"), "memory": ("4 GiB", "4 GiB, 8 GiB")})

    def test_care_for_cuts_open_and_single_runs(self) -> None:
        care = compare(sides("0:00 cut 1:00", "0:00 screen Disk\n1:00 end done")).care
        self.assertEqual(
            [(each.what, each.values) for each in care],
            [("cuts", ("1", "0")), ("open", ("1", "0")), ("runs", ("1", "1"))],
        )
