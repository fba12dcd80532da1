"""What every toolkit is asked for: the sheets of a look, each as a picture in a folder."""

from __future__ import annotations

from pathlib import Path

import msgspec

from bench.looks.flow import Sheet
from bench.looks.look import Look

_MARGIN, _BAR, _PANEL = 60, 30, 28  # pixels: around a window, of its title bar, of the desktop's panel


class Order(msgspec.Struct, frozen=True):
    """The sheets that are to be drawn in a look."""

    look: Look
    sheets: list[Sheet]


def order_of(file: Path) -> Order:
    """An order that lies in a file."""
    return msgspec.json.decode(file.read_bytes(), type=Order)


def inner_size(look: Look) -> tuple[int, int]:
    """Width and height in pixels of what the toolkit draws."""
    width, height = look.size
    if not look.window:
        return width, height
    return width - 2 * _MARGIN, height - 2 * _MARGIN - _PANEL


def title_bar() -> int:
    """Pixels of a window's title bar, above what the toolkit draws."""
    return _BAR


def place_of_window(look: Look) -> tuple[int, int]:
    """Left and top in pixels of what the toolkit draws."""
    return (_MARGIN, _MARGIN + _PANEL) if look.window else (0, 0)
