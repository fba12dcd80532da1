"""The words of a page stand where they stood, whatever the size of the window."""

import unittest

from metrograph.faces.recorder.page_texts import laid_out
from tests.watch.drawn import page


class LaidOut(unittest.TestCase):
    def test_words_stand_in_their_order_and_within_the_window(self) -> None:
        shown = page(0, "# Keyboard layout", "Type here to test it", "English (UK)", "[Next]")
        for columns, rows in ((60, 20), (24, 6)):
            lines = laid_out(shown, columns, rows).plain.split("\n")
            self.assertLessEqual(len(lines), rows)
            self.assertLessEqual(max(map(len, lines)), columns)
            text = "\n".join(lines)
            self.assertLess(text.index("Keyboard layout"), text.index("English (UK)"))
        self.assertIn("[Next]", laid_out(shown, 60, 20).plain)

    def test_no_word_is_written_over_another(self) -> None:
        shown = page(0, *(f"Line {number:02} of many" for number in range(12)))
        text = laid_out(shown, 40, 30).plain
        self.assertEqual([number for number in range(12) if f"Line {number:02} of many" not in text], [])
