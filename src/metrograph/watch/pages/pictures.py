"""Makes the small picture of a screen that may be kept, without what the gate has held back."""

from __future__ import annotations

import io

import numpy as np

from metrograph.watch.inputs.frames import Colour
from metrograph.watch.pages.page_gate import Blanking

_WIDTH = 640  # pixels: a screen can be told by it, and its small print cannot be read
_QUALITY = 55  # of 100: tens of kilobytes


def picture_of(colour: Colour, blanking: Blanking) -> bytes:
    """A small picture (WebP) of a page without what nobody is to see."""
    from PIL import Image

    bare = colour.copy()
    if blanking.all_but:
        bare[:] = np.median(colour[::4, ::4].reshape(-1, 3), axis=0)
    height, width = bare.shape[:2]
    for box in blanking.boxes:
        left, top, right, bottom = np.clip(box, 0, (width, height, width, height))
        if left < right and top < bottom:
            seen = colour[top:bottom, left:right]
            bare[top:bottom, left:right] = seen if blanking.all_but else np.median(seen.reshape(-1, 3), axis=0)
    image = Image.fromarray(bare)
    image.thumbnail((_WIDTH, _WIDTH))
    out = io.BytesIO()
    image.save(out, "WEBP", quality=_QUALITY)
    return out.getvalue()
