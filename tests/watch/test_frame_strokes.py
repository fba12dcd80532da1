"""Strokes of frames are told from strokes of letters: by how long they are, and by what they end at."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from metrograph.watch.reading import frame_strokes as strokes
from metrograph.watch.reading.lines import find_lines
from tests.watch.drawn import picture


def drawn(*boxes: tuple[int, int, int, int]) -> strokes.Ink:
    """Filled boxes (left, top, right, bottom) on an empty picture."""
    ink = np.zeros((80, 160), np.bool_)
    for left, top, right, bottom in boxes:
        ink[top:bottom, left:right] = True
    return ink


FRAME = ((10, 10, 90, 11), (10, 34, 90, 35), (10, 10, 11, 35), (89, 10, 90, 35))


class FrameStrokes(unittest.TestCase):
    def test_a_low_button_goes_whole_and_its_letters_stay(self) -> None:
        letter, dash = (30, 16, 33, 29), (40, 22, 60, 24)
        found = strokes.frame_strokes(drawn(*FRAME, letter, dash))
        np.testing.assert_array_equal(found, drawn(*FRAME))
        self.assertEqual(
            {(left, right) for left, _, right, _ in strokes.edges_of(found).tolist()}, {(10, 11), (89, 90)}
        )

    def test_an_area_and_a_stem_of_a_heading_are_no_strokes(self) -> None:
        self.assertFalse(strokes.frame_strokes(drawn((10, 10, 90, 40), (120, 10, 123, 50))).any())

    @given(st.lists(st.booleans(), min_size=1, max_size=60), st.integers(1, 12), st.integers(0, 1))
    @settings(max_examples=80, deadline=None)
    def test_runs_are_what_lies_in_a_row_of_so_many(self, points: list[bool], length: int, axis: int) -> None:
        row = np.array(points)
        wanted = np.zeros_like(row)
        for start in range(len(row) - length + 1):
            wanted[start : start + length] |= row[start : start + length].all()
        found = strokes._runs(row[:, None] if axis == 0 else row[None, :], length, axis)
        np.testing.assert_array_equal(found.ravel(), wanted)


class LinesInFrames(unittest.TestCase):
    def test_two_framed_words_beside_each_other_are_two_lines(self) -> None:
        grey = picture((60, 60, "Back"), (116, 60, "Next"), size=(300, 120), letters=18).copy()
        self.assertEqual(len(find_lines(grey)), 1)
        for left, right in ((50, 111), (112, 180)):
            grey[[50, 86], left:right] = 60
            grey[50:87, [left, right - 1]] = 60
        self.assertEqual(len(find_lines(grey)), 2)

    def test_a_title_in_the_frame_of_a_box_is_a_line_of_its_own(self) -> None:
        grey = picture((120, 52, "Summary"), (60, 72, "Nothing was written so far"), size=(400, 160), letters=18).copy()
        grey[:55] = np.where(grey[:55] > 128, 40, grey[:55])  # another ground above the frame
        grey[60, 40:112] = grey[60, 215:380] = 30
        grey[54:67, [112, 214]] = 30
        title, below = find_lines(grey)[:2]
        self.assertTrue(title.left >= 113 and title.right <= 214, title)
        self.assertTrue(below.left <= 62 and not below.light, below)
