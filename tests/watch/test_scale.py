"""Pages are the same however large a screen draws them: lengths are in heights of text."""

import unittest

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from metrograph.watch.inputs.frames import Frame, Grey
from metrograph.watch.pages.watching import found_in_frames
from metrograph.watch.reading.lines import find_lines
from metrograph.watch.reading.text_reader import LineReader, ReadLine

LINES = (
    "Where should it go?",
    "Erase the whole disk",
    "Install beside what is there",
    "Partitions by hand",
    "Encrypt the new system",
    "Back",
    "Next",
)


def drawn(scale: float) -> Grey:
    """A page of lines at a size of letters that 1 draws 12 pixels tall."""
    image = Image.new("L", (round(800 * scale), round(500 * scale)), 235)
    draw, font = ImageDraw.Draw(image), ImageFont.load_default(round(16 * scale))
    for number, line in enumerate(LINES):
        draw.text((round(60 * scale), round((40 + 60 * number) * scale)), line, 20, font)
    return np.asarray(image)


class Engine:
    """Says something of every line, so that all of them count as read."""

    def read(self, pictures: list[Grey], _language: str) -> list[ReadLine]:
        return [ReadLine("a line of text", 0.9) for _ in pictures]


class ScaleTest(unittest.TestCase):
    def pages(self, scale: float) -> list[tuple[tuple[int, int], list[int]]]:
        grey = drawn(scale)
        frames = (Frame(at, grey, lambda: np.dstack([grey] * 3)) for at in range(0, 2000, 300))
        found = list(found_in_frames(frames, LineReader(Engine()), lambda _: True))  # type: ignore[arg-type]
        for each in found:
            assert each.still is not None
            self.assertEqual(each.still.colour.shape[:2], each.still.grey.shape, "pictures fit what was read on them")
        return [(each.page.size, [text.tall for text in each.page.texts]) for each in found]

    def test_text_has_one_size_whatever_the_screen_has(self) -> None:
        for scale in (0.75, 1.0, 1.5, 2.0, 3.0):
            *_, (size, talls) = self.pages(scale)
            self.assertEqual(len(talls), len(LINES), scale)
            self.assertTrue(all(9 <= tall <= 15 for tall in talls), (scale, talls))
            self.assertAlmostEqual(size[0] / 800, 1.0, delta=0.2)

    def test_what_is_about_as_large_as_usual_is_left_as_it_is(self) -> None:
        self.assertEqual(self.pages(1.0)[-1][0], (800, 500))
        self.assertEqual(len(find_lines(drawn(1.0))), len(LINES))
