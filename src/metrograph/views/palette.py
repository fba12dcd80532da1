"""One colour per phase, the same wherever it is drawn; they differ in lightness too, for grey print."""

from __future__ import annotations

from collections.abc import Sequence

PHASE_COLOURS = {
    "boot": "#6f7b8a",
    "live": "#8d6cc7",
    "questions": "#2878bd",
    "copy": "#e3a72f",
    "restart": "#9aa5b1",
    "setup": "#4fb3d9",
    "desktop": "#3c9a5f",
    "update": "#c8552b",
    "tour": "#d98fb8",
}
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
