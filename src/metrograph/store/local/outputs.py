"""Writes what a person asked for to where they said: a file, a pipe, a device; never over the logbook's own files."""

from __future__ import annotations

import os
import stat
from pathlib import Path

from metrograph.errors import MetrographError, NotWritableError
from metrograph.store.local.files import replace_bytes

_OWN = {".metro": "a run log", ".toml": "a card, or a logbook's settings"}
"""Endings of what people write by hand, and what is lost when an output takes its place."""


def write_output(path: Path, data: bytes) -> None:
    """Puts an output in its place; one that is no ordinary file is written to, and stays what it is.

    Raises MetrographError when the place is one of a logbook's own files, NotWritableError when it cannot be written.
    """
    check_output(path)
    try:
        mode = path.stat().st_mode
    except OSError:
        mode = stat.S_IFREG
    if stat.S_ISREG(mode):
        replace_bytes(path, data)
        return
    try:
        with path.open("wb", buffering=0) as file:
            while data:
                data = data[file.write(data) or 0 :]
    except OSError as error:
        raise NotWritableError(f"{path} cannot be written: {error.strerror}") from error


def is_stream(path: Path) -> bool:
    """Whether it is a pipe, a device, or a dash for standard output, which no ending says how to write to."""
    return path == Path("-") or (path.exists() and not path.is_file() and not path.is_dir())


def check_output(path: Path) -> None:
    """Raises MetrographError when an output there would take the place of something that people write."""
    for place in (path, path.resolve()):
        if place.suffix.lower() in _OWN:
            raise MetrographError(f"{os.fspath(path)} would be {_OWN[place.suffix.lower()]}, and is not written over")
