"""Plans: what comes next, and where a run has left the path, worked out by hand."""

import unittest

from metrograph.analysis.plan import deviations, next_screen
from metrograph.analysis.status import status
from metrograph.model.ranges import Range
from metrograph.views.lists import render_status
from metrograph.views.paper import Paper
from tests.helpers import run_of

PLAN = run_of(
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
""",
    "plan-1",
)


class Plans(unittest.TestCase):
    def next(self, cues: str) -> str | None:
        found = next_screen(PLAN, run_of(cues))
        return found.title if found else None

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
        self.assertEqual(deviations(PLAN, PLAN), ())

    def test_deviations_are_those_of_what_was_passed(self) -> None:
        run = run_of(
            "0:00 screen Language\n0:10 keep language = English\n1:00 screen Where are you?\n2:00 screen Kettle\n3:00 screen Disk\n3:10 keep swap = file"
        )
        found = [(each.what, each.title, each.key) for each in deviations(PLAN, run)]
        self.assertEqual(
            sorted(found, key=str),
            sorted(
                [
                    ("screen-gone", "Package source", None),
                    ("screen-new", "Kettle", None),
                    ("preset-changed", "Disk", "swap"),
                    ("choice-changed", "Disk", "swap"),
                ],
                key=str,
            ),
        )


class Statuses(unittest.TestCase):
    def test_what_is_in_front_and_what_comes_next(self) -> None:
        found = status(run_of("0:00 screen Language\n0:10 issue a: x\n0:30 wait\n1:00 note y"), 5.0, PLAN)
        self.assertEqual((found.screen, found.now, found.open_issues), ("Language", "machine", ("x",)))
        self.assertEqual((found.this_screen.low, found.next, found.next_took), (60, "Where are you?", Range(60, 60)))

    def test_after_a_long_silence_the_pause_is_offered(self) -> None:
        log = "0:00 screen Disk\n10:00 note gone\n3:10:00 note back"
        quiet = render_status(status(run_of(log), 3 * 3600.0), Paper(width=160))
        self.assertIn("nothing was noted for 3:00:00; if you were away: metrograph cue --at 10:00 pause, then", quiet)
        self.assertNotIn("nothing was noted", render_status(status(run_of(log), 60.0), Paper()))
        self.assertNotIn(
            "nothing was noted", render_status(status(run_of(log + "\n3:10:00 pause\n9:00:00 note x"), 9e3), Paper())
        )
