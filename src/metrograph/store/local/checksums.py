"""Knows files by their checksums: pictures that are kept, and images that were published."""

from __future__ import annotations

import hashlib
import os
import re
import stat
from collections.abc import Callable
from pathlib import Path

import msgspec

from metrograph.core.bare_pictures import KINDS, bare, looks_like_picture
from metrograph.core.errors import MetrographError
from metrograph.store.local.files import create_bytes, locked, read_bytes
from metrograph.store.local.logbook import Logbook


class Picture(msgspec.Struct, frozen=True):
    """A picture in the logbook. path: from the logbook's folder. sha256: hexadecimal. taken: seconds since 1970."""

    path: str
    sha256: str
    taken: float


def keep_picture(logbook: Logbook, source: Path) -> Picture:
    """Copies what is seen of a picture into the logbook, where the same picture stands once.

    Raises MetrographError when it is no picture or cannot be read, NotWritableError when the disk refuses.
    """
    # Read once: a program may still be writing it.
    data = read_bytes(source, "picture")
    if not looks_like_picture(data):
        raise MetrographError(f"{source} is no picture that is known; expected: {', '.join(KINDS)}")
    try:
        kept, ending = bare(data)
    except ValueError as error:
        raise MetrographError(f"{source} cannot be kept as a picture: {error}") from error
    digest = hashlib.sha256(kept).hexdigest()
    with locked(logbook.runs):
        create_bytes(logbook.path / "shots" / f"{digest}{ending}", kept)
    return Picture(f"shots/{digest}{ending}", digest, source.stat().st_mtime)


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
            if looks_like_picture(file.read(16)):
                return path
    raise MetrographError(f"{folder} has no picture that is newer than the last one")


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
        found = path.stat()
        if not stat.S_ISREG(found.st_mode) and not stat.S_ISBLK(found.st_mode):  # a stick that was written is one, too
            what = "a folder" if stat.S_ISDIR(found.st_mode) else "no ordinary file"
            raise MetrographError(f"{path} is no image: it is {what}")
        whole = found.st_size
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
