"""How wide texts are, and how they are made to fit: sizes of type, shortening, lines."""

from __future__ import annotations

import logging
from functools import cache, lru_cache
from typing import Any

from metrograph.show.terminal.text import cut_off, width

TITLE, ANSWER, CAPTION, LABEL, SMALL, LEAST = 22.0, 14.0, 12.0, 12.0, 11.0, 9.5  # pixels of type
POINT = 0.72  # points of a pixel: a hundred pixels are an inch
DPI = 100  # so that a pixel of a sheet is a hundredth of an inch for the library that draws
_FONT = "DejaVu Sans"
_OTHER_FONTS = (
    "Noto Sans CJK JP", "Noto Sans CJK SC", "Noto Sans Arabic", "Noto Sans Hebrew", "Noto Sans Devanagari",
    "WenQuanYi Zen Hei", "Droid Sans Fallback", "Unifont",
)  # fmt: skip
"""For scripts that the first has not, as far as they are installed."""


def over(fill: str) -> str:
    """The ink that can be read on a fill."""
    red, green, blue = (int(fill[place : place + 2], 16) for place in (1, 3, 5))
    return "#1c1e26" if 0.299 * red + 0.587 * green + 0.114 * blue > 125 else "#ffffff"


def fitting(text: str, size: float, room: float, bold: bool = False) -> str:
    """The text, shortened at its end where it takes more room than there is."""
    if len(text) * size <= room:  # no letter is wider than the type is high
        return text
    if len(text) <= 400 and measure(text, size, bold) <= room:
        return text
    low, high = 1, min(width(text), 400)
    while low < high:
        middle = (low + high + 1) // 2
        fits = measure(cut_off(text, middle), size, bold) <= room
        low, high = (middle, high) if fits else (low, middle - 1)
    return cut_off(text, low)


def wrapped(text: str, size: float, room: float, most: int, bold: bool = False) -> list[str]:
    """The text in lines that fit; of more than there may be the last is cut off."""
    lines: list[str] = []
    words = text[:1000].split(" ")
    while words and len(lines) < most:
        count = 1
        while count < len(words) and measure(" ".join(words[: count + 1]), size, bold) <= room:
            count += 1
        rest = " ".join(words) if len(lines) == most - 1 else " ".join(words[:count])
        lines.append(fitting(rest, size, room, bold))
        words = words[count:]
    return lines


def measure(text: str, size: float, bold: bool = False) -> float:
    """How wide a text is, in pixels."""
    return _width(text, size, bold)


@cache
def fonts() -> list[str]:
    """The fonts that there are for all scripts, the usual one first."""
    from matplotlib.font_manager import fontManager

    logging.getLogger("matplotlib.font_manager").setLevel(logging.ERROR)  # some have no bold face, which harms nobody
    installed = {font.name for font in fontManager.ttflist}
    return [_FONT, *(font for font in _OTHER_FONTS if font in installed)]


@lru_cache(4096)
def _width(text: str, size: float, bold: bool) -> float:
    """How wide a text is, in pixels; the same ones come up over and over."""
    wide: float = _renderer().get_text_width_height_descent(text, _font(size * POINT, bold), ismath=False)[0]
    return wide


@cache
def _font(size: float, bold: bool) -> Any:
    from matplotlib.font_manager import FontProperties

    return FontProperties(family=fonts(), size=size, weight="bold" if bold else "normal")


@cache
def _renderer() -> Any:
    from matplotlib.backends.backend_agg import RendererAgg

    return RendererAgg(1, 1, DPI)  # type: ignore[no-untyped-call]
