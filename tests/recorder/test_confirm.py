from __future__ import annotations

import asyncio
import math
import tempfile
import time
import unittest
from collections.abc import Sequence
from pathlib import Path
from typing import ClassVar

from textual.events import Key

from metrograph.core.errors import MetrographError
from metrograph.faces.recorder.confirm import Confirmer
from metrograph.faces.recorder.player import play
from metrograph.log.cues import Cue, Header
from metrograph.log.quantities.times import parse_begun
from metrograph.log.writer import format_line
from metrograph.store.clock import now
from metrograph.store.local.drafts import draft_names, open_draft, read_draft, write_draft
from metrograph.store.local.logbook import Logbook, make_logbook
from metrograph.watch.drafts.listener_habits import Decision, habits, load_habits, with_habit
from metrograph.watch.drafts.review import Review

CUES = (
    Cue(0, "screen", None, "Language", (("sure", "0.97"),)),
    Cue(5000, "screen", None, "Keyb0ard", (("sure", "0.55"),)),
    Cue(9000, "screen", None, "Keyb0ard again", (("sure", "0.5"),)),
    Cue(12000, "screen", None, "A slide", (("sure", "0.6"),)),
    Cue(20000, "end", None, "done", (("sure", "0.95"),)),
)


class ConfirmCase(unittest.TestCase):
    """A draft, and keys that are pressed on it."""

    CUES: ClassVar[tuple[Cue, ...]] = CUES

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.book = Logbook(Path(folder.name))
        make_logbook(self.book.path)
        self.header = header = Header(
            "larkmoor-8.0-heron", "bench-vm", parse_begun("2026-05-02T10:04:11+02:00"), (("source", "film"),)
        )
        self.name = open_draft(self.book, header)
        write_draft(self.book, self.name, header, self.CUES)

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


class ConfirmTest(ConfirmCase):
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


HEARD = (
    Cue(1000, "reading", "memory", "612 MB", (("x-said", "about six hundred"), ("sure", "0.95"))),
    Cue(2000, "carries", "games", "Chesnut", (("x-said", "no chestnut"), ("sure", "0.7"))),
    Cue(3000, "check", "sound", "pass", (("x-said", "works"), ("sure", "0.45"))),
    Cue(4000, "fact", "kernel", "6.12", (("x-said", "six twelve"), ("x-of", "7.0"), ("sure", "0.9"))),
    Cue(5000, "screen", None, "Disk", (("x-said", "the disk"), ("sure", "0.5"))),
)


class HeardTest(ConfirmCase):
    """A draft of what was said."""

    CUES = HEARD

    def test_only_what_is_worth_it_is_asked_and_the_rest_is_shown_when_asked_for(self) -> None:
        self.assertEqual(self.press().place, 1, "the first that is unsure")
        self.assertEqual(self.press("down").place, 1, "what was hardly heard is not in the list")
        self.assertEqual(self.press("l", "down").place, 2)

    def test_a_key_gives_the_next_kind_and_the_words_go_when_the_run_is_made(self) -> None:
        self.press("k")
        self.assertIn("lacks games: Chesnut | x-said no chestnut | sure 1", self.said())
        Review(self.book, self.name).finish(0.9, now())
        run = self.book.read(self.name).decode()
        self.assertIn("lacks games: Chesnut", run)
        self.assertIn("reading memory = 612 MB", run)
        for never in ("chestnut", "6.12", "Disk", "sound"):
            self.assertNotIn(never, run)

    def test_it_is_worded_otherwise_and_a_wrong_word_is_told(self) -> None:
        self.press("e", *["backspace"] * 7, *"Chessnut", "enter")
        self.assertIn("carries games: Chessnut | x-said no chestnut | sure 1", self.said())

    def test_of_another_release_it_never_enters_the_run(self) -> None:
        self.press("r")
        Review(self.book, self.name).finish(0.5, now())
        self.assertNotIn("Chesnut", self.book.read(self.name).decode())

    def test_what_was_taken_for_another_release_can_be_of_this(self) -> None:
        self.press("l", "down", "down", "r")
        self.assertIn("fact kernel = 6.12 | x-said six twelve | sure 1", self.said())

    def test_a_kind_that_is_rejected_is_proposed_less_sure_and_undoing_forgets_it(self) -> None:
        before = with_habit(0.7, HEARD[1], load_habits(self.book))
        for _ in range(3):
            self.press("j")
            write_draft(self.book, self.name, self.header, HEARD)
        self.assertLess(with_habit(0.7, HEARD[1], load_habits(self.book)), before)
        self.assertEqual(with_habit(0.7, HEARD[2], load_habits(self.book)), 0.7)
        known = load_habits(self.book)
        self.press("j", "z")
        self.assertEqual(load_habits(self.book), known)

    def test_the_picture_is_that_of_what_was_in_front_also_when_the_run_has_it_already(self) -> None:
        shot = self.book.path / "shots" / "a.webp"
        shot.parent.mkdir(exist_ok=True)
        shot.write_bytes(b"a picture")
        screen = Cue(500, "screen", None, "Desktop", (("sure", "0.95"), ("seen", "shots/a.webp")))
        write_draft(self.book, self.name, self.header, (screen, *HEARD))
        self.assertEqual(Review(self.book, self.name).picture(HEARD[1]), shot.resolve())
        Review(self.book, self.name).finish(0.9, now())
        left = Review(self.book, self.name)
        self.assertNotIn("screen", {cue.verb for cue in left.cues if cue.at == 500})
        self.assertEqual(left.picture(HEARD[1]), shot.resolve())
        self.assertIsNone(left.picture(Cue(100, "note", None, "", (("x-said", "before it"),))))

    def test_the_moment_is_played_by_the_command_of_the_settings(self) -> None:
        told = self.book.path / "told"
        film = self.book.path / "a film.mkv"
        film.touch()
        play(f"sh -c 'echo \"$0\" > {told}.new && mv {told}.new {told}' {{at}}={{film}}", film, film.name, 4500)
        for _ in range(200):
            if told.exists():
                break
            time.sleep(0.05)
        self.assertEqual(told.read_text(), f"4.5={film}\n")
        with self.assertRaisesRegex(MetrographError, "metrograph settings player"):
            play(None, film, film.name, 0)
        with self.assertRaisesRegex(MetrographError, "tour.mkv is not here"):
            play("sh", None, "tour.mkv", 0)


class Habits(unittest.TestCase):
    def test_as_many_taken_as_expected_change_nothing(self) -> None:
        evenly = [Decision("issue", 0.5, taken) for taken in (True, False)]
        self.assertEqual(habits(evenly), {"issue": 0.0})
        # Four taken for certain where two were expected: ln(8/6) - ln(4/6) is ln 2.
        often = [Decision("issue", 0.5, True)] * 4
        self.assertAlmostEqual(habits(often)["issue"], math.log(2))
