"""Watches a display server: connects, asks for what has changed, yields frames, tries again."""

from __future__ import annotations

import socket
import struct
import time
from collections.abc import Callable, Generator
from pathlib import Path
from urllib.parse import urlsplit

from metrograph.core.errors import MetrographError
from metrograph.watch.inputs.display_greeting import greet
from metrograph.watch.inputs.display_pixels import Canvas
from metrograph.watch.inputs.display_wire import DisplayError, DisplayLostError, Wire
from metrograph.watch.inputs.frames import LOOKS, Frame, grey_of

_PORT = 5900  # display 0 of the remote framebuffer protocol (RFC 6143)
_PICTURE, _PALETTE, _BELL, _CLIPBOARD = 0, 1, 2, 3  # messages of a display (RFC 6143, 7.6)
_RECTANGLES = 65535  # a server that sends more than these without end is stopped by the time of a message
_CLIP = 1 << 20  # bytes of a clipboard that are read past; nothing of it is kept
_CONNECTS = 10  # seconds for a display to answer
_AGAIN = (1, 2, 5, 10)  # seconds until a dropped connection is tried again; the last one stays


def display_address(text: str) -> tuple[str, int]:
    """Host and port of ``rfb://HOST:PORT``; raises MetrographError for anything else."""
    parts = urlsplit(text)
    try:
        port = parts.port or _PORT
    except ValueError as error:
        raise MetrographError(f"{text}: the port is no number from 1 to 65535; expected: rfb://HOST:PORT") from error
    if parts.scheme != "rfb" or not parts.hostname:
        raise MetrographError(f"{text} is no display; expected: rfb://HOST:PORT")
    if parts.password or parts.username:
        raise MetrographError("a password does not belong in an address; METROGRAPH_DISPLAY_PASSWORD holds it")
    return parts.hostname, port


class Display:
    """One connection to a display. It sends how it wants the picture, and that it wants it; nothing else."""

    def __init__(self, host: str | Path, port: int = 0, password: str | None = None) -> None:
        """Raises DisplayLostError when nobody answers, DisplayError when what answers is no display.

        host: the path of a socket on this computer, where it is no name.
        """
        try:
            self._link = _link_to(host, port)
        except OSError as error:
            where = host if isinstance(host, Path) else f"{host}:{port}"
            raise DisplayLostError(f"no display answers at {where}: {error}") from error
        try:
            self._wire = Wire(self._link)
            self._canvas = Canvas(*greet(self._wire, password))
            self._ask(whole=True)
        except DisplayError:
            self._link.close()
            raise

    def close(self) -> None:
        """Ends the connection."""
        self._link.close()

    def look(self, seconds: float) -> bool:
        """Takes in what comes within so many seconds; whether the picture has changed."""
        changed, until = False, time.monotonic() + seconds
        while (left := until - time.monotonic()) > 0:
            if self._wire.waiting(left) and self._message():
                changed = True
                # Asked again at once, a busy screen would send as fast as it can; three times a second is enough.
                time.sleep(max(until - time.monotonic(), 0))
                self._ask(whole=False)
                break
        return changed

    def frame(self, at: int, gap: bool = False) -> Frame:
        """The picture as it stands."""
        picture = self._canvas.picture.copy()
        return Frame(at, grey_of(picture), lambda: picture, gap)

    def _ask(self, whole: bool) -> None:
        height, width = self._canvas.picture.shape[:2]
        self._wire.send(struct.pack(">BBHHHH", 3, 0 if whole else 1, 0, 0, width, height))

    def _message(self) -> bool:
        """Reads one message; whether it brought a picture."""
        self._wire.begin_message()
        (kind,) = self._wire.numbers("B")
        if kind == _PICTURE:
            for _ in range(self._wire.numbers("xH")[0]):
                self._canvas.take(self._wire)
            return True
        if kind == _PALETTE:
            self._wire.exactly(self._wire.numbers("x2xH")[0] * 6)
        elif kind == _CLIPBOARD:
            (length,) = self._wire.numbers("3xI")
            if length > _CLIP:
                raise DisplayError(f"the display sends a clipboard of {length} bytes; expected: {_CLIP} at most")
            self._wire.exactly(length)
        elif kind != _BELL:
            raise DisplayError(f"the display sends a message of kind {kind}; expected: 0 to 3")
        return False


def _link_to(host: str | Path, port: int) -> socket.socket:
    if not isinstance(host, Path):
        return socket.create_connection((host, port), timeout=_CONNECTS)
    link = socket.socket(socket.AF_UNIX)
    link.settimeout(_CONNECTS)
    try:
        link.connect(str(host))
    except OSError:
        link.close()
        raise
    return link


def watch_display(
    connect: Callable[[], Display],
    told: Callable[[str], None] = lambda _: None,
    clock: Callable[[], float] = time.monotonic,
    begun: float | None = None,
) -> Generator[Frame]:
    """Frames of a display for as long as somebody asks; after a drop it is tried again, and the next has a gap.

    told: is called with what a person should know: that the connection dropped, and that it is back.
    begun: when its time begins, by the clock; where it is not said, now.
    """
    begun = clock() if begun is None else begun
    display = connect()
    gap, frame = False, None
    try:
        while True:
            try:
                changed = display.look(1 / LOOKS)
            except DisplayLostError as lost:
                display.close()
                told(str(lost))
                display, gap = _connect_again(connect, told), True
                continue
            at = round((clock() - begun) * 1000)
            # At rest, the frame before is given again: nothing is computed twice.
            again = frame is not None and not (changed or gap)
            frame = Frame(at, frame.grey, frame.colour) if again and frame else display.frame(at, gap)
            gap = False
            yield frame
    finally:
        display.close()


def _connect_again(connect: Callable[[], Display], told: Callable[[str], None]) -> Display:
    tries = 0
    while True:
        time.sleep(_AGAIN[min(tries, len(_AGAIN) - 1)])
        tries += 1
        try:
            display = connect()
        except DisplayLostError:
            continue
        told("the display is back")
        return display
