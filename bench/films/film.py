"""Writes a story as a film with its truth beside it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from fractions import Fraction
from pathlib import Path
from typing import Protocol

import av
import msgspec
import numpy as np
from PIL import Image

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


class Recorded(Protocol):
    """How a look is recorded. size: pixels; rate: frames a second; quality: of the codec, less is better."""

    @property
    def size(self) -> tuple[int, int]: ...  # noqa: D102 - as the class says
    @property
    def rate(self) -> int: ...  # noqa: D102
    @property
    def quality(self) -> int: ...  # noqa: D102


def film(theme: Theme, shown: list[Shown], seconds: float, path: Path) -> None:
    """Films what is to be seen from moment to moment."""
    code(theme, _pictures(theme, shown, seconds), path)


def _pictures(theme: Theme, shown: list[Shown], seconds: float) -> Iterator[Image.Image]:
    """One picture for every frame; the same one again while nothing changes."""
    place, painted = 0, None
    last: Screen | None = None
    for number in range(int(seconds * theme.rate)):
        while place + 1 < len(shown) and shown[place + 1][0] <= number / theme.rate:
            place += 1
        if shown[place][1] != last or painted is None:
            last = shown[place][1]
            painted = paint(theme, last)
        yield painted


def code(look: Recorded, pictures: Iterable[Image.Image], path: Path) -> None:
    """Codes one picture for every frame; a picture that comes again is made ready once."""
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=look.rate)
        stream.width, stream.height, stream.pix_fmt = *look.size, "yuv420p"
        stream.options = {"crf": str(look.quality), "preset": "veryfast"}
        stream.codec_context.time_base = Fraction(1, look.rate)
        last: Image.Image | None = None
        for number, picture in enumerate(pictures):
            if picture is not last:
                last = picture
                frame = av.VideoFrame.from_ndarray(np.asarray(picture), format="rgb24").reformat(format="yuv420p")
            frame.pts, frame.time_base = number, Fraction(1, look.rate)
            for packet in stream.encode(frame):
                container.mux(packet)
        for packet in stream.encode(None):
            container.mux(packet)
