"""Pages of made-up films, as they were read once, and what is found on them: each change of it is to be looked at.

``python -m tests.watch.test_read_films`` writes down anew what is found; ``bench.watching`` says how much of it is right.
"""

from __future__ import annotations

import lzma
import unittest
from pathlib import Path

import msgspec

from metrograph.log.lexicon import load_lexicon
from metrograph.watch.drafts.scanning import KeptPage
from metrograph.watch.pages.page import Page
from metrograph.watch.screens.spans import Span, find_spans

FOLDER = Path(__file__).parent / "read"


def pages_of(film: Path) -> list[Page]:
    return [msgspec.json.decode(line, type=KeptPage).page for line in lzma.decompress(film.read_bytes()).splitlines()]


def line_of(span: Span) -> str:
    """A span in a line: its times in milliseconds, what it is called and how sure that is, and what stands on it."""
    marks = [name for name in ("waiting", "returns", "error", "dialog", "console") if getattr(span, name)]
    marks += [] if span.pressed else ["nothing to press"]
    picked = [f"{each.value} (was {each.was}, {each.sure:g}, of {len(each.offered)})" for each in span.choices]
    figures = [str(each) for each in span.figures]
    called = f"{span.title or '?'} [{span.kind}] {span.points:.2f}/{span.margin:.2f}/{span.read:.2f} {span.question!r}"
    told = f"{span.trouble!r} {span.trouble_at}" if span.trouble else ""
    gap = "gap" if span.gap else ""
    parts = [f"{span.start}-{span.end} p{span.page}", called, " ".join(marks), told, gap, *picked, *figures]
    return " | ".join(part for part in parts if part)


def found_on(film: Path) -> str:
    return "".join(f"{line_of(span)}\n" for span in find_spans(pages_of(film), load_lexicon()))


class ReadFilms(unittest.TestCase):
    """A test for each film, so that each is quick."""

    def look(self, name: str) -> None:
        found = found_on(FOLDER / f"{name}.pages.xz").splitlines()
        self.assertEqual(found, (FOLDER / f"{name}.spans").read_text("utf-8").splitlines())

    def test_cards_in_french(self) -> None:
        self.look("french-cards")

    def test_steps_in_english(self) -> None:
        self.look("english-steps")

    def test_steps_in_spanish(self) -> None:
        self.look("spanish-steps")

    def test_steps_in_german(self) -> None:
        self.look("german-steps")

    def test_steps_of_which_much_was_hidden(self) -> None:
        self.look("german-hidden")

    def test_the_film_of_the_demo(self) -> None:
        self.look("demo")


if __name__ == "__main__":
    for each in FOLDER.glob("*.pages.xz"):
        (FOLDER / each.name.replace(".pages.xz", ".spans")).write_text(found_on(each), "utf-8")
