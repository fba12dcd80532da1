"""Makes the small picture of a screen that may be kept: everything that a person typed or picked is blanked before."""

from __future__ import annotations

import io
import re

import numpy as np

from metrograph.log.lexicon import Lexicon
from metrograph.watch.inputs.frames import Colour
from metrograph.watch.pages.page import Page, Text

_WIDTH = 640  # pixels: a screen can be told by it, and its small print cannot be read
_QUALITY = 55  # of 100: tens of kilobytes
_DOTS = re.compile(r"[•●*.·∙°oO\s]{3,}")
_BELOW = 2.6  # heights of a label: a field stands beside or below it
_BESIDE = 0.35  # of the width: how far a field reaches to the right of its label
_PAD = 4  # pixels
PRIVATE_KINDS = frozenset({"account", "accounts", "admin", "host", "remote", "encryption", "network"})
"""What such a screen shows is somebody's; without a field that could be blanked, no picture of it is kept."""

Box = tuple[int, int, int, int]
"""Left, top, right, bottom in pixels."""


def private_places(page: Page, lexicon: Lexicon) -> list[Box]:
    """Where a page shows what was typed: fields, rows of dots, and what stands beside or below a personal label."""
    places: list[Box] = []
    for text in page.texts:
        if lexicon.is_personal(text.text) and not text.button:
            places.append(_beside(text, page))
            places.append(_below(text, page))
        elif _DOTS.fullmatch(text.text) or text.field:
            places.append(_wide(text, page))
    return places


def _beside(label: Text, page: Page) -> Box:
    return (label.right + _PAD, label.top - _PAD, round(label.right + _BESIDE * page.size[0]), label.bottom + _PAD)


def _below(label: Text, page: Page) -> Box:
    lowest = round(label.bottom + _BELOW * label.height)
    # The next label stays readable; what stands between is not.
    others = [text.top for text in page.texts if label.bottom < text.top < lowest and text.text.endswith((":", "?"))]
    return (label.left - _PAD, label.bottom + _PAD, round(label.left + _BESIDE * page.size[0]), min([lowest, *others]))


def _wide(text: Text, page: Page) -> Box:
    return (
        text.left - _PAD,
        text.top - _PAD,
        round(max(text.right, text.left + _BESIDE * page.size[0] / 2)),
        text.bottom + _PAD,
    )


def picture_of(colour: Colour, places: list[Box]) -> bytes:
    """A small picture (WebP) of a page without what stands in some places."""
    from PIL import Image

    bare = colour.copy()
    height, width = bare.shape[:2]
    for box in places:
        left, top, right, bottom = np.clip(box, 0, (width, height, width, height))
        if left < right and top < bottom:
            bare[top:bottom, left:right] = np.median(bare[top:bottom, left:right].reshape(-1, 3), axis=0)
    image = Image.fromarray(bare)
    image.thumbnail((_WIDTH, _WIDTH))
    out = io.BytesIO()
    image.save(out, "WEBP", quality=_QUALITY)
    return out.getvalue()
