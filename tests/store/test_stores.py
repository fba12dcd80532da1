"""What every store does, held to for each of them: in a folder and in memory."""

import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path

from metrograph.core.errors import MetrographError
from metrograph.log.cues import Cue, Header, Log
from metrograph.privacy.gate import SecretError
from metrograph.store.clock import Instant, When
from metrograph.store.local.logbook import Logbook, make_logbook
from metrograph.store.memory import MemoryStore, find_run
from metrograph.store.protocol import Store
from metrograph.store.reading import LogReader

NOW = Instant(datetime(2026, 5, 2, 10, 4, 11, tzinfo=UTC), "aaaa", 100.0)
GIVEN = When(NOW, given=True)
HEADER = Header("larkmoor-8.0-heron", "bench-vm", NOW.wall)
RUN = "larkmoor-8.0-heron-1"


def folder_store(case: unittest.TestCase) -> Logbook:
    """A logbook in a folder of its own."""
    folder = tempfile.TemporaryDirectory()
    case.addCleanup(folder.cleanup)
    make_logbook(Path(folder.name))
    return Logbook(Path(folder.name))


class Stores(unittest.TestCase):
    """Every test goes through all stores, each with one run that was just begun."""

    def stores(self) -> list[Store]:
        stores: list[Store] = [folder_store(self), MemoryStore()]
        for store in stores:
            self.assertEqual(store.begin(HEADER, NOW), RUN)
        return stores

    def test_the_log_is_what_the_language_says(self) -> None:
        for store in self.stores():
            cue = Cue(7200, "choose", "swap", "file", (("was", "none"),))
            written = store.append(RUN, [cue], GIVEN)
            self.assertEqual((written.cues, written.log.cues), ((cue,), ()))
            self.assertEqual(
                store.read(RUN).decode(),
                "metrograph 1\nrelease: larkmoor-8.0-heron\nrig: bench-vm\nbegun: 2026-05-02T10:04:11+00:00\n"
                "clock: aaaa 100.00\n\n0:07.2 choose swap = file\n    was: none\n",
            )

    def test_times_are_those_of_the_clock_or_what_a_person_says(self) -> None:
        later = Instant(NOW.wall.replace(minute=5), "aaaa", 149.5)
        for store in self.stores():
            cue = Cue(0, "wait", None, "")
            moments = [store.append(RUN, [cue], When(later, said)).cues[0].at for said in (None, "-0:10", "0:12")]
            self.assertEqual(moments, [49_500, 39_500, 12_000])
            with self.assertRaisesRegex(MetrographError, "before the run began"):
                store.append(RUN, [cue], When(later, "-9:00"))

    def test_a_secret_enters_by_no_door_and_takes_nothing_in_with_it(self) -> None:
        whole, blurted = Cue(2, "enter", "password", "hunter2"), Cue(2, "note", None, "the password was hunter2")
        for store in self.stores():
            for secret in (whole, blurted):
                before = store.read(RUN)
                with self.assertRaises(SecretError) as refused:
                    store.append(RUN, [Cue(1, "screen", None, "Disk"), secret], GIVEN)
                self.assertNotIn("hunter2", f"{refused.exception}{refused.exception.instead}")
                with self.assertRaises(SecretError):
                    store.add("larkmoor-8.0-heron-9", Log("x", HEADER, (secret,)))
                self.assertEqual((store.read(RUN), store.run_names()), (before, [RUN]))

    def test_what_would_not_read_back_is_not_acknowledged(self) -> None:
        for store in self.stores():
            before = store.read(RUN)
            for cue in (Cue(0, "wait", "name", "x"), Cue(0, "check", "a", "perhaps")):
                with self.assertRaisesRegex(MetrographError, "Nothing was recorded"):
                    store.append(RUN, [cue], GIVEN)
            self.assertEqual(store.read(RUN), before)

    def test_only_what_is_new_is_written_where_that_is_asked_for(self) -> None:
        one, two = Cue(1, "screen", None, "Disk"), Cue(2, "wait", None, "")
        for store in self.stores():
            store.append(RUN, [one], GIVEN)
            self.assertEqual(store.append(RUN, [one, two, two], GIVEN, only_new=True).cues, (two,))
            self.assertEqual(store.append(RUN, [one], GIVEN).cues, (one,))
            self.assertEqual([cue.verb for cue in LogReader(store).log(RUN).cues], ["screen", "wait", "screen"])

    def test_a_run_that_has_ended_takes_late_cues_only(self) -> None:
        for store in self.stores():
            self.assertEqual((store.open_runs(), find_run(store, None)), ([RUN], RUN))
            store.append(RUN, [Cue(60_000, "end", None, "done")], GIVEN)
            for cue in (Cue(61_000, "wait", None, ""), Cue(30_000, "end", None, "done")):
                with self.assertRaisesRegex(MetrographError, "ended at 1:00"):
                    store.append(RUN, [cue], GIVEN)
            store.append(RUN, [Cue(59_000, "wait", None, "")], GIVEN)
            self.assertEqual(store.read(RUN).count(b"\n0:59 wait\n"), 1)
            self.assertEqual(store.open_runs(), [])
            with self.assertRaisesRegex(MetrographError, "no run is open"):
                find_run(store, None)

    def test_a_restart_of_the_machine_adds_an_anchor_and_touches_nothing_else(self) -> None:
        restarted = When(Instant(NOW.wall.replace(minute=14), "bbbb", 30.0))
        for store in self.stores():
            store.append(RUN, [Cue(1000, "wait", None, "")], GIVEN)
            before = store.read(RUN).decode()
            for _ in range(2):
                store.append(RUN, [Cue(0, "ready", None, "")], restarted)
            anchored = before.replace("clock: aaaa 100.00", "clock: aaaa 100.00, bbbb -570.00")
            self.assertEqual(store.read(RUN).decode(), anchored + "10:00 ready\n" * 2)

    def test_a_stamp_is_another_after_each_change(self) -> None:
        for store in self.stores():
            before = store.stamps()
            store.append(RUN, [Cue(1, "wait", None, "")], GIVEN)
            self.assertEqual(store.stamps().keys(), before.keys())
            self.assertNotEqual(store.stamps(), before)

    def test_whole_logs_are_kept_once(self) -> None:
        log = Log("x", HEADER, (Cue(1, "screen", None, "Disk"),))
        for store in self.stores():
            self.assertEqual([store.add("larkmoor-8.0-heron-4", log) for _ in range(2)], [True, False])
            self.assertEqual(store.begin(HEADER, NOW), "larkmoor-8.0-heron-5")
            self.assertEqual(LogReader(store).log("larkmoor-8.0-heron-4").cues, log.cues)
            self.assertEqual(store.run_names("larkmoor-8.0"), [])

    def test_what_is_kept_comes_back(self) -> None:
        for store in self.stores():
            self.assertIsNone(store.kept("digests"))
            store.keep("digests", b"\x00x")
            self.assertEqual(store.kept("digests"), b"\x00x")

    def test_a_run_that_is_not_there(self) -> None:
        for store in self.stores():
            self.assertFalse(store.has("osterby-2026.1-1"))
            with self.assertRaises(MetrographError):
                store.read("osterby-2026.1-1")
            with self.assertRaisesRegex(MetrographError, "did you mean"):
                find_run(store, "larkmoor-8.0-heron-9")
