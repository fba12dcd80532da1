"""Markdown in which no text from a log means anything: escaped text, and tables."""

from __future__ import annotations

import re
from collections.abc import Sequence

_SIGNS = re.compile(r"([\\`*_{}\[\]#|~<>&])")
_LINKS = re.compile(r"(?<=:)(?=//)|(?<=www)(?=\.)", re.IGNORECASE)  # addresses that would become links by themselves
_FIRST = re.compile(r"^([-+=]|\d+(?=[.)](?:\s|$)))")  # what would begin a list, or make a heading of the line before


def plain(text: str) -> str:
    """A text in which no sign means anything, on one line."""
    escaped = _LINKS.sub(r"\\", _SIGNS.sub(r"\\\1", " ".join(text.split())))
    return _FIRST.sub(lambda found: f"{found[0]}\\" if found[0].isdigit() else f"\\{found[0]}", escaped)


def table(title: str, headings: Sequence[str], rows: Sequence[Sequence[str]]) -> str:
    """A table under its heading; nothing without rows. Cells are Markdown already."""
    if not rows:
        return ""
    lines = [headings, ["---"] * len(headings), *rows]
    return f"## {title}\n\n" + "\n".join("| " + " | ".join(cell or " " for cell in line) + " |" for line in lines)


def bullets(title: str, lines: Sequence[str], level: int = 2) -> str:
    """Sentences below a heading; nothing without any."""
    return f"{'#' * level} {title}\n\n" + "\n".join(f"- {plain(line)}" for line in lines) if lines else ""
