"""Understands what a person's viewer says to a machine: where was pressed, that something was typed, never what."""

from __future__ import annotations

import struct
from collections.abc import Generator
from typing import Literal

import msgspec

from metrograph.core.errors import MetrographError

KEYS = {
    0xFF0D: "Enter", 0xFF8D: "Enter", 0xFF09: "Tab", 0xFF1B: "Escape",
    0xFF51: "Left", 0xFF52: "Up", 0xFF53: "Right", 0xFF54: "Down",
}  # fmt: skip
"""Keys that say nothing of what is written, by their symbols (RFC 6143, 7.5.4)."""
_LONGEST = 1 << 24  # bytes of one message: a clipboard may be long
_SETS_FORM, _SETS_ENCODINGS, _ASKS, _KEY, _POINTER, _CUTS = 0, 2, 3, 4, 5, 6  # RFC 6143, 7.5
_FIXED = {_SETS_FORM: 19, _ASKS: 9, 150: 9, 250: 3}
"""Bytes after the kind of messages that are always as long; the last two are extensions that machines offer."""
_SETS_SIZE, _EXTENDED, _EXTENDED_KEY, _SOUND = 251, 255, 0, 1  # extensions


class Act(msgspec.Struct, frozen=True):
    """Something that a person did. place: pixels from left and top; key: its name, empty where it may be a letter."""

    what: Literal["press", "key"]
    place: tuple[int, int] = (0, 0)
    key: str = ""


class ViewerSpeech:
    """Takes a viewer's bytes as they come, in any pieces, and gives them on with what they mean.

    A viewer that wants the display for itself alone is given it with others, and one that wants another size is not.
    """

    def __init__(self) -> None:
        self._bytes = bytearray()
        self._acts: list[Act] = []
        self._buttons = 0
        self._message, self._sent = bytearray(), bytearray()
        self._parser = self._parts()
        self._wanted = next(self._parser)

    def take(self, data: bytes) -> tuple[bytes, list[Act]]:
        """What is to be sent on, and what was done; raises MetrographError for what no viewer says."""
        self._bytes += data
        while len(self._bytes) >= self._wanted:
            part = bytes(self._bytes[: self._wanted])
            del self._bytes[: self._wanted]
            self._message += part
            self._wanted = self._parser.send(part)
        sent, acts = bytes(self._sent), self._acts
        self._sent, self._acts = bytearray(), []
        return sent, acts

    def _send(self, instead: bytes | None = None) -> None:
        """Gives a message on that is whole, or something in its place."""
        self._sent += self._message if instead is None else instead
        self._message.clear()

    def _parts(self) -> Generator[int, bytes]:
        """Asks for so many bytes as the next part of what is said has."""
        version = yield 12
        if version[:10] != b"RFB 003.00" or version[11:] != b"\n":
            raise MetrographError(f"this is no viewer: it begins with {version!r}; expected: “RFB 003.008”")
        self._send()
        if version[10:11] != b"3":
            way = yield 1
            if way != b"\x01":  # the machine's own display asks for nothing; it lies in a private folder
                raise MetrographError(f"the viewer wants to prove itself in way {way[0]}; expected: 1 (none)")
            self._send()
        yield 1
        self._send(b"\x01")
        while True:
            (kind,) = yield 1
            yield from self._rest(kind)
            # The display is as large as the rig's card says, whatever a viewer's window is.
            self._send(b"" if kind == _SETS_SIZE else None)

    def _rest(self, kind: int) -> Generator[int, bytes]:
        if kind in _FIXED:
            yield _FIXED[kind]
        elif kind == _SETS_ENCODINGS:
            yield 4 * struct.unpack(">xH", (yield 3))[0]
        elif kind == _KEY:
            down, symbol = struct.unpack(">BxxI", (yield 7))
            self._key(down, symbol)
        elif kind == _POINTER:
            self._point(*struct.unpack(">BHH", (yield 5)))
        elif kind == _CUTS:
            length = abs(struct.unpack(">xxxi", (yield 7))[0])  # below zero where it comes packed
            if length > _LONGEST:
                raise MetrographError(f"the viewer sends a clipboard of {length} bytes; expected: {_LONGEST} at most")
            yield length
        elif kind == _SETS_SIZE:
            yield 16 * (yield 7)[5]
        elif kind == _EXTENDED:
            yield from self._extension()
        else:
            raise MetrographError(f"the viewer sends a message of kind {kind}; expected: one of RFC 6143")

    def _extension(self) -> Generator[int, bytes]:
        (kind,) = yield 1
        if kind == _EXTENDED_KEY:
            down, symbol = struct.unpack(">HII", (yield 10))[:2]
            self._key(down, symbol)
        elif kind == _SOUND:
            (wanted,) = struct.unpack(">H", (yield 2))
            yield 6 if wanted == 2 else 0  # the form of the sound that it wants
        else:
            raise MetrographError(f"the viewer sends an extension of kind {kind}; expected: 0 or 1")

    def _key(self, down: int, symbol: int) -> None:
        if down:
            self._acts.append(Act("key", key=KEYS.get(symbol, "")))

    def _point(self, buttons: int, left: int, top: int) -> None:
        if buttons & 1 and not self._buttons & 1:
            self._acts.append(Act("press", (left, top)))
        self._buttons = buttons
