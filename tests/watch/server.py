"""A display server for tests: it says what it was told to say, and keeps every byte that it was sent."""

from __future__ import annotations

import socket
import struct
import threading
import time
import zlib

import numpy as np

from metrograph.watch.inputs.frames import Colour

SIZE = (64, 48)


def hello(
    version: bytes = b"RFB 003.008\n",
    size: tuple[int, int] = SIZE,
    ways: bytes = b"\x01\x01",
    refusal: bytes = b"\0\0\0\0",
) -> list[bytes]:
    """What a server says until the picture is asked for; None in its place waits for the client."""
    name = b"bench"
    return [version, ways, refusal, struct.pack(">HH16sI", *size, b"\0" * 16, len(name)) + name]


def update(*rectangles: bytes) -> bytes:
    """A message that brings rectangles."""
    return struct.pack(">BxH", 0, len(rectangles)) + b"".join(rectangles)


def head(left: int, top: int, width: int, height: int, encoding: int) -> bytes:
    """The head of a rectangle."""
    return struct.pack(">HHHHi", left, top, width, height, encoding)


def pixels(colours: Colour) -> bytes:
    """Pixels as the client asks for them: blue, green, red, nothing."""
    return np.concatenate([colours[..., ::-1], np.zeros((*colours.shape[:2], 1), np.uint8)], axis=-1).tobytes()


def raw(left: int, top: int, colours: Colour) -> bytes:
    """A rectangle as it is."""
    return head(left, top, colours.shape[1], colours.shape[0], 0) + pixels(colours)


class Packed:
    """Packs rectangles in one stream, as the protocol wants it."""

    def __init__(self) -> None:
        self._packer = zlib.compressobj()

    def rectangle(self, left: int, top: int, colours: Colour) -> bytes:
        data = self._packer.compress(pixels(colours)) + self._packer.flush(zlib.Z_SYNC_FLUSH)
        return head(left, top, colours.shape[1], colours.shape[0], 6) + struct.pack(">I", len(data)) + data


class Server:
    """Listens on a port of its own; every connection gets the same bytes, one part after the other."""

    def __init__(self, *parts: bytes, trickle: float = 0.0, connections: int = 1, stay: float = 0.6) -> None:
        self.parts, self.trickle, self.stay = parts, trickle, stay
        self.sent = b""
        self._socket = socket.create_server(("127.0.0.1", 0))
        self.port = self._socket.getsockname()[1]
        self._thread = threading.Thread(target=self._serve, args=(connections,), daemon=True)
        self._thread.start()

    def close(self) -> None:
        self._socket.close()
        self._thread.join(5)

    def _serve(self, connections: int) -> None:
        for _ in range(connections):
            try:
                link, _ = self._socket.accept()
            except OSError:
                return
            with link:
                self._talk(link)

    def _talk(self, link: socket.socket) -> None:
        try:
            for part in self.parts:
                for piece in [part] if not self.trickle else [part[place : place + 1] for place in range(len(part))]:
                    link.sendall(piece)
                    time.sleep(self.trickle)
            link.settimeout(0.1)
            until = time.monotonic() + self.stay
            while time.monotonic() < until:
                try:
                    data = link.recv(4096)
                except TimeoutError:
                    continue
                if not data:
                    return
                self.sent += data
        except OSError:
            return
