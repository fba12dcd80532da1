"""Plans: what comes next, and where a run has left the path, worked out by hand."""

import unittest

from metrograph.log.lexicon import Checklist
from metrograph.log.quantities.ranges import Range
from metrograph.log.writer import format_line
from metrograph.plan.plan import StillToDo, cues_of, deviations, next_step, still_to_do
from metrograph.plan.status import Status, status
from metrograph.show.report.lists import status_report
from metrograph.show.terminal.terminal_writer import write
from metrograph.show.terminal.text import Medium
from metrograph.words.change_words import deviation
from tests.helpers import plan_from, run_of

PLAN = plan_from(
    """
    0:00 screen Language
    0:10 keep language = English
    1:00 screen Where are you?
    2:00 screen Package source
    3:00 screen Disk
    3:10 keep swap = none
    3:20 keep method = whole disk
    4:00 screen Copying files
    9:00 end done
"""
)


def shown(state: Status, width: int = 80) -> str:
    return write(status_report(state), Medium(width=width))


class Plans(unittest.TestCase):
    def next(self, cues: str) -> str | None:
        found = next_step(PLAN, run_of(cues))
        return found.screen.title if found else None

    def test_what_comes_next(self) -> None:
        self.assertEqual(self.next("0:00 note not begun"), "Language")
        self.assertEqual(self.next("0:00 screen Language"), "Where are you?")
        self.assertEqual(self.next("0:00 screen Language\n1:00 screen Time zone"), "Package source")
        self.assertEqual(self.next("0:00 screen Language\n1:00 screen Kettle"), "Where are you?")
        self.assertEqual(self.next("0:00 screen Language\n1:00 screen Disk\n2:00 screen Language"), "Copying files")
        self.assertIsNone(self.next("0:00 screen Copying files"))

    def test_a_run_on_the_path_has_no_deviations(self) -> None:
        self.assertEqual(
            deviations(PLAN, run_of("0:00 screen Language\n0:10 keep language = English\n1:00 screen Where are you?")),
            (),
        )
        self.assertEqual(deviations(PLAN, PLAN.side.runs[0]), ())

    def test_deviations_are_those_of_what_was_passed(self) -> None:
        run = run_of(
            "0:00 screen Language\n0:10 keep language = English\n1:00 screen Where are you?\n2:00 screen Kettle\n3:00 screen Disk\n3:10 keep swap = file"
        )
        self.assertEqual(
            sorted(map(deviation, deviations(PLAN, run))),
            [
                "The screen “Kettle” is not in the plan.",
                "The screen “Package source” was skipped.",
                "swap is pre-set differently: file, not none.",
            ],
        )

    def test_the_merged_flow_of_a_releases_runs(self) -> None:
        plan = plan_from(
            "0:00 screen Language\n0:10 screen Disk\n0:12 choose swap = file\n0:40 screen Copying files\n1:00 end done",
            "0:00 screen Language\n0:10 screen Kettle\n0:15 screen Disk\n0:18 keep swap = none\n0:35 screen Copying files\n1:00 end done",
            "0:00 screen Language\n0:12 screen Disk\n0:13 choose swap = file\n0:13 wait\n1:12 screen Copying files\n2:00 end done",
        )
        # The screen that one run of three had is no part of it; 30, 20 and 60 seconds have the median 30.
        self.assertEqual([step.screen.title for step in plan.steps], ["Language", "Disk", "Copying files"])
        self.assertEqual(plan.steps[1].screen.on_clock, Range(30, 30))
        self.assertEqual([cue.verb for cue in plan.steps[1].cues], ["choose", "wait"])
        self.assertEqual(
            deviations(plan, run_of("0:00 screen Language\n0:10 screen Disk\n0:12 choose swap = file")), ()
        )

    def test_what_is_written_for_a_step(self) -> None:
        step = plan_from(
            "0:00 screen Start\n    kind: welcome\n0:01 choose a = 1\n    was: 0\n    offered: 0, 1\n0:02 enter name\n0:03 keep b = x"
        ).steps[0]
        self.assertEqual([format_line(cue) for cue in cues_of(step, same=True)],
                         ["screen Start | kind welcome", "choose a = 1 | was 0 | offered 0, 1", "keep b = x"])  # fmt: skip
        self.assertEqual(len(cues_of(step, same=False)), 1)


class Checklists(unittest.TestCase):
    def test_what_is_still_to_do_is_that_of_the_list_and_of_the_plan(self) -> None:
        plan = plan_from("0:00 screen Disk\n0:01 check printer: pass\n0:02 reading memory = 1 GiB\n0:03 end done")
        wanted = Checklist(checks=("wireless", "printer"), readings=("packages",))
        run = run_of("0:00 screen Disk\n0:01 check printer: fail")
        self.assertEqual(still_to_do(run, wanted, plan), StillToDo(("wireless",), ("packages", "memory (live)")))
        installed = run_of(
            "0:00 phase desktop\n0:01 reading memory = 1 GiB\n0:02 reading packages = 9\n0:03 check wireless: pass"
        )
        self.assertEqual(still_to_do(installed, wanted, plan), StillToDo(("printer",), ("memory (live)",)))
        found = status(run, plan=plan, checklist=wanted)
        self.assertEqual((found.to_try, found.to_read), (("wireless",), ("packages", "memory (live)")))
        self.assertIn("to read      packages, memory (live)", shown(found))


class Statuses(unittest.TestCase):
    def test_what_is_in_front_and_what_comes_next(self) -> None:
        found = status(run_of("0:00 screen Language\n0:10 issue a: x\n0:30 wait\n1:00 note y"), 60_000, 65_000, PLAN)
        self.assertEqual((found.screen, found.now, found.open_issues), ("Language", "machine", ("x",)))
        self.assertEqual((found.this_screen.low, found.next, found.next_took), (60, "Where are you?", Range(60, 60)))
        self.assertEqual((found.last_cue, found.quiet), (60, 5))

    def test_after_a_long_silence_the_pause_is_offered_as_the_log_counts(self) -> None:
        log = "0:00 screen Disk\n5:00 cut 20:00\n10:00 note gone\n3:10:00 note back"
        last, now = 600_000, 11_400_000
        quiet = shown(status(run_of(log), last, now), 160)
        self.assertIn("nothing was noted for 3:00:00; if you were away: metrograph cue --at 10:00 pause, then", quiet)
        self.assertNotIn("nothing was noted", shown(status(run_of(log), last, last + 60_000)))
        paused = status(run_of(log + "\n3:10:00 pause\n9:00:00 note x"), last, now)
        self.assertNotIn("nothing was noted", shown(paused))
