"""Numbers are heard as people say them; expectations are worked out by hand."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.hearing.stream.captions import Word
from metrograph.hearing.stream.line_of_words import LineOfWords
from metrograph.hearing.stream.said_figures import figure_words, figures_in
from metrograph.hearing.stream.spoken import number_words, tokens_of

SAID = {
    "six hundred megabytes": ("s", "600000000"),
    "six hundred and twelve megs": ("s", "612000000"),
    "one point three gigabytes": ("s", "1300000000"),
    "1,347": ("n", "1347"),
    "one thousand nine hundred six": ("n", "1906"),
    "half a gig": ("s", "500000000"),
    "two and a half gigs": ("s", "2500000000"),
    "four minutes and twenty seconds": ("d", "260"),
    "two to three minutes": ("d", "120..180"),
    "half an hour": ("d", "1800"),
    "12:44": ("d", "764"),
    "16gb": ("s", "16000000000"),
    "eight percent": ("n", "0.08"),
    "forty-one seconds": ("d", "41"),
}


def words(text: str) -> list[Word]:
    return [Word(float(place), each, 0.0) for place, each in enumerate(text.split())]


class Numbers(unittest.TestCase):
    def test_as_they_are_said(self) -> None:
        for text, expected in SAID.items():
            figure = figures_in(tokens_of(words(text), number_words("eng")), 0, figure_words("eng"))
            self.assertEqual(figure and (figure.kind, figure.value), expected, text)

    @given(st.integers(0, 999_999))
    def test_what_is_said_in_words_is_that_number(self, number: int) -> None:
        (token,) = tokens_of(words(_in_words(number)), number_words("eng"))
        self.assertEqual(token.text, str(number))

    def test_versions_are_joined_of_what_is_said_one_after_the_other(self) -> None:
        for text, version in {"six point eighteen": "6.18", "6 18 1": "6.18.1", "618": "6.18", "2 4 9": "249"}.items():
            tokens = tokens_of(words(text), number_words("eng"))
            line = LineOfWords(words(text), tokens, (), figure_words("eng"))
            self.assertEqual(line.version(line.line), version, text)

    @given(st.text(max_size=80))
    def test_nothing_that_is_said_is_too_much(self, text: str) -> None:
        tokens = tokens_of(words(text), number_words("eng"))
        LineOfWords(words(text), tokens, (), figure_words("eng"))


def _in_words(number: int) -> str:
    """A number as it is said, by another way than it is read."""
    ones = "zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen"
    small = [*ones.split(), "seventeen", "eighteen", "nineteen"]
    tens = ["twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety"]
    if number < 20:
        return small[number]
    if number < 100:
        return tens[number // 10 - 2] + (f"-{small[number % 10]}" if number % 10 else "")
    size, name = (1000, "thousand") if number >= 1000 else (100, "hundred")
    rest = f" and {_in_words(number % size)}" if 0 < number % size < 100 else f" {_in_words(number % size)}"
    return f"{_in_words(number // size)} {name}" + (rest if number % size else "")
