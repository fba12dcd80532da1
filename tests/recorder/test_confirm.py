from __future__ import annotations

import asyncio
import tempfile
import unittest
from collections.abc import Sequence
from pathlib import Path

from textual.events import Key

from metrograph.faces.recorder.confirm import Confirmer
from metrograph.log.cues import Cue, Header
from metrograph.log.quantities.times import parse_begun
from metrograph.log.writer import format_line
from metrograph.store.clock import now
from metrograph.store.local.drafts import draft_names, open_draft, read_draft, write_draft
from metrograph.store.local.logbook import Logbook, make_logbook
from metrograph.watch.drafts.review import Review

CUES = (
    Cue(0, "screen", None, "Language", (("sure", "0.97"),)),
    Cue(5000, "screen", None, "Keyb0ard", (("sure", "0.55"),)),
    Cue(9000, "screen", None, "Keyb0ard again", (("sure", "0.5"),)),
    Cue(12000, "screen", None, "A slide", (("sure", "0.6"),)),
    Cue(20000, "end", None, "done", (("sure", "0.95"),)),
)


class ConfirmTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.book = Logbook(Path(folder.name))
        make_logbook(self.book.path)
        header = Header(
            "larkmoor-8.0-heron", "bench-vm", parse_begun("2026-05-02T10:04:11+02:00"), (("source", "film"),)
        )
        self.name = open_draft(self.book, header)
        write_draft(self.book, self.name, header, CUES)

    def press(self, *keys: str) -> Confirmer:
        async def through(app: Confirmer) -> None:
            async with app.run_test(size=(80, 24)) as pilot:
                for key in keys:
                    await pilot.press(key)
                    await pilot.pause()

        confirmer = Confirmer(Review(self.book, self.name))
        asyncio.run(through(confirmer))
        return confirmer

    def said(self) -> Sequence[str]:
        return [format_line(cue) for cue in read_draft(self.book, self.name).cues]

    def test_every_decision_is_in_the_draft_at_once(self) -> None:
        # It begins at the first that is unsure: another title, then joined, then no screen.
        self.press("t", *["backspace"] * 8, *"Keys", "enter", "down", "j", "n")
        self.assertEqual(
            self.said(),
            ["screen Language | sure 0.97", "screen Keys | sure 1", "wait | sure 1", "end done | sure 0.95"],
        )

    def test_keys_that_come_at_once_are_the_title_and_no_decisions(self) -> None:
        async def at_once(app: Confirmer) -> None:
            async with app.run_test(size=(80, 24)) as pilot:
                for sign in "t wuzq\r":
                    app.post_message(Key("enter" if sign == "\r" else sign, None if sign == "\r" else sign))
                for _ in range(5):
                    await pilot.pause()

        asyncio.run(at_once(Confirmer(Review(self.book, self.name))))
        self.assertIn("screen Keyb0ard wuzq | sure 1", self.said())

    def test_kinds_are_known_ones_and_undo_takes_the_last_back(self) -> None:
        self.press("k", *"nonsense", "enter", "escape", "k", *"keyboard", "enter")
        self.assertIn("screen Keyb0ard | kind keyboard | sure 1", self.said())
        self.press("enter", "z")
        self.assertIn("screen Keyb0ard again | sure 0.5", self.said())

    def test_taking_goes_on_and_writing_says_how_sure_it_has_to_be(self) -> None:
        confirmer = self.press("enter", "enter", "enter", "u", "w")
        self.assertEqual(confirmer.bound, 0.9)
        self.assertIsNone(confirmer.failure)
        self.assertEqual(Review(self.book, self.name).finish(0.9, now()), (5, 0))
        self.assertEqual(draft_names(self.book), [])
        self.assertIsNone(self.press_nothing().bound)

    def press_nothing(self) -> Confirmer:
        write_draft_again = Header("larkmoor-8.0-heron", "bench-vm", parse_begun("2026-05-02T10:04:11+02:00"))
        self.name = open_draft(self.book, write_draft_again)
        return self.press("enter", "j", "n", "u", "q")

    def test_a_picture_outside_the_logbook_is_not_opened(self) -> None:
        outside = Cue(0, "screen", None, "Language", (("seen", "../../etc/passwd"),))
        self.assertIsNone(Review(self.book, self.name).picture(outside))
