"""Where the output of terminals comes from, with its times: recordings in open formats, lines as they speak."""

from __future__ import annotations

import codecs
import os
import re
import select
import socket
import stat
import time
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import msgspec

from metrograph.core.errors import UNDECODABLE, MetrographError

_LONGEST = 8 << 20  # bytes of one line; a recording of a gigabyte has many lines, and none of this length
_MOST_COLUMNS, _MOST_ROWS = 500, 200  # of a terminal: no window is larger, and whoever says so wants memory
_LATEST = 1e7  # seconds, about four months
_RESIZED = re.compile(r"([0-9]{1,6})x([0-9]{1,6})")


class Output(msgspec.Struct, frozen=True):
    """A piece of output that a terminal was sent.

    at: milliseconds; text: with its escape sequences; size: columns and rows where they change.
    """

    at: int
    text: str
    size: tuple[int, int] | None = None


def read_recording(path: Path, timing: Path | None = None) -> Iterator[Output]:
    """The output of a recording, line by line, however large it is.

    Raises MetrographError, with file and line, for what is none.
    """
    if timing is not None:
        return _script(path, timing)
    return _cast(path)


def _cast(path: Path) -> Iterator[Output]:
    with path.open("rb") as file:
        header = _json(path, 1, _line(path, 1, file.readline(_LONGEST + 1)))
        version, size = _header(path, header)
        yield Output(0, "", size)
        now = 0.0
        for number, raw in enumerate(iter(lambda: file.readline(_LONGEST + 1), b""), 2):
            line = _line(path, number, raw)
            if not line or line.startswith(b"#"):
                continue
            event = _json(path, number, line)
            match event:
                case [int() | float() as told, str() as kind, str() as text, *_]:
                    # Version 3 says how long after the event before, version 2 how long after the beginning.
                    now = _later(path, number, now, told, since=now if version == 3 else 0.0)
                case _:
                    raise MetrographError(f'{path.name}:{number}: this is no event; expected: [seconds, "o", text]')
            if kind == "o":
                yield Output(round(now * 1000), text)
            elif kind == "r" and (resized := _RESIZED.fullmatch(text)) is not None:
                yield Output(round(now * 1000), "", _size(int(resized[1]), int(resized[2])))


def _later(path: Path, number: int, now: float, seconds: float, since: float) -> float:
    """So many seconds after another moment, and never before this one."""
    if not abs(seconds) <= _LATEST - since:  # which is also no number
        raise MetrographError(f"{path.name}:{number}: this time cannot be; expected: {_LATEST:.0f} s in all at most")
    return max(since + seconds, now)


def _line(path: Path, number: int, raw: bytes) -> bytes:
    if len(raw) > _LONGEST:
        raise MetrographError(f"{path.name}:{number}: the line is longer than {_LONGEST >> 20} MiB")
    return raw.strip()


def _json(path: Path, number: int, line: bytes) -> object:
    try:
        return msgspec.json.decode(line)
    except UNDECODABLE as error:
        raise MetrographError(f"{path.name}:{number}: this is no JSON: {error}") from error


def _header(path: Path, header: object) -> tuple[int, tuple[int, int]]:
    if not isinstance(header, dict) or header.get("version") not in (2, 3):
        raise MetrographError(f"{path.name}:1: this is no recording that is known; expected: asciicast version 2 or 3")
    terminal = header.get("term", {}) if header["version"] == 3 else header
    terminal = terminal if isinstance(terminal, dict) else {}
    columns, rows = (terminal.get(key) for key in (("cols", "rows") if header["version"] == 3 else ("width", "height")))
    return header["version"], _size(columns, rows)


def _size(columns: object, rows: object) -> tuple[int, int]:
    """As it is said, within what a terminal has; the usual one where nothing is."""
    return _side(columns, 80, _MOST_COLUMNS), _side(rows, 24, _MOST_ROWS)


def _side(value: object, usual: int, most: int) -> int:
    return min(value, most) if isinstance(value, int) and value > 0 else usual


def _script(path: Path, timing: Path) -> Iterator[Output]:
    """What ``script`` wrote, taken apart by the times and counts of bytes that lie beside it."""
    decoder = codecs.getincrementaldecoder("utf-8")("replace")
    now = 0.0
    with path.open("rb") as file, timing.open("r", encoding="utf-8", errors="replace") as times:
        start = file.readline(4096)
        if not start.startswith(b"Script started"):
            file.seek(0)
        for number, line in enumerate(iter(lambda: times.readline(_LONGEST), ""), 1):
            parts = line.split()
            if parts and parts[0] in {"I", "S", "H"}:
                continue  # what was typed, signals, and what is said about it
            if parts and parts[0] == "O":
                parts = parts[1:]
            try:
                wait, count = float(parts[0]), int(parts[1])
            except (ValueError, IndexError):
                raise MetrographError(f"{timing.name}:{number}: expected: seconds and a count of bytes") from None
            if not 0 <= count <= _LONGEST or not wait >= 0:
                raise MetrographError(f"{timing.name}:{number}: {count} bytes after {wait:g} s cannot be")
            now = _later(timing, number, now, wait, since=now)
            yield Output(round(now * 1000), decoder.decode(file.read(count)))


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
