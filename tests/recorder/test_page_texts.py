"""The words of a page stand where they stood, whatever the size of the window."""

import unittest

from metrograph.faces.recorder.page_texts import laid_out
from metrograph.watch.drafts.review import PlacedWords


class LaidOut(unittest.TestCase):
    def test_words_stand_in_their_order_and_within_the_window(self) -> None:
        shown = [
            PlacedWords(0.1, 0.1, "Keyboard layout"), PlacedWords(0.1, 0.4, "English (UK)"),
            PlacedWords(0.9, 0.95, "Next", button=True),
        ]  # fmt: skip
        for columns, rows in ((60, 20), (24, 6)):
            lines = laid_out(shown, columns, rows).plain.split("\n")
            self.assertLessEqual(len(lines), rows)
            self.assertLessEqual(max(map(len, lines)), columns)
            self.assertEqual([line.strip() for line in lines if line], ["Keyboard layout", "English (UK)", "[Next]"])

    def test_no_word_is_written_over_another(self) -> None:
        shown = [PlacedWords(0.0, number / 40, f"Line {number:02}") for number in range(12)]
        text = laid_out(shown, 40, 14).plain
        self.assertEqual([number for number in range(12) if f"Line {number:02}" not in text], [])
