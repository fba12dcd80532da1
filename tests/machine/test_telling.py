"""What a machine told is put into the time of its draft, and what the screens say is held against it."""

from __future__ import annotations

import unittest

from metrograph.log.lexicon import load_lexicon
from metrograph.machine.control import Happened, WrittenBytes
from metrograph.machine.told_in_time import told_by, writing_in
from metrograph.watch.drafts.machine_told import MachineTold
from metrograph.watch.drafts.proposals import Watched
from metrograph.watch.screens.spans import Span

MIB = 1 << 20
SURE = {"points": 3.0, "margin": 1.5, "read": 0.95}


def span(start: int, end: int, title: str, kind: str, **more: bool) -> Span:
    return Span(start * 1000, end * 1000, title, kind, page=start, **SURE, **more)  # type: ignore[arg-type]


SPANS = [
    span(0, 10, "Language", "language"),
    span(10, 40, "Disk", "disk"),
    span(40, 100, "Copying files", "copying", waiting=True),
    span(100, 120, "All done", "finished"),
    span(120, 130, "", "other", waiting=True, console=True),
    span(130, 160, "Desktop", "desktop"),
]


def proposed(told: MachineTold | None, spans: list[Span] = SPANS) -> list[tuple[int, str, str]]:
    events = Watched(spans, load_lexicon(), "x", ended=True, told=told).events()
    return [((event.at or 0) // 1000, event.cue.verb, event.cue.text) for event in events]


class Telling(unittest.TestCase):
    def test_firmware_that_begins_anew_by_itself_is_no_restart(self) -> None:
        at = [("RESET", 101.0), ("RESET", 230.0), ("RESET", 231.0), ("RESET", 300.0), ("SHUTDOWN", 400.0)]
        told = told_by([Happened(moment, what, by_guest=True) for what, moment in at], [], [131.5], 100.0)
        self.assertEqual((told.resets, told.shut_down, told.acts), ((130_000, 200_000), 300_000, (31_500,)))
        killed = told_by([Happened(400.0, "SHUTDOWN")], [], [], 100.0)
        self.assertIsNone(killed.shut_down, "it did not do that itself")

    def test_a_disk_is_written_to_from_rest_to_rest(self) -> None:
        totals = [0, 0, 9, 18, 18, 18, 27, 27, 27, 27, 27, 27, 27, 90]
        samples = [WrittenBytes(float(at), total * MIB) for at, total in enumerate(totals)]
        self.assertEqual(writing_in(samples), [(1.0, 6.0), (12.0, 13.0)])

    def test_a_medium_is_put_out_when_its_drive_opens(self) -> None:
        told = told_by([Happened(9.0, "DEVICE_TRAY_MOVED", opened=way) for way in (True, False)], [], [], 1.0)
        self.assertEqual(told.ejected, (8000,))


class Proposing(unittest.TestCase):
    def test_the_restart_is_where_the_machine_says_and_other_resets_are_noted(self) -> None:
        told = MachineTold(resets=(5000, 118_000), ejected=(117_000,))
        found = proposed(told)
        self.assertIn((118, "phase", "restart"), found)
        self.assertIn((5, "note", "the machine began anew"), found)
        self.assertIn((117, "note", "the medium was put out"), found)
        self.assertEqual([text for _, verb, text in found if verb == "phase"], ["restart"])
        self.assertEqual(sorted(found, key=lambda each: each[0]), found)

    def test_without_a_reset_there_was_no_restart_whatever_the_screens_look_like(self) -> None:
        self.assertIn((120, "phase", "restart"), proposed(None))
        self.assertNotIn("phase", [verb for _, verb, _ in proposed(MachineTold())])

    def test_the_end_is_when_it_was_switched_off_and_done_only_if_it_was(self) -> None:
        self.assertEqual(proposed(MachineTold(shut_down=158_000))[-1], (158, "end", "done"))
        self.assertEqual(
            proposed(MachineTold(shut_down=38_000), SPANS[:2])[-1], (38, "note", "the recording ends here")
        )

    def test_a_page_that_stands_while_the_disk_is_written_to_is_a_wait(self) -> None:
        self.assertIn((15, "wait", ""), proposed(MachineTold(writing=((15_000, 39_000),))))
        at_it = MachineTold(writing=((15_000, 39_000),), acts=(20_000,))
        self.assertNotIn((15, "wait", ""), proposed(at_it), "somebody is at it")
        for short in ((15_000, 20_000), (37_000, 39_000)):
            self.assertNotIn("wait", [verb for at, verb, _ in proposed(MachineTold(writing=(short,))) if at < 40])


if __name__ == "__main__":
    unittest.main()
