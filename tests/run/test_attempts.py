"""What another try keeps of the way so far, and what was in vain."""

import unittest

from metrograph.run.records import Run
from metrograph.run.route import route_screens
from tests.helpers import run_of, seconds

BEFORE = """
    0:00 screen Boot menu
    1:00 screen Language
    1:10 keep language = English
    2:00 screen Disk
    2:10 choose method = whole disk
    3:00 screen Summary
"""
FAILED = "    4:00 fail the disk was not divided\n"
AFTER = """
    6:00 screen Copying files
    9:00 phase restart
    10:00 phase desktop
    11:00 end done
"""


def tried(retry: str, more: str = "") -> Run:
    return run_of(f"{BEFORE}{FAILED}    5:00 retry {retry}\n{more}{AFTER}")


def way(run: Run) -> list[tuple[str, int]]:
    return [(screen.title, screen.attempt) for screen in route_screens(run)]


class Retries(unittest.TestCase):
    def test_from_power_on_everything_is_gone_through_again(self) -> None:
        run = tried("from power-on", "    5:10 screen Language\n    5:20 screen Disk\n")
        self.assertEqual(way(run), [("Language", 2), ("Disk", 2), ("Copying files", 2)])
        self.assertEqual((run.clock.lost, run.milestones.first_question), (seconds(300), seconds(310)))

    def test_from_a_screen_the_way_up_to_it_stands_and_it_is_in_front_without_being_typed(self) -> None:
        run = tried("from Disk", "    5:10 choose method = by hand\n")
        self.assertEqual(way(run), [("Boot menu", 1), ("Language", 1), ("Disk", 2), ("Copying files", 2)])
        self.assertEqual([c.value for c in run.screens[-2].choices], ["by hand"])
        # Lost is what was done from its first coming up, 2:00, to the retry.
        self.assertEqual(run.clock.lost, seconds(180))
        self.assertEqual((run.milestones.first_question, run.milestones.installed), (seconds(60), seconds(540)))

    def test_by_hand_the_whole_way_stands_and_the_step_that_failed_is_lost(self) -> None:
        run = tried("by hand")
        self.assertEqual(
            way(run), [("Boot menu", 1), ("Language", 1), ("Disk", 1), ("Summary", 1), ("Copying files", 2)]
        )
        self.assertEqual((run.clock.lost, run.milestones.installed), (seconds(120), seconds(540)))
        self.assertEqual([s.returns for s in run.screens], [0, 0, 0, 0, 0])

    def test_a_retry_of_a_step_that_is_no_screen_loses_the_time_since_the_phase(self) -> None:
        after = "4:00 screen Copying files", "6:00 phase desktop", "7:00 fail it hangs", "8:00 retry the desktop step"
        run = run_of(BEFORE + "".join(f"    {line}\n" for line in (*after, "9:00 end done")))
        self.assertEqual((run.clock.lost, len(way(run))), (seconds(120), 5))

    def test_attempts_say_what_was_done_otherwise_and_of_which_issue_they_failed(self) -> None:
        run = run_of("""
            0:00 screen Disk
            0:10 issue disk-hidden: no disk
            1:00 fail no disk
                issue: disk-hidden
            2:00 retry from power-on
                changed: plain mode
            3:00 end done
        """)
        one, two = run.attempts
        self.assertEqual((one.issue, two.changed, two.origin), ("disk-hidden", "plain mode", "from power-on"))


class Sides(unittest.TestCase):
    def test_a_title_after_the_restart_is_another_screen(self) -> None:
        run = run_of("""
            0:00 screen Language
            0:30 keep language = English
            1:00 screen Copying files
            2:00 screen Greeter
            3:00 screen Language
            3:30 choose language = Danish
            4:00 screen Language
            5:00 end done
        """)
        languages = [screen for screen in run.screens if screen.title == "Language"]
        self.assertEqual([(s.phase, s.returns, s.on_clock) for s in languages],
                         [("questions", 0, seconds(60)), ("setup", 1, seconds(120))])  # fmt: skip


class Told(unittest.TestCase):
    def test_the_first_wording_of_an_issue_stays_and_later_ones_are_added(self) -> None:
        run = run_of("""
            0:00 screen Disk
            1:00 issue hang: It hangs
            2:00 issue hang: It hangs for a minute
                severity: major
            3:00 tried hang: another cable
                command: dmesg
            4:00 fix hang: waited
                command: true
            5:00 end done
        """)
        (issue,) = run.issues
        self.assertEqual((issue.summary, issue.also, issue.severity), ("It hangs", ("It hangs for a minute",), "major"))
        self.assertEqual(
            (issue.tried, issue.commands, issue.lost), (("another cable; dmesg",), ("true",), seconds(180))
        )

    def test_what_goes_on_by_itself_has_its_own_time_and_state(self) -> None:
        run = run_of("""
            0:00 screen Disk
            0:30 phase desktop
            1:00 task update: 400 packages behind the tour
            1:00 screen Tour
            1:30 reading memory = 2 GiB
            2:00 done update
            2:10 reading memory = 1 GiB
            3:00 end done
        """)
        (task,) = run.tasks
        self.assertEqual((task.name, task.length, task.what), ("update", seconds(60), "400 packages behind the tour"))
        self.assertEqual([reading.state for reading in run.readings], ["while update", "updated"])
        self.assertEqual((run.clock.machine, run.milestones.updated), (seconds(0), seconds(120)))

    def test_a_fix_may_be_said_with_blanks(self) -> None:
        run = run_of("0:00 issue The disk hides\n1:00 fix The disk hides: plain mode\n2:00 end")
        self.assertEqual((run.issues[0].lost, run.ended), (seconds(60), "done"))
