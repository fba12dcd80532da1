"""Mending by command: a cue is taken back or changed, and what a person wrote around it stays."""

from tests.e2e.case import LogbookCase

BY_HAND = "# power came back\n0:10 screen Lnaguage\n    kind: language\n0:20 scren Disk\n    kind: disk\n\n# the end, at last\n1:00 end done\n"


class Mending(LogbookCase):
    here = True

    def setUp(self) -> None:
        super().setUp()
        self.ok("begin", "larkmoor-8.0-heron", "--begun", "2026-05-02T10:00:00Z")
        self.path = self.folder / "runs/larkmoor-8.0-heron-1.metro"
        self.head = self.log()
        self.path.write_text(self.head + BY_HAND)
        self.first = self.head.count("\n") + 2  # the line of 0:10
        self.run_name = ("--run", "larkmoor-8.0-heron-1")

    def test_words_time_and_an_unreadable_line_are_mended(self) -> None:
        self.ok("mend", str(self.first), "screen", "Language", *self.run_name)
        self.ok("mend", str(self.first), "--at", "0:12.5", *self.run_name)
        self.assertIn(
            "give its words and its time", self.refused(2, "mend", str(self.first + 1), "screen Disk", *self.run_name)
        )
        self.ok("mend", str(self.first + 1), "screen Disk | kind disk", "--at", "0:20", *self.run_name)
        self.assertEqual(
            self.log(),
            self.head
            + "# power came back\n0:12.5 screen Language\n0:20 screen Disk\n    kind: disk\n\n# the end, at last\n1:00 end done\n",
        )

    def test_the_last_cue_is_taken_back_and_an_end_opens_the_run_again(self) -> None:
        self.assertIn("taken back: 1:00 end done", self.ok("undo", *self.run_name))
        self.assertEqual(self.log(), self.head + BY_HAND.removesuffix("1:00 end done\n"))
        self.ok("cue", "--at", "0:40", "wait")
        self.ok("undo", str(self.first))
        self.assertEqual(
            self.log(),
            self.head + "# power came back\n0:20 scren Disk\n    kind: disk\n\n# the end, at last\n0:40 wait\n",
        )

    def test_what_cannot_be_mended_is_said(self) -> None:
        for words in (["undo", "1"], ["undo", "900"], ["mend", "1", "wait"]):
            self.assertIn("no cue begins on line", self.refused(2, *words, *self.run_name))
        self.assertIn("say what to change", self.refused(2, "mend", str(self.first), *self.run_name))
        self.assertIn("no verb “scren”", self.refused(2, "mend", str(self.first), "scren X", *self.run_name))
        self.path.write_text(self.head)
        self.assertIn("no cue to take back", self.refused(2, "undo"))

    def test_remarks_and_what_could_not_be_read_stay(self) -> None:
        path = self.folder / "runs/larkmoor-8.0-heron-1.metro"
        cue = "0:10 screen Disk\n    # ask again\n    kind: disk\n    kidn: x\n    # and again\n"
        before = path.read_text().replace("1:00 end done\n", "")
        path.write_text(before + cue)
        line = before.count("\n") + 1
        self.run_command("mend", str(line), "--at", "0:20", *self.run_name)
        self.assertEqual(path.read_text(), before + cue.replace("0:10", "0:20"))
        self.run_command("mend", str(line), "screen Disks | kind disk", *self.run_name)
        self.assertEqual(
            path.read_text(),
            before + "0:20 screen Disks\n    kind: disk\n    # ask again\n    kidn: x\n    # and again\n",
        )

    def test_a_line_in_doubt_stays_in_tell_torn(self) -> None:
        path = self.folder / "runs/larkmoor-8.0-heron-1.metro"
        path.write_text(path.read_text().replace("1:00 end done\n", "0:30 screen Dis"))
        self.run_command("cue", "--run", "larkmoor-8.0-heron-1", "--at", "0:40", "wait")
        self.assertIn("screen Dis\n# the line above had no end", path.read_text())
        self.assertIn("may have been cut short", self.run_command("lint").stdout)
