"""One cue as a person types it."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.log.cues import Cue
from metrograph.log.faults import Unreadable
from metrograph.log.meant import senses
from metrograph.log.reader import parse_line
from metrograph.log.verbs import VERBS
from metrograph.log.writer import format_line
from tests.helpers import cues


class Lines(unittest.TestCase):
    def test_verbs_may_be_shortened_while_they_are_unambiguous(self) -> None:
        self.assertEqual(parse_line("sc Language").verb, "screen")
        self.assertEqual(parse_line("cho swap = file").verb, "choose")
        with self.assertRaises(Unreadable) as caught:
            parse_line("re = x")
        self.assertEqual(caught.exception.expected, "ready or retry or reading or resume")

    def test_in_a_file_they_may_not(self) -> None:
        with self.assertRaises(Unreadable):
            parse_line("sc Language", shortened=False)

    def test_faults_say_where_they_stand(self) -> None:
        for line, found in {
            "choose swap = file | wass none": "wass",
            "check a: b": "b",
            "screen X | kind dsik": "dsik",
        }.items():
            with self.assertRaises(Unreadable) as caught:
                parse_line(line)
            self.assertEqual(line[caught.exception.offset :][: len(found)], found)

    def test_nothing_is_not_a_cue(self) -> None:
        for line in ("", "   ", "|", "| was none"):
            with self.assertRaises(Unreadable):
                parse_line(line)

    @given(cues(st.just(0)))
    def test_typed_as_printed(self, cue: Cue) -> None:
        self.assertEqual(parse_line(format_line(cue)), cue)


class Meant(unittest.TestCase):
    """What is said to somebody whose line begins with no verb."""

    def test_a_line_is_taken_for_what_it_probably_was(self) -> None:
        cases = {
            "kernel 6.8": "“fact kernel = 6.8”", "Memory 600 MB": "“reading memory = 600 MB”",
            "boot time: 40 s": "“reading boot time = 40 s”", "the printer works": "“check printer: pass”",
            "bluetooth does not work": "“check bluetooth: fail”", "hate it": "dislike", "screeen Disk": "screen",
            "wish for tabs": "todo",
            "xyzzy": "a verb such as screen, choose or note; “metrograph cue --help” lists them",
        }  # fmt: skip
        for line, expected in cases.items():
            with self.assertRaises(Unreadable) as wrong:
                parse_line(line)
            self.assertTrue(wrong.exception.expected.startswith(expected), (line, wrong.exception.expected))
            self.assertLessEqual(wrong.exception.expected.count(" or "), 2 + expected.count(" or "), line)

    def test_every_sense_leads_to_a_verb(self) -> None:
        self.assertEqual(set(senses()) - set(VERBS), set())

    def test_where_one_thing_alone_can_be_meant_both_signs_do(self) -> None:
        alike = {
            "check wireless = works": "check wireless: pass", "fact kernel: 6.8": "fact kernel = 6.8",
            "reading memory: 600 MB": "reading memory = 600 MB", "check sound: no": "check sound: fail",
            "enter host: desk": "enter host = desk", "rate looks: good": "rate looks = good",
            "keep Your time zone: Lisbon": "keep Your time zone = Lisbon",
        }  # fmt: skip
        for typed, written in alike.items():
            self.assertEqual(format_line(parse_line(typed)), written)
        self.assertEqual(parse_line("note x | heard").fields, (("heard", "hearsay"),))
        self.assertEqual(parse_line("enter Your name:").name, "Your name:")
