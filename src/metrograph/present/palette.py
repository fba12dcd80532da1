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
