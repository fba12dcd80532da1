"""Writes a story as a film with its truth beside it."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import av
import msgspec
import numpy as np

from bench.films.painter import Screen, paint
from bench.films.story import Shown, Story
from bench.films.themes import Theme


class Filmed(msgspec.Struct, frozen=True):
    """What lies beside a film."""

    theme: Theme
    seconds: float
    truths: list[object]


def write_film(theme: Theme, seed: int, path: Path) -> Story:
    """Films a story in a look; the truth lies beside it as JSON. Times are on a grid of the look's frames a second."""
    story = Story(theme, seed)
    film(theme, story.shown, story.now, path)
    path.with_suffix(".json").write_bytes(msgspec.json.encode(Filmed(theme, story.now, list(story.truths))))
    return story


def film(theme: Theme, shown: list[Shown], seconds: float, path: Path) -> None:
    """Films what is to be seen from moment to moment."""
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=theme.rate)
        stream.width, stream.height, stream.pix_fmt = *theme.size, "yuv420p"
        stream.options = {"crf": str(theme.quality), "preset": "veryfast"}
        stream.codec_context.time_base = Fraction(1, theme.rate)
        place, painted = 0, None
        last: Screen | None = None
        for number in range(int(seconds * theme.rate)):
            while place + 1 < len(shown) and shown[place + 1][0] <= number / theme.rate:
                place += 1
            if shown[place][1] != last or painted is None:
                last = shown[place][1]
                painted = av.VideoFrame.from_ndarray(np.asarray(paint(theme, last)), format="rgb24").reformat(
                    format="yuv420p"
                )
            painted.pts, painted.time_base = number, Fraction(1, theme.rate)
            for packet in stream.encode(painted):
                container.mux(packet)
        for packet in stream.encode(None):
            container.mux(packet)
