"""Reads an image once, from end to end, to tell whether it is the one that was published."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Callable
from pathlib import Path

import msgspec

from metrograph.errors import MetrographError
from metrograph.store.local.files import read_bytes

METHODS = {"sha256": 64, "sha512": 128}
"""The ways to sum up a file, with the number of their hexadecimal digits."""

_CHUNK = 1 << 20  # bytes
_PLAIN = r"(?P<digits>[0-9a-fA-F]{64}|[0-9a-fA-F]{128})(?: [ *](?P<name>.+))?"
_TAGGED = r"SHA(?:256|512) \((?P<name>.+)\) = (?P<digits>[0-9a-fA-F]+)"


class Image(msgspec.Struct, frozen=True):
    """What a file is. size: bytes; checksums: hexadecimal digits by method."""

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
