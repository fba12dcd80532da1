"""Editing: only the lines concerned change."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.log.cues import Cue
from metrograph.log.reader import read_log
from metrograph.log.writer import cue_block, format_cue, replace_block
from tests.helpers import HEADER, cues

TEXT = """\
0:01 screen Disk
    kind: disk

    # looked twice
    text: Pick one
# about the next
0:02 wait

0:03 ready
"""


class Blocks(unittest.TestCase):
    def test_a_cue_ends_with_its_last_field(self) -> None:
        self.assertEqual([cue_block(TEXT, line) for line in (1, 7, 9)], [(0, 5), (6, 7), (8, 9)])

    def test_remarks_and_blank_lines_around_it_stay(self) -> None:
        self.assertEqual(replace_block(TEXT, (0, 5), ""), "# about the next\n0:02 wait\n\n0:03 ready\n")
        self.assertEqual(
            replace_block(TEXT, (6, 7), "0:02 note x\n    x-a: b\n"),
            TEXT.replace("0:02 wait", "0:02 note x\n    x-a: b"),
        )

    def test_foreign_line_ends_stay(self) -> None:
        text = "0:01 wait\r\n0:02 ready\r\n"
        self.assertEqual(replace_block(text, (0, 1), "0:01 note x\n"), "0:01 note x\r\n0:02 ready\r\n")

    @given(st.lists(cues(), min_size=1, max_size=5), st.data())
    def test_any_cue_can_be_put_in_the_place_of_any_other(self, written: list[Cue], data: st.DataObject) -> None:
        gap = data.draw(st.sampled_from(["", "\n", "# a remark\n", "   \n"]))
        text = HEADER + gap.join(format_cue(cue) for cue in written) + gap
        index = data.draw(st.integers(0, len(written) - 1))
        block = cue_block(text, read_log(text)[0].cues[index].line)
        new = data.draw(cues())
        self.assertEqual(replace_block(text, block, format_cue(written[index])), text)
        self.assertEqual(list(read_log(replace_block(text, block, format_cue(new)))[0].cues),
                         [*written[:index], new, *written[index + 1 :]])  # fmt: skip
        self.assertEqual(list(read_log(replace_block(text, block, ""))[0].cues), written[:index] + written[index + 1 :])
