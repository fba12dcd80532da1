"""Serial lines and pseudo terminals as they speak: bytes as output with its times. Nothing is ever written to them."""

from __future__ import annotations

import codecs
import os
import select
import socket
import stat
import time
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

from metrograph.errors import MetrographError
from metrograph.sources.watch.inputs.terminal.recordings import Output

_AT_ONCE = 65536  # bytes
_POLL = 0.3  # seconds


def watch_line(path: Path) -> Iterator[Output]:
    """Output of a device, a pipe or a socket, for as long as somebody asks; an empty one whenever nothing was said.

    Raises MetrographError when it cannot be opened.
    """
    handle = _open(path)
    decoder = codecs.getincrementaldecoder("utf-8")("replace")
    begun = time.monotonic()
    try:
        while True:
            ready, _, _ = select.select([handle], [], [], _POLL)
            at = round((time.monotonic() - begun) * 1000)
            data = _read(handle) if ready else b""
            if data is None:
                return
            yield Output(at, decoder.decode(data))
    finally:
        os.close(handle)


def _open(path: Path) -> int:
    try:
        if stat.S_ISSOCK(path.stat().st_mode):
            link = socket.socket(socket.AF_UNIX)
            link.connect(str(path))
            return link.detach()
        # Read only, and never as the terminal that this process belongs to.
        return os.open(path, os.O_RDONLY | os.O_NOCTTY | os.O_NONBLOCK | os.O_CLOEXEC)
    except OSError as error:
        raise MetrographError(f"{path} cannot be watched: {error.strerror}") from error


def _read(handle: int) -> bytes | None:
    """What has come; None when the other side is gone."""
    with suppress(BlockingIOError):
        try:
            return os.read(handle, _AT_ONCE) or None
        except OSError:
            return None
    return b""
