"""Lays the words of a page out where they stood on it, for terminals that show no pictures: a mosaic says nothing."""

from __future__ import annotations

from collections.abc import Sequence

from rich.text import Text

from metrograph.show.safe import visible
from metrograph.watch.drafts.review import PlacedWords


def laid_out(words: Sequence[PlacedWords], columns: int, rows: int) -> Text:
    """The words of a page on so many columns and rows; one that another lies on goes a row further down, if it can."""
    grid = [[" "] * columns for _ in range(rows)]
    for text in words:
        said = f"[{visible(text.text)}]" if text.button else visible(text.text)
        column = min(max(round(text.across * columns), 0), max(columns - len(said), 0))
        wanted = min(max(round(text.down * (rows - 1)), 0), rows - 1)
        row = next((row for row in range(wanted, rows) if _is_free(grid[row], column, len(said))), None)
        if row is not None:
            for place, sign in enumerate(said[: columns - column]):
                grid[row][column + place] = sign
    return Text("\n".join("".join(row).rstrip() for row in grid), no_wrap=True)


def _is_free(row: list[str], column: int, length: int) -> bool:
    """Whether nothing stands at a place, nor right beside it."""
    return all(sign == " " for sign in row[max(column - 1, 0) : column + length + 1])
