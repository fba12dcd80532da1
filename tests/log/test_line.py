"""One cue as a person types it."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.log.cues import Cue
from metrograph.log.faults import Unreadable
from metrograph.log.reader import parse_line
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
