"""What a run covers, and what of it is the installer's, by hand."""

import unittest

from metrograph.run.records import Milestones, Part
from metrograph.run.scope import covered, looking_around, of_installer, reached, screens_of_installer
from tests.helpers import run_of, seconds

WHOLE = """
    0:00 screen Boot menu
    0:10 phase live
    0:30 screen Language
    1:00 screen Copying files
    5:00 screen Finished
    5:10 phase restart
    6:00 screen Desktop
    6:30 phase setup
    6:40 screen Your account
    7:00 phase desktop
    7:30 phase update
    7:40 wait
    9:00 end done
"""


class Scope(unittest.TestCase):
    def test_parts_follow_from_phases_and_from_the_way(self) -> None:
        whole = run_of(WHOLE).covers
        self.assertEqual(whole, (Part.INSTALLATION, Part.LIVE, Part.SETUP, Part.USE, Part.UPDATE))
        self.assertEqual(covered("live", ["boot", "live", "questions"]), (Part.LIVE,))
        self.assertEqual(covered("later (half a year)", ["desktop"]), (Part.USE,))
        self.assertEqual(covered("fresh", ["boot", "desktop", "tour"]), (Part.TOUR, Part.USE))
        self.assertEqual(covered("upgrade from 7.0", ["copy"]), (Part.INSTALLATION,))

    def test_the_installers_part_ends_at_the_desktop_but_for_what_is_demanded_there(self) -> None:
        run = run_of(WHOLE)
        self.assertEqual(
            [each.phase for each in of_installer(run)],
            ["boot", "live", "questions", "copy", "copy", "restart", "setup", "setup"],
        )
        self.assertEqual(
            [each.title for each in screens_of_installer(run)],
            ["Language", "Copying files", "Finished", "Your account"],
        )
        # At the desktop somebody looks around until setup begins, and again after it; the machine's update is its own.
        aside = [each.phase for each, is_aside in zip(run.stretches, looking_around(run), strict=True) if is_aside]
        self.assertEqual(aside, ["desktop", "desktop", "update"])

    def test_without_an_installation_nothing_is_the_installers_and_nobody_looks_around_after_it(self) -> None:
        run = run_of("0:00 phase desktop\n1:00 screen Welcome\n2:00 end done")
        self.assertEqual((list(of_installer(run)), screens_of_installer(run)), ([], ()))
        self.assertEqual((set(looking_around(run)), run.milestones), ({False}, Milestones()))

    def test_a_system_that_ends_in_a_terminal_has_no_desktop_to_reach(self) -> None:
        run = run_of(
            "0:00 screen Disk\n1:00 screen Finished\n2:00 phase desktop\n2:10 lacks desktop: Packwell\n3:00 end done"
        )
        self.assertEqual((run.milestones.desktop, reached(run.milestones)), (None, "installed"))
        self.assertEqual(reached(Milestones(desktop=seconds(9))), "desktop")
        self.assertIsNone(reached(Milestones()))


if __name__ == "__main__":
    unittest.main()
