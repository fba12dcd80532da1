"""Brings pages that were read in several sizes into one: what stands in its place on all is known by its pixels."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Sequence

import msgspec

from metrograph.watch.pages.page import Page, Text

_SHAPE = 0.02  # part by which the proportions of two pictures may differ to be one screen's: sizes are whole pixels


def in_one_size(pages: Sequence[Page]) -> list[Page]:
    """The pages, those of one shape in the size that most have: how large text is drawn is learnt on the way."""
    sizes: defaultdict[int, Counter[tuple[int, int]]] = defaultdict(Counter)
    for page in pages:
        sizes[_shape(page)][page.size] += 1
    return [_sized(page, sizes[_shape(page)].most_common(1)[0][0]) for page in pages]


def _shape(page: Page) -> int:
    width, height = page.size
    return round(width / max(height, 1) / _SHAPE)


def _sized(page: Page, size: tuple[int, int]) -> Page:
    if page.size == size:
        return page
    factor = size[0] / page.size[0]
    left, top, right, bottom = (round(side * factor) for side in page.changed)
    texts = tuple(_text(text, factor) for text in page.texts)
    return msgspec.structs.replace(page, size=size, texts=texts, changed=(left, top, right, bottom))


def _text(text: Text, factor: float) -> Text:
    return msgspec.structs.replace(
        text, left=round(text.left * factor), top=round(text.top * factor), right=round(text.right * factor),
        bottom=round(text.bottom * factor), tall=round(text.tall * factor),
    )  # fmt: skip
