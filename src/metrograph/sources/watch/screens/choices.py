"""What seems to be picked on a page: the marked row of a list, and marks that are written in text."""

from __future__ import annotations

import re
from collections.abc import Sequence

import msgspec

from metrograph.sources.watch.screens.page import Page, Text, in_column, row_apart
from metrograph.sources.watch.screens.surround import Surround

_ROWS = 3  # lines of a column that make it a list
_ANOTHER = 12  # of 255: by how much the ground of a marked row differs from that of the others
_MARK = re.compile(r"[(\[<]\s*[*xX•]\s*[)\]>]\s*(\S.*)")
_ROW_SURE, _MARK_SURE = 0.65, 0.8  # a row may only have the focus; a mark that is written is one


class Picked(msgspec.Struct, frozen=True):
    """An answer as it stands on a screen. was: what was picked when it came up, None where the same; sure: 0 to 1."""

    value: str
    was: str | None
    sure: float


def picked_on(first: Page, last: Page, around: Surround) -> tuple[Picked, ...]:
    """What is picked on a screen in the end, and what was pre-set: it came up so."""
    before, after = _picked(around.own(first)), _picked(around.own(last))
    if not after:
        return ()
    preset = [value for value, _ in before]
    if len(preset) != len(after):
        return tuple(Picked(value, None, sure) for value, sure in after)
    return tuple(
        Picked(value, was if was != value else None, sure) for (value, sure), was in zip(after, preset, strict=True)
    )


def _picked(lines: Sequence[Text]) -> list[tuple[str, float]]:
    written = [(match[1], _MARK_SURE) for line in lines if (match := _MARK.match(line.text))]
    if written:
        return written
    marked: list[tuple[str, float]] = []
    seen: set[Text] = set()
    for line in lines:
        column = [other for other in in_column(line, lines) if not other.button]
        if line in seen or len(column) < _ROWS:
            continue
        seen |= set(column)
        row = row_apart(column, _ANOTHER)
        if row is not None and len(row.text) > 1:
            marked.append((row.text, _ROW_SURE))
    return marked
