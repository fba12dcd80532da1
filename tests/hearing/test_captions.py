"""Captions become words, each said once and at its moment."""

import unittest

from metrograph.core.errors import MetrographError
from metrograph.hearing.stream.captions import read_words


def said(text: str) -> list[tuple[str, float]]:
    return [(word.text, round(word.at, 1)) for word in read_words(text.encode(), "talk.vtt")]


class Captions(unittest.TestCase):
    def test_a_rolling_block_that_repeats_the_line_before_says_it_once(self) -> None:
        rolling = (
            "WEBVTT\n\n00:00:01.000 --> 00:00:03.000\nmemory at rest\n\n"
            "00:00:03.000 --> 00:00:03.010\nmemory at rest\n\n"
            "00:00:03.010 --> 00:00:05.000\nmemory at rest\nsix hundred\n"
        )
        self.assertEqual([word for word, _ in said(rolling)], ["memory", "at", "rest", "six", "hundred"])

    def test_what_is_said_twice_stays_said_twice(self) -> None:
        twice = "WEBVTT\n\n00:01.000 --> 00:02.000\nno no\n\n00:20.000 --> 00:21.000\nno no\n"
        self.assertEqual([word for word, _ in said(twice)], ["no"] * 4)

    def test_only_an_empty_line_ends_a_block(self) -> None:
        blank = "WEBVTT\n\n00:01.000 --> 00:03.000\n \nkernel six\n\n00:03.000 --> 00:04.000\neighteen\n"
        self.assertEqual([word for word, _ in said(blank)], ["kernel", "six", "eighteen"])

    def test_times_inside_a_block_are_the_moments_of_its_words(self) -> None:
        timed = "WEBVTT\n\n00:01.000 --> 00:09.000\nKeyboard<00:00:02.500><c> German</c><00:00:07.000><c> now</c>\n"
        self.assertEqual(said(timed), [("Keyboard", 1.0), ("German", 2.5), ("now", 7.0)])

    def test_the_words_of_a_recogniser(self) -> None:
        heard = '{"segments": [{"start": 1, "end": 2, "text": "a b", "words": [{"word": " sound", "start": 1, "end": 1.5}]}]}'
        self.assertEqual(said(heard), [("sound", 1.0)])

    def test_lines_with_a_time_before_them(self) -> None:
        self.assertEqual([at for _, at in said("[0:05] memory\n1:00 - kernel\n")], [5.0, 60.0])

    def test_what_says_no_moment_is_refused_with_what_was_expected(self) -> None:
        with self.assertRaisesRegex(MetrographError, "expected: captions"):
            said("hello")
