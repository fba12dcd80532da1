"""Spans and sums that are asked for many cues answer as looking at each would."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from metrograph.run.folding.intervals import on_clock
from metrograph.run.folding.timeline import Spans
from metrograph.run.folding.walk import lay_out
from tests.helpers import LEXICON, log_of

SPANS = st.lists(st.tuples(st.integers(-1, 20), st.integers(0, 20)).filter(lambda span: span[0] < span[1]), max_size=6)
LINES = st.lists(
    st.sampled_from(["wait", "ready", "cut 1:00..2:00", "cut ?", "cut about 5:00", "pause", "resume", "screen A"]),
    max_size=12,
)


class Sums(unittest.TestCase):
    @given(SPANS, st.integers(-1, 40))
    def test_spans(self, spans: list[tuple[int, int]], half: int) -> None:
        asked = Spans(spans)
        self.assertEqual(asked.holds_step(half / 2), any(begin < half / 2 <= end for begin, end in spans))
        self.assertEqual(asked.holds_cue(half), any(begin <= half < end for begin, end in spans))

    @given(LINES, st.data())
    def test_what_was_spent_between_two_cues(self, lines: list[str], data: st.DataObject) -> None:
        cues = log_of("".join(f"{minute}:00.25 {line}\n" for minute, line in enumerate(lines))).by_time()
        timeline = lay_out(cues, LEXICON)
        begin = data.draw(st.integers(-1, len(lines)))
        end = data.draw(st.integers(begin, len(lines)))
        self.assertEqual(timeline.spent(begin, end), on_clock(timeline.between(begin, end)))
