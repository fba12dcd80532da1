"""Keeps pictures in the logbook under their checksum, so that what a run shows as evidence cannot change unnoticed."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

import msgspec

from metrograph.errors import MetrographError
from metrograph.store.local.files import create_bytes, locked
from metrograph.store.local.logbook import Logbook

_BEGINNINGS = {
    b"\x89PNG\r\n\x1a\n": ".png",
    b"\xff\xd8\xff": ".jpg",
    b"GIF8": ".gif",
    b"BM": ".bmp",
    b"P6": ".ppm",
    b"RIFF": ".webp",
}


_LARGEST = 64 << 20  # bytes


class Picture(msgspec.Struct, frozen=True):
    """A picture in the logbook. path: from the logbook's folder. sha256: hexadecimal. taken: seconds since 1970."""

    path: str
    sha256: str
    taken: float


def keep_picture(logbook: Logbook, source: Path) -> Picture:
    """Copies a picture into the logbook, where the same picture stands once.

    Raises MetrographError when it is no picture or cannot be read, NotWritableError when the disk refuses.
    """
    try:
        # Read once: a program may still be writing it, and what is kept has to be what was hashed.
        data, taken = _read(source), source.stat().st_mtime
    except OSError as error:
        raise MetrographError(f"{source} cannot be read: {error.strerror}") from error
    digest = hashlib.sha256(data).hexdigest()
    name = f"{digest}{_ending(data[:16], source)}"
    with locked(logbook.runs):
        create_bytes(logbook.path / "shots" / name, data)
    return Picture(f"shots/{name}", digest, taken)


def _read(source: Path) -> bytes:
    if source.exists() and not source.is_file():
        raise MetrographError(f"{source} is no picture: it is no ordinary file")
    with source.open("rb") as file:
        data = file.read(_LARGEST + 1)
    if len(data) > _LARGEST:
        raise MetrographError(f"{source} is larger than {_LARGEST >> 20} MiB; pictures of screens are not")
    return data


def newest_picture(folder: Path, since: float) -> Path:
    """The newest picture in a folder that was changed after a moment (seconds since 1970).

    Raises MetrographError when there is none.
    """
    try:
        files = [Path(item.path) for item in os.scandir(folder) if item.is_file() and item.stat().st_mtime > since]
    except OSError as error:
        raise MetrographError(f"{folder} cannot be read: {error.strerror}") from error
    for path in sorted(files, key=lambda path: path.stat().st_mtime, reverse=True):
        with path.open("rb") as file:
            if _known(file.read(16)):
                return path
    raise MetrographError(f"{folder} has no picture that is newer than the last one")


def _ending(beginning: bytes, source: Path) -> str:
    ending = _known(beginning)
    if ending is None:
        kinds = ", ".join(sorted({known[1:].upper() for known in _BEGINNINGS.values()}))
        raise MetrographError(f"{source} is no picture that is known; expected: {kinds}")
    return ending


def _known(beginning: bytes) -> str | None:
    """The ending for a file that begins so, whatever its name says; None when it is no picture."""
    return next((ending for start, ending in _BEGINNINGS.items() if beginning.startswith(start)), None)
