"""Pages and pictures for tests, drawn or said in a few words."""

from __future__ import annotations

from pathlib import Path

import matplotlib as mpl
import numpy as np
from PIL import Image, ImageDraw, ImageFont

from metrograph.watch.inputs.frames import Frame, Grey
from metrograph.watch.pages.page import Page, SkippedTime, Text
from metrograph.watch.reading.words import Button, button_of

FONTS = Path(mpl.get_data_path()) / "fonts/ttf"


def picture(
    *lines: tuple[int, int, str], size: tuple[int, int] = (640, 400), ink: int = 0, ground: int = 255, letters: int = 16
) -> Grey:
    """Text at places (left, top) on a plain ground."""
    image = Image.new("L", size, ground)
    draw = ImageDraw.Draw(image)
    for left, top, words in lines:
        draw.text((left, top), words, ink, ImageFont.truetype(str(FONTS / "DejaVuSans.ttf"), letters))
    return np.asarray(image)


def frame(at: int, grey: Grey, gap: bool = False) -> Frame:
    """A frame of a picture in shades."""
    return Frame(at, grey, lambda: np.stack([grey] * 3, axis=-1), gap)


def page(at: float, *lines: str, number: int = 0, gap: bool = False, console: bool = False) -> Page:
    """A page as it came up at a moment in seconds: ``#`` heading, ``[Button]`` at the end, ``(Button)`` in its row, ``| side list``, ``*| marked there``."""
    texts, row, right = [], 20, 500
    for line in reversed([line for line in lines if line.startswith("[")]):
        texts.append(_text(line.strip("[]"), right, 360, 12, 240, button_of(line)))
        right -= 100
    for line in lines:
        if line.startswith("["):
            continue
        if line.startswith("("):
            texts.append(_text(line.strip("()"), 150, row, 12, 240, button_of(line)))
            row += 30
            continue
        if "|" in line[:2]:
            words, left, top, tall = line.lstrip("*| "), 10, row, 12
        else:
            words, left, top, tall = line.lstrip("*# "), 150, row, 24 if line.startswith("#") else 12
        ground = 80 if line.startswith("*") else 240
        texts.append(_text(words, left, top, tall, ground))
        row += 30
    start = round(at * 1000)
    box = (0, 0, 640, 400)
    lines_down = tuple(sorted(texts, key=lambda text: text.top))
    return Page(
        start,
        start + 500,
        box[2:],
        lines_down,
        not lines,
        console,
        changed=box,
        gap=SkippedTime() if gap else None,
        number=number,
    )


def _text(words: str, left: int, top: int, tall: int, ground: int, button: Button | None = None) -> Text:
    return Text(left, top, left + 9 * len(words), top + tall, words, 0.96, ground < 100, ground, tall, 200, button)


def numbered(*pages: Page) -> list[Page]:
    """Pages with their numbers, as a source gives them."""
    import msgspec

    return [msgspec.structs.replace(each, number=number) for number, each in enumerate(pages)]
