"""One colour per phase, the same wherever it is drawn; they differ in lightness too, for grey print."""

from __future__ import annotations

from collections.abc import Sequence

from rich.color import Color, blend_rgb

PHASE_COLOURS = {
    "boot": "#6b35b7",
    "live": "#77685e",
    "questions": "#6875be",
    "copy": "#e4a730",
    "restart": "#903f87",
    "setup": "#4db3d8",
    "desktop": "#3da35f",
    "update": "#c4411c",
    "tour": "#dec988",
}
"""Found by search: as far apart as nine hues can be for eyes of every kind, and as grey; a test holds them to it."""

OWN_COLOURS = ("#a39a5b", "#5b8f8a", "#b0766a", "#7f7fae")
"""For phases with names of a reviewer's own, in the order they are met."""

_STANDS_OFF = 3.0  # WCAG 2, success criterion 1.4.11: parts of graphics

LINES = ("#2457b3", "#b35f1c", "#2e7d5b", "#7d3f9e", "#8a6d1d", "#5d6470")
"""For lines of releases, each told apart by its marks too."""

BETTER, WORSE, CARE = "#3c9a5f", "#d0622f", "#d9a62e"


def colours(phases: Sequence[str]) -> dict[str, str]:
    """The colour of each of these phases."""
    others = [phase for phase in phases if phase not in PHASE_COLOURS]
    return {phase: PHASE_COLOURS.get(phase) or OWN_COLOURS[others.index(phase) % len(OWN_COLOURS)] for phase in phases}


def pale(colour: str, paper: str = "#ffffff", share: float = 0.62) -> str:
    """A hue mixed with the paper it stands on, for waiting.

    share: of the paper, 0 to 1.
    """
    return blend_rgb(Color.parse(colour).get_truecolor(), Color.parse(paper).get_truecolor(), share).hex


def dark(colour: str) -> str:
    """A colour made dark enough to read as small text on white."""
    return pale(colour, "#000000", 0.35)


def lifted(colour: str, paper: str) -> str:
    """A hue made lighter until it stands off from dark paper as text has to: three to one."""
    steps = (pale(colour, "#ffffff", share / 20) for share in range(20))
    return next((hue for hue in steps if contrast(hue, paper) >= _STANDS_OFF), "#ffffff")


def contrast(one: str, other: str) -> float:
    """How far two colours stand off, from 1 to 21 (WCAG 2, contrast ratio)."""
    light, dim = sorted((_luminance(one), _luminance(other)), reverse=True)
    return (light + 0.05) / (dim + 0.05)


def _luminance(colour: str) -> float:
    red, green, blue = (
        share / 12.92 if share <= 0.04045 else ((share + 0.055) / 1.055) ** 2.4
        for share in (int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5))
    )
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue
