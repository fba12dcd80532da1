"""Looks drawn at random: colours, fonts, where headings, steps, banners and buttons stand. One seed, one look."""

from __future__ import annotations

import random
from functools import cache
from pathlib import Path

import matplotlib as mpl
import msgspec
from PIL import ImageFont

Ink = tuple[int, int, int]
_SIZES = ((1280, 800), (1024, 768), (800, 600), (1280, 720), (1920, 1080))
_FOUND = "/usr/share/fonts/truetype"


class Theme(msgspec.Struct, frozen=True):
    """A look. font: a file; letters: pixels of running text; all colours as red, green, blue.

    heading: where the title stands: content, banner, steps (only the marked step says it), bar (the window's title).
    """

    seed: int
    size: tuple[int, int]
    tongue: str
    font: str
    bold: str
    letters: int
    heading_letters: int
    heading_bold: bool
    desk: Ink
    ground: Ink
    field: Ink
    ink: Ink
    faint: Ink
    accent: Ink
    banner: Ink | None
    heading: str
    steps: str
    window: bool
    text_mode: bool
    buttons: str
    flat_buttons: bool
    clock: bool
    pointer: bool
    half_painted: bool
    rate: int
    quality: int


@cache
def faces() -> tuple[tuple[str, str], ...]:
    """Pairs of regular and bold faces: those that come with Matplotlib, and those that are installed."""
    own = Path(mpl.get_data_path()) / "fonts/ttf"
    pairs = [
        (own / "DejaVuSans.ttf", own / "DejaVuSans-Bold.ttf"),
        (own / "DejaVuSerif.ttf", own / "DejaVuSerif-Bold.ttf"),
    ]
    pairs += [
        (Path(f"{_FOUND}/{name}-Regular.ttf"), Path(f"{_FOUND}/{name}-Bold.ttf"))
        for name in ("liberation/LiberationSans", "noto/NotoSans", "open-sans/OpenSans", "lato/Lato")
    ]
    return tuple((str(one), str(two)) for one, two in pairs if one.exists() and two.exists())


@cache
def mono() -> tuple[str, str]:
    """The monospaced face, regular and bold."""
    own = Path(mpl.get_data_path()) / "fonts/ttf"
    return str(own / "DejaVuSansMono.ttf"), str(own / "DejaVuSansMono-Bold.ttf")


@cache
def face(file: str, letters: int) -> ImageFont.FreeTypeFont:
    """A face in a size."""
    return ImageFont.truetype(file, letters)


def draw_theme(seed: int) -> Theme:
    """The look of a seed."""
    chance = random.Random(seed)
    dark, low = chance.random() < 0.35, chance.random() < 0.25
    text_mode = chance.random() < 0.15
    ground = _shade(chance, 20, 50) if dark else _shade(chance, 225, 255)
    ink = (
        _shade(chance, 150, 185)
        if dark and low
        else _shade(chance, 225, 255)
        if dark
        else _shade(chance, 80, 115)
        if low
        else _shade(chance, 0, 50)
    )
    letters = round(chance.randint(8, 16) * 96 / 72)
    font, bold = mono() if text_mode or chance.random() < 0.1 else chance.choice(faces())
    steps = chance.choice(("none", "none", "side", "side", "top"))
    heading = chance.choice(("content", "content", "content", "banner", "steps", "bar"))
    window = chance.random() < 0.5
    if (heading == "steps" and steps != "side") or (heading == "bar" and not window):
        heading = "content"
    accent = (chance.randint(20, 110), chance.randint(60, 140), chance.randint(90, 200))
    return Theme(
        seed=seed,
        size=chance.choice(_SIZES),
        tongue=chance.choice(("en", "en", "de", "fr", "es")),
        font=font,
        bold=bold,
        letters=min(letters, 18) if text_mode else letters,
        heading_letters=round(letters * chance.choice((1.0, 1.2, 1.5, 1.9))),
        heading_bold=chance.random() < 0.6,
        desk=_shade(chance, 30, 200),
        ground=ground,
        field=_shade(chance, 5, 30) if dark else (255, 255, 255),
        ink=ink,
        faint=tuple((a + b) // 2 for a, b in zip(ink, ground, strict=True)),  # type: ignore[arg-type]
        accent=accent,
        banner=accent if heading == "banner" or chance.random() < 0.3 else None,
        heading=heading,
        steps=steps,
        window=window,
        text_mode=text_mode,
        buttons=chance.choice(("right", "right", "left", "centre", "apart")),
        flat_buttons=chance.random() < 0.3,
        clock=window and chance.random() < 0.5,
        pointer=chance.random() < 0.8,
        half_painted=chance.random() < 0.4,
        rate=chance.choice((1, 5, 10, 15, 25, 30)),
        quality=chance.choice((18, 23, 28, 33)),
    )


def _shade(chance: random.Random, low: int, high: int) -> Ink:
    base = chance.randint(low, high)
    return tuple(min(max(base + chance.randint(-8, 8), 0), 255) for _ in range(3))  # type: ignore[return-value]
