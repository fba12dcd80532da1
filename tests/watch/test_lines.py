from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw

from metrograph.watch.inputs.frames import grey_of
from metrograph.watch.reading.lines import Line, find_lines
from metrograph.watch.reading.marks import marks_before
from tests.watch.drawn import picture

TEXT = ((40, 40, "Keyboard layout"), (40, 90, "Choose the layout of your keyboard"), (300, 40, "Step 3"))


def places(lines: list[Line]) -> list[tuple[int, int]]:
    return [(round(line.left / 10) * 10, round(line.top / 10) * 10) for line in lines]


class LinesTest(unittest.TestCase):
    def test_every_line_is_found_by_itself(self) -> None:
        self.assertEqual(places(find_lines(picture(*TEXT))), [(40, 40), (300, 40), (40, 90)])

    @settings(max_examples=12, deadline=None)
    @given(ground=st.integers(0, 255), contrast=st.integers(45, 160), letters=st.integers(11, 30), darker=st.booleans())
    def test_whatever_the_colours_and_the_size(self, ground: int, contrast: int, letters: int, darker: bool) -> None:
        ink = ground - contrast if darker else ground + contrast
        if 0 <= ink <= 255:
            lines = find_lines(
                picture((40, 40, "Keyboard layout"), (40, 140, "The next one"), ink=ink, ground=ground, letters=letters)
            )
            self.assertEqual([(line.light, abs(line.left - 40) < 6) for line in lines], [(not darker, True)] * 2)

    def test_frames_rules_and_areas_are_no_text(self) -> None:
        image = Image.new("L", (640, 400), 240)
        draw = ImageDraw.Draw(image)
        draw.rectangle((20, 20, 600, 360), None, 0)
        draw.rectangle((60, 60, 160, 90), 255, 120)
        draw.rectangle((200, 100, 500, 300), 60)
        draw.line((0, 380, 640, 380), 0, 2)
        self.assertEqual(find_lines(np.asarray(image)), [])

    def test_the_words_of_a_button_are_found_without_its_frame(self) -> None:
        grey = picture((70, 66, "Go Back"), (190, 66, "Continue"))
        for left in (58, 178):
            grey = grey.copy()
            grey[58:92, [left, left + 100]] = 90
            grey[[58, 91], left : left + 100] = 90
        self.assertEqual(places(find_lines(grey)), [(70, 70), (190, 70)])

    def test_a_marked_row_is_found_among_the_others(self) -> None:
        grey = picture((40, 40, "English"), (40, 70, ""), (40, 100, "Suomi")).copy()
        grey[64:90, 20:300] = picture((20, 4, "Deutsch"), size=(280, 26), ink=250, ground=90)
        self.assertEqual([line.light for line in find_lines(grey)], [False, True, False])

    def test_nothing_is_found_where_nothing_stands(self) -> None:
        self.assertEqual(find_lines(np.full((300, 300), 17, np.uint8)), [])

    def test_shades_weigh_colours_as_the_eye_does(self) -> None:
        colours = np.array([[[255, 255, 255], [255, 0, 0], [0, 255, 0], [0, 0, 255]]], np.uint8)
        self.assertEqual(grey_of(colours).tolist(), [[255, 76, 149, 28]])


class MarksTest(unittest.TestCase):
    """Boxes and circles before “Open web server”, “Online services” and “Games”, 24 pixels to their left."""

    NAMES = ("Open web server", "Online services", "Games")

    def marks(self, *drawn: str) -> list[tuple[bool, bool] | None]:
        image = Image.fromarray(picture(*((60, 40 + 40 * row, name) for row, name in enumerate(self.NAMES))))
        draw = ImageDraw.Draw(image)
        for row, shape in enumerate(drawn):
            box = (36, 42 + 40 * row, 50, 56 + 40 * row)
            {"o": draw.ellipse, "[": draw.rectangle}[shape[0]](box, 250, 90)
            if shape[1:] == "tick":
                draw.line([(39, box[1] + 7), (43, box[1] + 11), (48, box[1] + 3)], 60, 3)
            elif shape[1:] == "dot":
                draw.ellipse((40, box[1] + 4, 46, box[1] + 10), 60)
            elif shape[1:] == "filled":
                draw.ellipse(box, 60)
        lines, marks = marks_before(np.asarray(image), find_lines(np.asarray(image)))
        for line, mark in zip(lines, marks, strict=True):
            self.assertTrue(mark is None or line.left > 50, "a box was read as a letter")
        return [
            (mark.on, mark.round) if mark else None for line, mark in zip(lines, marks, strict=True) if line.width > 30
        ]

    def test_boxes_are_ticked_or_not(self) -> None:
        self.assertEqual(self.marks("[tick", "[", "[tick"), [(True, False), (False, False), (True, False)])

    def test_one_circle_of_a_column_is_marked(self) -> None:
        self.assertEqual(self.marks("o", "odot", "o"), [(False, True), (True, True), (False, True)])
        self.assertEqual(self.marks("o", "o", "ofilled"), [(False, True), (False, True), (True, True)])

    def test_letters_are_no_circles_and_several_dots_say_nothing(self) -> None:
        self.assertEqual(self.marks(), [None] * 3)
        self.assertEqual(self.marks("odot", "odot", "o"), [None] * 3)
