"""A talk in German is known as one, and understood: numbers in one word, answers, programs, trials."""

import unittest
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from metrograph.hearing.listening import Ears, language_of, listen
from metrograph.hearing.stream.captions import Word, read_words
from metrograph.hearing.stream.programs import known_names, read_names
from metrograph.hearing.stream.said_figures import figure_words, figures_in
from metrograph.hearing.stream.spoken import number_words, tokens_of

TALKS = Path(__file__).parents[2] / "bench" / "narrations"
ONES = [
    "null",
    "ein",
    "zwei",
    "drei",
    "vier",
    "fünf",
    "sechs",
    "sieben",
    "acht",
    "neun",
    "zehn",
    "elf",
    "zwölf",
    "dreizehn",
    "vierzehn",
    "fünfzehn",
    "sechzehn",
    "siebzehn",
]
TENS = ["zwanzig", "dreißig", "vierzig", "fünfzig", "sechzig", "siebzig", "achtzig", "neunzig"]


def in_german(number: int) -> str:
    """A number as it is written in one word."""
    if number >= 1000:
        return in_german(number // 1000) + "tausend" + (in_german(number % 1000) if number % 1000 else "")
    if number >= 100:
        return ONES[number // 100] + "hundert" + (in_german(number % 100) if number % 100 else "")
    if number >= 20:
        return (ONES[number % 10] + "und" if number % 10 else "") + TENS[number // 10 - 2]
    return {18: "achtzehn", 19: "neunzehn"}.get(number) or ("eins" if number == 1 else ONES[number])


def said(text: str) -> list[Word]:
    return [Word(place * 0.4, each, 0.0) for place, each in enumerate(text.split())]


class German(unittest.TestCase):
    @given(st.integers(0, 999_999))
    def test_a_number_in_one_word_is_that_number(self, number: int) -> None:
        word = in_german(number)
        word += "s" if word.endswith("ein") else ""
        (token,) = tokens_of(said(word), number_words("deu"))
        self.assertEqual(token.text, str(number))

    def test_an_article_is_no_number_and_half_numbers_are_read(self) -> None:
        self.assertEqual([each.text for each in tokens_of(said("ein Stick"), number_words("deu"))], ["ein", "stick"])
        for text, value in (
            ("viereinhalb Minuten", "270"),
            ("eine Viertelstunde", None),
            ("ein Gigabyte", "1000000000"),
        ):
            figure = figures_in(tokens_of(said(text), number_words("deu")), 0, figure_words("deu"))
            self.assertEqual(None if figure is None else figure.value, value, text)

    def test_a_talk_is_understood(self) -> None:
        words = read_words((TALKS / "larkmoor-9.0-deutsch.vtt").read_bytes(), "talk")
        self.assertEqual(language_of(words), "deu")
        machine = read_names((TALKS / "larkmoor-9.0-deutsch.packages.tsv").read_text(), on_machine=True)
        names = known_names(machine, read_names("Pondhopper"))
        found = {(each.kind, each.key, each.value) for each in listen(words, Ears(names, "deu")).statements}
        for expected in (
            ("keep", "language", "German"), ("choose", "keyboard", "German"), ("keep", "timezone", "Berlin"),
            ("keep", "encryption", "none"), ("reading", "memory", "~630000000"), ("fact", "kernel", "6.18"),
            ("carries", "-", "Page Light"), ("lacks", "-", "Pondhopper"), ("check", "suspend", "fail"),
            ("verdict", "score", "8.5"), ("compare", "speed", "+"),
        ):  # fmt: skip
            self.assertIn(expected, found)
        self.assertFalse([value for kind, _, value in found if kind == "carries" and "hopper" in value.lower()])

    def test_english_stays_english(self) -> None:
        self.assertEqual(language_of(said("so here it is and the kernel is six point one")), "eng")
