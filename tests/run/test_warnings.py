"""Warnings: what can be read but is probably not meant; and what a record lacks."""

import unittest

from metrograph.run.warnings import lacks, warnings
from tests.helpers import LEXICON, log_of, run_of


class Warnings(unittest.TestCase):
    def of(self, cues: str) -> list[tuple[int, str, str]]:
        return [(fault.line - 5, fault.message, fault.expected) for fault in warnings(log_of(cues), LEXICON)]

    def test_a_sound_log_has_none(self) -> None:
        self.assertEqual(
            self.of("0:00 screen Disk\n0:01 issue a: x\n0:02 fix a: y\n0:03 pause\n0:04 resume\n0:05 end done"), []
        )

    def test_each_kind(self) -> None:
        self.assertEqual(
            self.of("""
                0:00 keep entry = live
                0:01 issue disk-hidden: x
                0:02 fix disk-hiden: y
                0:03 resume
                0:04 end done
                0:05 note late
            """),
            [
                (1, "this choice belongs to no screen", "a screen before it"),
                (2, "this issue was never fixed", "fix disk-hidden: how"),
                (3, "there is no issue “disk-hiden” to fix", "disk-hidden"),
                (4, "the run was not paused", "pause before it"),
                (6, "this cue is later than the end of the run", "a time before the end"),
            ],
        )
        self.assertEqual(self.of("0:00 pause\n0:01 pause"),
                         [(2, "the run has no end", "end done, or end abandoned"), (2, "the run was paused already", "resume before it")])  # fmt: skip

    def test_work_that_ends_before_it_began_and_never_names_what_may_be_meant(self) -> None:
        done = "0:00 screen Disk\n0:01 task index: x\n0:02 done update\n0:03 done index\n0:04 end done"
        self.assertEqual(self.of(done), [(3, "there is no task “update” under way", "task index")])
        alone = "0:00 screen Disk\n0:02 done update\n0:04 end done"
        self.assertEqual(self.of(alone), [(2, "there is no task “update” under way", "task update")])

    def test_two_hours_of_silence_are_borne_and_no_second_more(self) -> None:
        for end, told in (("2:00:00", []), ("2:00:01", ["nothing was noted for 2:00:01 before this"])):
            self.assertEqual([message for _, message, _ in self.of(f"0:00 screen Disk\n{end} end done")], told)

    def test_one_screen_at_a_time(self) -> None:
        self.assertEqual(
            self.of("0:00 screen Disk\n0:00 screen Users\n0:01 screen Host\n0:02 end done"),
            [(2, "“Disk” came up at the same time", "a later time for one of them")],
        )

    def test_moments_that_cannot_be(self) -> None:
        self.assertEqual(
            self.of("""
                0:00 screen Disk
                0:00 screen Language
                0:10 wait
                0:10 ready
                9:00:00 note back again
                9:00:01 wait
                18:00:00 end done
            """),
            [
                (2, "“Disk” came up at the same time", "a later time for one of them"),
                (3, "this wait has no length", "a time before that of what ends it"),
                (5, "nothing was noted for 8:59:50 before this", "pause at 0:10 and resume at 9:00:00"),
            ],
        )

    def test_units_that_are_loose_or_not_those_of_the_figure(self) -> None:
        found = self.of("""
            0:00 screen Disk
            0:01 layout whole disk
                disk: 25 G
                part: / ext4 24 GiB
            0:02 reading memory = 812 M
            0:03 reading hum = 3 G
            0:04 reading fan = 40 %
            0:05 reading fan = 1200
            0:06 end done
        """)
        self.assertEqual(
            [(line, message.partition(";")[0], expected) for line, message, expected in found],
            [
                (2, "“G” does not say whether it counts in 1000s or in 1024s", "GiB or GB"),
                (5, "“M” does not say whether it counts in 1000s or in 1024s", "MiB or MB"),
                (6, "“G” does not say whether it counts in 1000s or in 1024s", "GiB or GB"),
                (8, "“fan” was read in % before, now in a bare number", "%"),
            ],
        )

    def test_an_issue_that_ended_an_attempt_needs_no_fix(self) -> None:
        self.assertEqual(self.of("0:00 issue a: x\n0:01 fail y\n    issue: a\n0:02 end abandoned"), [])

    def test_what_a_record_lacks(self) -> None:
        self.assertEqual(len(lacks(run_of("0:00 issue a: x\n1:00 end done"))), 6)
        complete = "0:00 screen Disk\n0:01 layout whole disk\n0:02 phase desktop\n0:03 reading memory = 1 GiB\n0:04 check a: pass"
        self.assertEqual(lacks(run_of(complete)), [])
