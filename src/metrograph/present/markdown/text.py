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
    return _FIRST.sub(lambda match: f"{match[0]}\\" if match[0].isdigit() else f"\\{match[0]}", escaped)


def table(headings: Sequence[str], rows: Sequence[Sequence[str]]) -> str:
    """A table; its cells are plain text."""
    lines = [list(map(plain, headings)), ["---"] * len(headings), *([plain(cell) for cell in row] for row in rows)]
    return "\n".join("| " + " | ".join(cell or " " for cell in line) + " |" for line in lines)


def bullets(lines: Sequence[str]) -> str:
    """Sentences, a line each."""
    return "\n".join(f"- {plain(line)}" for line in lines)
