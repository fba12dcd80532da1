"""The paper of a figure: its width, its colours, light or dark, and what stands above it."""

from __future__ import annotations

import msgspec

NARROW, WIDE = 600, 1280  # pixels: a column of an article, and a screen
PHONE = 420  # pixels
_COLUMN = 760  # pixels up to which a sheet is laid out as a column


class Colours(msgspec.Struct, frozen=True):
    """The colours of a sheet. waiting: how much of the paper is mixed into a hue for time that is waited."""

    paper: str
    ink: str
    soft: str
    faint: str
    band: str
    better: str
    worse: str
    waiting: float
    lifted: bool = False


LIGHT = Colours("#ffffff", "#1c1e26", "#5f6470", "#e3e5e9", "#f3f2f8", "#22743c", "#b0391a", 0.62)
DARK = Colours("#16181d", "#eceef2", "#a3abb7", "#32363f", "#23262e", "#6fcf8f", "#ff9a70", 0.60, lifted=True)


class Paper(msgspec.Struct, frozen=True):
    """The paper of a figure, and what stands above it.

    title: what is compared; answer: sentences that say what is to be seen, and then one of how it was measured.
    width: pixels; dark: whether it is light on dark.
    bare: whether title and answer stand elsewhere already, as on the page.
    """

    title: str
    answer: tuple[str, ...] = ()
    caption: str = ""
    width: int = WIDE
    dark: bool = False
    bare: bool = False

    @property
    def colours(self) -> Colours:
        """The colours of the paper."""
        return DARK if self.dark else LIGHT

    @property
    def margin(self) -> float:
        """Pixels that stay free at its sides."""
        return 28.0 if self.width > _COLUMN else 20.0

    @property
    def narrow(self) -> bool:
        """Whether it is as narrow as a column of an article."""
        return self.width <= _COLUMN
