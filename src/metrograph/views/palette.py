"""One colour per phase, the same wherever it is drawn; they differ in lightness too, for grey print."""

from __future__ import annotations

from collections.abc import Sequence

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
    own = [phase for phase in phases if phase not in PHASE_COLOURS]
    return {phase: PHASE_COLOURS.get(phase) or OWN_COLOURS[own.index(phase) % len(OWN_COLOURS)] for phase in phases}


def pale(colour: str, paper: str = "#ffffff", share: float = 0.62) -> str:
    """The same hue mixed with the paper it stands on, for waiting.

    share: of the paper, 0 to 1.
    """
    mixed = (round(_part(colour, i) * (1 - share) + _part(paper, i) * share) for i in range(3))
    return "#" + "".join(f"{part:02x}" for part in mixed)


def _part(colour: str, index: int) -> int:
    return int(colour[1 + 2 * index : 3 + 2 * index], 16)
