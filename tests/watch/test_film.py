from __future__ import annotations

import tempfile
import unittest
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from metrograph.watch.inputs.video import Film, Pauses, pauses_in

REGULAR = np.arange(0, 20_000, 200)


class PausesTest(unittest.TestCase):
    def test_a_film_that_was_stopped_and_went_on(self) -> None:
        times = np.concatenate([REGULAR, REGULAR + 260_000])
        self.assertEqual(pauses_in(times), [(19_800, 240_000)])
        pauses = Pauses(times)
        self.assertEqual([pauses.seen(at) for at in (0, 19_800, 260_000)], [0, 19_800, 20_000])
        self.assertEqual([pauses.ended(19_600, 19_800), pauses.ended(19_800, 260_000)], [None, 240_000])

    def test_a_film_that_keeps_what_changes_only_was_not_stopped(self) -> None:
        self.assertEqual(
            pauses_in(
                np.array([0, 200, 4000, 4200, 90_000, 91_000, 91_100, 300_000, 300_400, 310_000, 320_000, 321_000])
            ),
            [],
        )
        self.assertEqual(pauses_in(np.array([0, 200, 90_000])), [])

    @given(st.lists(st.integers(6000, 900_000), max_size=5), st.data())
    def test_both_ways_lead_to_the_same_moment(self, lengths: list[int], data: st.DataObject) -> None:
        times, begin = [], 0
        for length in [*lengths, 0]:
            times.append(REGULAR + begin)
            begin += 20_000 + length
        pauses = Pauses(np.concatenate(times))
        at = int(data.draw(st.sampled_from(np.concatenate(times).tolist())))
        self.assertEqual(pauses.in_film(pauses.seen(at)), at)

    def test_a_pause_in_a_real_film_is_a_gap_of_known_length(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            path = Path(name) / "paused.mkv"
            with av.open(str(path), "w") as container:
                stream = container.add_stream("libx264", rate=5)
                stream.width, stream.height, stream.pix_fmt = 64, 48, "yuv420p"
                stream.codec_context.time_base = Fraction(1, 1000)
                for number in range(40):
                    picture = av.VideoFrame.from_ndarray(
                        np.full((48, 64, 3), 200 if number < 20 else 40, np.uint8), format="rgb24"
                    )
                    picture.pts, picture.time_base = number * 200 + (60_000 if number >= 20 else 0), Fraction(1, 1000)
                    container.mux(stream.encode(picture))
                container.mux(stream.encode(None))
            frames = list(Film(str(path)).frames())
        self.assertEqual([(frame.at, frame.missing) for frame in frames if frame.gap], [(4000, 60_000)])
        self.assertLess(frames[-1].at, 9500)
