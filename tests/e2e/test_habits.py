"""A person's habits: an editor for the log, the latest without names, one rig only, a summary to be pasted."""

from metrograph.demo import copy_demo
from tests.e2e.case import LogbookCase
from tests.helpers import call_here


class Habits(LogbookCase):
    here = True

    def test_a_log_is_edited_and_looked_through(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron")
        good = self.run_command("edit", EDITOR="sed -i '$a 0:10 screen Disk'")
        self.assertEqual((good.returncode, "0:10 screen Disk" in self.log()), (0, True))
        bad = self.run_command("edit", "larkmoor-8.0-heron-1", VISUAL="sed -i '$a 0:20 scren x'", EDITOR="false")
        self.assertEqual(bad.returncode, 1)
        self.assertIn("there is no verb “scren”", bad.stdout)
        for editor, said in (
            ("no-such-editor", "cannot be started"),
            ("false", "left with 1"),
            ("''", "cannot be started"),
        ):
            self.assertIn(said, self.run_command("edit", EDITOR=editor).stderr)


class OnTheDemo(LogbookCase):
    here = True

    def test_without_names_the_two_latest_of_a_line(self) -> None:
        folder = copy_demo(self.folder / "demo").path
        pasted = call_here("summary", folder=folder).stdout
        self.assertTrue(pasted.startswith("A blocker of 8.0 was not tried again: on the loan laptop only, the disk"))
        self.assertIn(
            " Larkmoor Heron 9.0 beta is installed 4:30 sooner than 8.0, but fully updated 17:44 later: 412 updates waited"
            " after 49 days, 12 after 4 days. ",
            pasted,
        )
        named = ("larkmoor-8.0-heron", "larkmoor-9.0-beta-heron")
        self.assertEqual(call_here("summary", *named, folder=folder).stdout, pasted)
        self.assertEqual(call_here("compare", folder=folder).stdout, call_here("compare", *named, folder=folder).stdout)
        self.assertEqual(
            call_here("report", "-o", "-", folder=folder).stdout,
            call_here("report", *named, "-o", "-", folder=folder).stdout,
        )

    def test_one_rig_only_and_the_latest_run(self) -> None:
        folder = copy_demo(self.folder / "demo").path
        done = call_here("compare", "larkmoor-7.0-heron", "larkmoor-8.0-heron", "--only-rig", "bench-vm", folder=folder)
        self.assertIn("Larkmoor Heron: 7.0 (2 runs) against 8.0 (3 runs)", done.stdout)
        done = call_here(
            "compare", "larkmoor-7.0-heron", "larkmoor-8.0-heron", "--only-rig", "loan-lapto", folder=folder
        )
        self.assertEqual((done.returncode, "was not installed on “loan-lapto”; expected: " in done.stderr), (2, True))
        self.assertTrue(
            call_here("show", "latest", folder=folder).stdout.startswith("Larkmoor Heron 9.0 beta, run 2 on bench-vm")
        )
        latest = call_here("show", "larkmoor-7.0-heron", folder=folder)
        self.assertTrue(latest.stdout.startswith("Larkmoor Heron 7.0, run 2"))
        self.assertIn("is the latest of larkmoor-7.0-heron; the others are larkmoor-7.0-heron-1", latest.stderr)
