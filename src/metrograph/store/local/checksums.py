"""Knows files by their checksums: pictures that are kept, and images that were published."""

from __future__ import annotations

import hashlib
import os
import re
from collections.abc import Callable
from pathlib import Path

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.store.local.files import create_bytes, locked, read_bytes
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


METHODS = {"sha256": 64, "sha512": 128}
"""The ways to sum up a file, with the number of their hexadecimal digits."""

_CHUNK = 1 << 20  # bytes
_PLAIN = r"(?P<digits>[0-9a-fA-F]{64}|[0-9a-fA-F]{128})(?: [ *](?P<name>.+))?"
_TAGGED = r"SHA(?:256|512) \((?P<name>.+)\) = (?P<digits>[0-9a-fA-F]+)"


class Image(msgspec.Struct, frozen=True):
    """An image file. size: bytes; checksums: hexadecimal digits by method."""

    size: int
    checksums: dict[str, str]


def read_image(path: Path, methods: set[str], progress: Callable[[int, int], None] = lambda _done, _all: None) -> Image:
    """Size and checksums of a file, read once with little memory.

    methods: keys of ``METHODS``.
    progress: told how many bytes of how many are done.

    Raises MetrographError when the file cannot be read.
    """
    sums = {method: hashlib.new(method) for method in sorted(methods)}
    done, buffer = 0, bytearray(_CHUNK)
    view = memoryview(buffer)
    try:
        whole = path.stat().st_size
        with path.open("rb", buffering=0) as file:
            while count := file.readinto(buffer):
                for checksum in sums.values():
                    checksum.update(view[:count])
                done += count
                progress(done, whole)
    except OSError as error:
        raise MetrographError(f"{path} cannot be read: {error.strerror}") from error
    return Image(done, {method: checksum.hexdigest() for method, checksum in sums.items()})


def published_checksum(path: Path, image: str) -> str:
    """The checksum that a file of checksums has for an image, as a card writes it: ``sha256:...``.

    Both usual layouts are read: ``DIGITS  NAME`` and ``SHA256 (NAME) = DIGITS``; a file with digits alone, too.

    Raises MetrographError when none stands there.
    """
    lines = read_bytes(path, "file of checksums").decode("utf-8", "replace").splitlines()
    matches = [
        match for line in lines if (match := re.fullmatch(_PLAIN, line.strip()) or re.fullmatch(_TAGGED, line.strip()))
    ]
    named = [match["digits"] for match in matches if match["name"] in {image, f"./{image}"}]
    alone = [match["digits"] for match in matches] if len(matches) == 1 and matches[0]["name"] is None else []
    for digits in named or alone:
        method = next((name for name, length in METHODS.items() if length == len(digits)), None)
        if method is not None:
            return f"{method}:{digits.lower()}"
    raise MetrographError(f"{path} has no SHA-256 or SHA-512 checksum for {image}; expected: DIGITS  {image}")
