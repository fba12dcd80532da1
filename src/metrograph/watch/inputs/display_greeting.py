"""How a display server and its reader agree: version, who may look, size and form (RFC 6143, 7.1 to 7.3)."""

from __future__ import annotations

import re
import struct

from metrograph.watch.inputs.display_wire import DisplayError, Wire

_VERSION = re.compile(rb"RFB (\d{3})\.(\d{3})\n")
_NONE, _PASSWORD = 1, 2  # ways to prove who one is (RFC 6143, 7.2)
_LONGEST_REASON = 2000  # bytes of a refusal or name that are read; a display that says more is not believed
LARGEST = 8192
"""Pixels in width or height; a display that claims more is not believed."""

# 32 bits a pixel, 24 of them used, little-endian, true colour: red, green and blue of 255 each at their places.
_FORM = struct.pack(">BBBBHHHBBB3x", 32, 24, 0, 1, 255, 255, 255, 16, 8, 0)
# Encodings in the order in which they are wanted (RFC 6143, 7.7).
_COPY, _HEXTILE, _ZLIB, _RAW, _RESIZE = 1, 5, 6, 0, -223
_ENCODINGS = (_ZLIB, _HEXTILE, _COPY, _RAW, _RESIZE)


def greet(wire: Wire, password: str | None) -> tuple[int, int]:
    """Agrees with a server; gives width and height. Raises DisplayError when it lies or refuses."""
    minor = _agree_on_version(wire)
    _prove(wire, minor, password)
    wire.send(b"\x01")  # others may go on looking
    width, height = wire.numbers("HH")
    wire.exactly(16)  # the form that it would have sent: another one is asked for below
    _text(wire)
    check_size(width, height)
    wire.send(b"\x00\x00\x00\x00" + _FORM)
    wire.send(struct.pack(f">BxH{len(_ENCODINGS)}i", 2, len(_ENCODINGS), *_ENCODINGS))
    return width, height


def check_size(width: int, height: int) -> None:
    """Raises DisplayError for a picture that cannot be."""
    if not (0 < width <= LARGEST and 0 < height <= LARGEST):
        raise DisplayError(f"the display says that it is {width} x {height} pixels; expected 1 to {LARGEST} each way")


def _agree_on_version(wire: Wire) -> int:
    said = wire.exactly(12)
    match = _VERSION.fullmatch(said)
    if not match:
        raise DisplayError(f"this is no display server: it begins with {said!r}; expected: “RFB 003.008”")
    if int(match[1]) < 3:
        raise DisplayError(f"the display speaks version {int(match[1])}.{int(match[2])}; expected: 3.3 or later")
    minor = {3: 3, 7: 7}.get(int(match[2]), 8 if int(match[2]) > 7 or int(match[1]) > 3 else 3)
    wire.send(b"RFB 003.%03d\n" % minor)
    return minor


def _prove(wire: Wire, minor: int, password: str | None) -> None:
    way = _way_chosen_by_server(wire) if minor == 3 else _way_offered(wire, password)
    if way == _PASSWORD:
        _answer_challenge(wire, password)
    # Before 3.8, a server that asks nothing does not say that all is well.
    if (minor == 8 or way == _PASSWORD) and wire.numbers("I")[0]:
        why = _text(wire) if minor == 8 else "it gives no reason"
        raise DisplayError(f"the display refuses: {why or 'it gives no reason'}")


def _way_chosen_by_server(wire: Wire) -> int:
    (way,) = wire.numbers("I")
    if way == 0:
        raise DisplayError(f"the display refuses: {_text(wire)}")
    if way not in {_NONE, _PASSWORD}:
        raise DisplayError(_no_way([way]))
    return way


def _way_offered(wire: Wire, password: str | None) -> int:
    (count,) = wire.numbers("B")
    if count == 0:
        raise DisplayError(f"the display refuses: {_text(wire)}")
    offered = wire.exactly(count)
    wanted = [_NONE, _PASSWORD] if password is None else [_PASSWORD, _NONE]
    way = next((way for way in wanted if way in offered), None)
    if way is None:
        raise DisplayError(_no_way(list(offered)))
    wire.send(bytes([way]))
    return way


def _no_way(offered: list[int]) -> str:
    return f"the display asks for proof of kind {', '.join(map(str, offered))}; expected: 1 (none) or 2 (a password)"


def _answer_challenge(wire: Wire, password: str | None) -> None:
    challenge = wire.exactly(16)
    if password is None:
        raise DisplayError("the display asks for a password; METROGRAPH_DISPLAY_PASSWORD holds it, or --password-file")
    wire.send(answer_to(challenge, password))


def answer_to(challenge: bytes, password: str) -> bytes:
    """The proof of a password (RFC 6143, 7.2.2): the challenge under DES, the key's bits reversed by bytes."""
    from cryptography.hazmat.decrepit.ciphers.algorithms import TripleDES
    from cryptography.hazmat.primitives.ciphers import Cipher, modes

    key = password.encode("latin-1", "replace")[:8].ljust(8, b"\0")
    mirrored = bytes(int(f"{byte:08b}"[::-1], 2) for byte in key)
    # Three times the same key is DES itself.
    encryptor = Cipher(TripleDES(mirrored * 3), modes.ECB()).encryptor()  # noqa: S305 - the protocol's own
    return encryptor.update(challenge) + encryptor.finalize()


def _text(wire: Wire) -> str:
    (length,) = wire.numbers("I")
    if length > _LONGEST_REASON:
        raise DisplayError(f"the display announces a text of {length} bytes; expected: {_LONGEST_REASON} at most")
    return wire.exactly(length).decode("utf-8", "replace")
