"""The looks of confirmed screens, in ``looks.jsonl`` of a logbook: a line each, added and never changed."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from metrograph.store.local.files import append, create, locked, read_own
from metrograph.store.local.logbook import Logbook

_NAME = "looks.jsonl"


def look_lines(book: Logbook) -> list[bytes]:
    """All lines; none where nothing was confirmed yet."""
    path = _path(book)
    return read_own(path, "looks").splitlines() if path.exists() else []


def add_look_lines(book: Logbook, lines: Iterable[bytes]) -> None:
    """Adds those that are new."""
    known = set(look_lines(book))
    new = "".join(f"{line.decode()}\n" for line in dict.fromkeys(lines) if line not in known)
    if new:
        with locked(book.runs):
            create(_path(book), "")
            append(_path(book), new)


def _path(book: Logbook) -> Path:
    return book.path / _NAME
