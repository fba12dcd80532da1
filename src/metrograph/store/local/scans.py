"""Where in a logbook the pages of a recording are kept while it is gone through, to go on where that was stopped."""

from __future__ import annotations

import hashlib
import shutil
from pathlib import Path

from metrograph.store.local.logbook import Logbook


def scan_key(source: Path) -> str:
    """A name for this very recording: another one of the same name has another."""
    stat = source.stat()
    return hashlib.sha256(f"{source.resolve()}\0{stat.st_size}\0{stat.st_mtime_ns}".encode()).hexdigest()[:16]


def scan_folder(book: Logbook, source: Path, anew: bool = False) -> Path:
    """The folder of a recording; emptied where it is to be gone through anew."""
    folder = folder_of(book, scan_key(source))
    if anew:
        shutil.rmtree(folder, ignore_errors=True)
    return folder


def folder_of(book: Logbook, key: str) -> Path:
    """The folder of a recording by its key."""
    return book.path / ".cache" / f"scan-{key}"
