"""The recorder without its screen: what a line says, what is written, and what happens when the disk refuses."""

import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path
from unittest import mock

from metrograph.analysis.likely import Offer
from metrograph.errors import MetrographError, NotWritableError
from metrograph.language.writer import format_cue
from metrograph.logbook.clock import Instant
from metrograph.logbook.folder import Logbook, make_logbook
from metrograph.logbook.journal import begin, record
from metrograph.model.cues import Cue, Header
from metrograph.recorder.session import Session

START = Instant(datetime(2026, 5, 2, 10, 4, 11, tzinfo=UTC), "aaaa", 1000.0)


class RecorderCase(unittest.TestCase):
    """A run that has just begun, with a clock that a test sets."""

    plan: str | None = None

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.book = Logbook(Path(folder.name))
        make_logbook(self.book.path)
        others: tuple[tuple[str, str], ...] = ()
        if self.plan is not None:
            earlier = "metrograph 1\nrelease: larkmoor-7.0-heron\nrig: bench-vm\nbegun: 2026-01-02T10:00:00Z\n\n"
            self.book.log("larkmoor-7.0-heron-1").write_text(earlier + self.plan)
            others = (("like", "larkmoor-7.0-heron"),)
        self.run_name = begin(self.book, Header("larkmoor-8.0-heron", "bench-vm", START.wall, others), START)
        self.seconds = 0.0
        self.session = Session(self.book, self.run_name, self.clock)

    def clock(self) -> Instant:
        return START.earlier(-self.seconds)

    def cues(self) -> str:
        """The log below its header."""
        return self.book.log(self.run_name).read_text().partition("\n\n")[2]

    def full_disk(self) -> "mock._patch[mock.MagicMock]":
        return mock.patch("metrograph.logbook.files._write_all", side_effect=OSError(28, "No space left on device"))


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
        record(self.book, self.run_name, lambda _: Cue(5000, "screen", None, "Disk"))
        self.assertTrue(self.session.refresh())
        self.assertEqual(self.session.standing.screen, "Disk")

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

    def test_a_folder_that_goes_away_and_comes_back(self) -> None:
        away = self.book.path.with_name("away")
        self.book.path.rename(away)
        self.assertFalse(self.session.write([Cue(1000, "wait", None, "")]))
        self.assertFalse(self.session.refresh())
        self.assertEqual(self.session.standing.run, self.run_name)
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
        with mock.patch("metrograph.recorder.session.record_all", side_effect=NotWritableError("locked")):
            self.assertFalse(self.session.write([Cue(1000, "wait", None, "")]))
        self.assertTrue(self.session.write([]))
