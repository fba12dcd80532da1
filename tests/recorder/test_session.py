"""The recorder without its screen: what a line says, what is written, and what happens when the disk refuses."""

from unittest import mock

from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.log.cues import Cue
from metrograph.log.writer import format_cue
from metrograph.plan.plan import load_plan
from metrograph.plan.prediction import Offer
from metrograph.store.local.logbook import Logbook
from metrograph.store.reading import LogReader
from tests.recorder.case import RecorderCase


class Sessions(RecorderCase):
    def test_what_a_line_says(self) -> None:
        self.seconds = 90
        self.assertEqual(self.session.read("sc Disk").cue, Cue(90_000, "screen", None, "Disk"))
        self.assertEqual(self.session.read("1:10.5 wait").cue, Cue(70_500, "wait", None, ""))
        self.assertEqual(self.session.read("-0:30 ready").cue, Cue(60_000, "ready", None, ""))
        self.assertEqual(self.session.read("scren x").expected, "screen")
        self.assertIn("before the run began", self.session.read("-9:00 wait").wrong)
        said = self.session.read("enter password hunter2")
        self.assertEqual((said.cue, said.instead), (None, "enter password"))
        self.assertNotIn("hunter2", said.wrong + said.expected)

    def test_what_others_write_is_seen(self) -> None:
        self.assertFalse(self.session.refresh())
        self.write_elsewhere(Cue(5000, "screen", None, "Disk"))
        self.assertTrue(self.session.refresh())
        self.assertEqual(self.session.settled.screen, "Disk")

    def test_a_full_disk_keeps_the_cues_and_writes_them_in_order_once(self) -> None:
        first, second, third = (Cue(at * 1000, "note", None, f"n{at}") for at in (1, 2, 3))
        with self.full_disk():
            self.assertFalse(self.session.write([first]))
            self.assertFalse(self.session.write([second]))
        self.assertEqual((self.cues(), self.session.whole.cues), ("", (first, second)))
        self.assertIn("No space left on device", self.session.trouble)
        self.assertTrue(self.session.write([third]))
        self.assertEqual(self.cues(), "".join(map(format_cue, (first, second, third))))
        self.assertEqual((self.session.unwritten, self.session.trouble), ([], ""))

    def test_the_plan_is_of_runs_on_the_same_rig_that_came_to_their_end(self) -> None:
        head = "metrograph 1\nrelease: larkmoor-7.0-heron\nrig: {}\nbegun: 2026-01-0{}T10:00:00Z\n\n"
        for number, rig, end in ((1, "bench-vm", "done"), (2, "bench-vm", "abandoned"), (3, "loan-laptop", "done")):
            log = head.format(rig, number) + f"0:00 screen On {number}\n1:00 end {end}\n"
            self.book.log(f"larkmoor-7.0-heron-{number}").write_text(log)
        reader = LogReader(self.book)
        for rig, titles in (("bench-vm", ["On 1"]), ("loan-laptop", ["On 3"])):
            plan = load_plan(reader, self.book, "larkmoor-7.0-heron", self.run_name, rig)
            assert plan is not None
            self.assertEqual([step.screen.title for step in plan.steps], titles)

    def test_a_folder_that_goes_away_and_comes_back(self) -> None:
        away = self.book.path.with_name("away")
        self.book.path.rename(away)
        self.assertFalse(self.session.write([Cue(1000, "wait", None, "")]))
        self.assertFalse(self.session.refresh())
        self.assertEqual(self.session.settled.run, self.run_name)
        away.rename(self.book.path)
        self.assertTrue(self.session.write([]))
        self.assertEqual(self.cues(), "0:01 wait\n")

    def test_taking_back_what_is_and_what_is_not_on_the_disk(self) -> None:
        self.session.write([Cue(1000, "choose", "swap", "file", (("was", "none"),))])
        with self.full_disk():
            self.session.write([Cue(2000, "wait", None, "")])
        self.assertEqual(self.session.take_back(), "wait")
        self.assertEqual(self.session.take_back(), "choose swap = file | was none")
        self.assertEqual(self.cues(), "")
        with self.assertRaisesRegex(MetrographError, "no cue to take back"):
            self.session.take_back()

    def test_the_pause_that_was_missing(self) -> None:
        self.session.write([Cue(60_000, "screen", None, "Disk")])
        self.seconds = 3 * 3600
        offer = self.session.offer()
        self.assertEqual(offer, Offer(Cue(0, "resume", None, ""), away=60_000))
        assert offer is not None
        self.session.accept(offer)
        self.assertEqual(self.cues(), "1:00 screen Disk\n1:00 pause\n3:00:00 resume\n")

    def test_what_the_log_refuses_is_not_kept(self) -> None:
        self.session.write([Cue(1000, "end", None, "done")])
        with self.assertRaisesRegex(MetrographError, "ended at 0:01"):
            self.session.write([Cue(2000, "wait", None, "")])
        self.assertEqual(self.session.unwritten, [])
        self.assertIsNone(self.session.offer())

    def test_the_lock_of_somebody_else_is_waited_out(self) -> None:
        with mock.patch.object(Logbook, "append", side_effect=NotWritableError("locked")):
            self.assertFalse(self.session.write([Cue(1000, "wait", None, "")]))
        self.assertTrue(self.session.write([]))
