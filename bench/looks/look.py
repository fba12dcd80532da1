"""Looks drawn at random: which toolkit draws, how large, in which style, on which desktop; one seed, one look."""

from __future__ import annotations

import random
from itertools import cycle

import msgspec

from bench.looks.flow import NAMINGS, TONGUES, Flow, FlowTeller

STYLES = {
    "qt": ("wizard-classic", "wizard-modern", "side-list", "side-labels", "plain"),
    "gtk3": ("assistant", "bar", "plain", "side"),
    "gtk4": ("bar", "large", "boxed"),
    "web": ("card", "side", "wide"),
    "newt": ("window",),
    "dialog": ("window",),
    "curses": ("keys", "rows"),
}
"""Styles by toolkit."""
TEXT = frozenset({"newt", "dialog", "curses"})
"""Toolkits of terminals."""
_SIZES = ((1280, 800), (1024, 768), (1366, 768), (1920, 1080))
_FONTS = ("DejaVu Sans", "Noto Sans", "Liberation Sans", "Open Sans", "Lato")
_WITH_STEPS = frozenset({"side-list", "side-labels", "assistant", "side"})


class Look(msgspec.Struct, frozen=True):
    """A look. size: pixels of the picture; scale: of text; ink: of what is marked, red, green, blue.

    window: whether it stands in a window on a desktop; letters: rows of a console's font.
    """

    seed: int
    family: str
    style: str
    tongue: str
    naming: str
    steps: bool
    size: tuple[int, int]
    scale: float
    dark: bool
    font: str
    accent: tuple[int, int, int]
    theme: str
    letters: int
    window: bool
    pointer: bool
    half_painted: bool
    rate: int
    quality: int


def look_of(seed: int) -> Look:
    """The look of a seed; toolkits, languages and namings take turns, so that a range of seeds has them all."""
    chance = random.Random(seed)
    families = tuple(STYLES)
    family = families[seed % len(families)]
    tongue = TONGUES[seed % len(TONGUES)] if seed // 7 % 2 else chance.choice(("eng", "eng", "deu"))
    style = chance.choice(STYLES[family])
    text = family in TEXT
    steps = style in _WITH_STEPS
    naming = next(name for place, name in zip(range(seed % 5 + 1), cycle(NAMINGS), strict=False) if place == seed % 5)
    if (naming == "step" and not steps) or style.startswith("wizard"):
        naming = "own" if naming == "step" else naming
    console = chance.choice(((1024, 768), (1024, 768), (1280, 800), (720, 400)))
    return Look(
        seed, family, style, tongue, naming, steps,
        size=console if text else chance.choice(_SIZES),
        scale=chance.choice((0.85, 1.0, 1.0, 1.25, 1.5)),
        dark=chance.random() < 0.35,
        font=chance.choice(_FONTS),
        accent=(chance.randint(20, 220), chance.randint(40, 140), chance.randint(60, 220)),
        theme=chance.choice(("Fusion", "Windows")) if family == "qt" else chance.choice(("Adwaita", "HighContrast", "Clearlooks")),
        letters=chance.choice((14, 16, 16, 20)),
        window=not text and chance.random() < 0.55,
        pointer=not text and chance.random() < 0.8,
        half_painted=chance.random() < 0.4,
        rate=chance.choice((2, 5, 10, 15)),
        quality=chance.choice((18, 23, 28, 34)),
    )  # fmt: skip


def flow_of(look: Look, again: int = 0) -> Flow:
    """An installation in a look. again: another one of the same installer."""
    return FlowTeller(look.tongue, look.seed + 1000 * again, look.naming, look.steps).tell()
