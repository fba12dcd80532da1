"""Completion: every place in a line, from words that were said in one small log."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.plan.completion import complete, vocabulary_of
from tests.helpers import LEXICON, log_of

VOCABULARY = vocabulary_of(
    [
        log_of(
            """
    0:00 screen Language
    0:05 choose language = English (UK)
        was: English (US)
        offered: English (UK), English (US), Welsh
    0:08 screen Your account
    0:10 enter host name = reading-room
    0:20 screen Disk
    0:21 issue disk-hidden: The disk screen lists no disk
        severity: blocker
    0:24 reading memory = 812 MiB
        load: rest
    0:25 check printer: fail
        detail: The queue is stuck
"""
        )
    ],
    LEXICON,
)


class Completing(unittest.TestCase):
    def made(self, line: str, *likely: str) -> list[str]:
        return [line[: each.start] + each.text for each in complete(line, VOCABULARY, likely)]

    def test_what_was_only_ever_typed_is_no_choice(self) -> None:
        self.assertEqual(self.made("choose "), ["choose language = "])
        self.assertIn("enter host name", self.made("enter "))

    def test_every_place_of_a_line(self) -> None:
        cases = {
            "scr": "screen ",
            "re": "ready ",
            "sc l": "sc Language",
            "screen acc": "screen Your account",
            "12:30 screen D": "12:30 screen Disk",
            "k lang": "k language = ",
            "keep language =": "keep language =English (UK)",
            "keep language = w": "keep language = Welsh",
            "choose language = Welsh | was ": "choose language = Welsh | was English (US)",
            "choose language = Welsh | w": "choose language = Welsh | was ",
            "enter h": "enter host name",
            "issue d": "issue disk-hidden: ",
            "issue disk-hidden: ": "issue disk-hidden: The disk screen lists no disk",
            "issue x: y | severity mi": "issue x: y | severity minor",
            "fix d": "fix disk-hidden: ",
            "check p": "check printer: ",
            "check printer: p": "check printer: pass",
            "check printer: fail | detail the": "check printer: fail | detail The queue is stuck",
            "screen Laufwerk | kind d": "screen Laufwerk | kind disk",
            "reading memory = 9 MiB | load b": "reading memory = 9 MiB | load busy",
            "phase co": "phase copy",
            "end d": "end done",
            "note the print": "note the printer ",
            "note all is well": "",
            "keep a = b": "keep a = b | offered ",
            "scren x": "",
        }
        for line, expected in cases.items():
            self.assertEqual((self.made(line) or [""])[0], expected, line)

    def test_the_likely_come_first_and_a_used_field_not_again(self) -> None:
        self.assertEqual(self.made("screen ", "Disk", "Language")[:2], ["screen Disk", "screen Language"])
        self.assertNotIn("choose a = b | why c | why ", self.made("choose a = b | why c | w"))

    @given(st.text(st.sampled_from("screnkp =|:\\ disaW0-1"), max_size=25))
    def test_any_line_can_be_completed_and_only_grows_at_its_end(self, line: str) -> None:
        for each in complete(line, VOCABULARY):
            self.assertLessEqual(each.start, len(line))
            self.assertTrue(each.text)
