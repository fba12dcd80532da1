"""Frames, which every picture source gives: pictures of the whole screen, each at a moment."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
import numpy as np
from numpy.typing import NDArray

Grey = NDArray[np.uint8]
"""A picture in shades of grey, height x width, 0 black to 255 white."""
Colour = NDArray[np.uint8]
"""A picture in colours, height x width x 3: red, green, blue, each 0 to 255."""

LOOKS = 3
"""How many looks are taken a second. A screen that is answered in a second gets two; more find none."""

_RED, _GREEN, _BLUE = 77, 150, 29  # of 256: the shares of the colours in brightness, as ITU-R BT.601 has them


class Frame(msgspec.Struct, frozen=True):
    """A picture at a moment.

    at: milliseconds since the source began.
    grey: the picture, in shades.
    colour: makes the picture in colours; called for the few that are kept.
    gap: whether the source was away before this frame; missing: for how many milliseconds, None where nobody knows.
    again: whether it is the frame before once more, so that it stands: when the picture changed, it cannot tell.
    """

    at: int
    grey: Grey
    colour: Callable[[], Colour]
    gap: bool = False
    missing: int | None = None
    again: bool = False


def grey_of(colour: Colour) -> Grey:
    """The shades of a picture in colours."""
    wide = colour.astype(np.uint16)
    return ((wide[..., 0] * _RED + wide[..., 1] * _GREEN + wide[..., 2] * _BLUE) >> 8).astype(np.uint8)
