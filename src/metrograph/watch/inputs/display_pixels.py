"""Rectangles of a display's picture as they come: raw, copied, hextile, zlib (RFC 6143, 7.7)."""

from __future__ import annotations

import zlib

import numpy as np

from metrograph.watch.inputs.display_greeting import check_size
from metrograph.watch.inputs.display_wire import DisplayError, Wire
from metrograph.watch.inputs.frames import Colour

RAW, COPY, HEXTILE, ZLIB, RESIZE = 0, 1, 5, 6, -223  # encodings (RFC 6143, 7.7 and 7.8)
_TILE = 16  # pixels across a tile of hextile (RFC 6143, 7.7.4)
_IS_RAW, _GROUND, _INK, _PARTS, _COLOURED = 1, 2, 4, 8, 16  # what a tile has of its own (RFC 6143, 7.7.4)
_PACKED = 64 << 20  # bytes of one packed rectangle; four bytes a pixel of the largest screens are less


class Canvas:
    """The picture as it stands; rectangles are read into it. Every one is checked before a byte of it is read."""

    def __init__(self, width: int, height: int) -> None:
        self.picture: Colour = np.zeros((height, width, 3), np.uint8)
        self._packed = zlib.decompressobj()

    def take(self, wire: Wire) -> None:
        """Reads one rectangle; raises DisplayError when it lies."""
        left, top, width, height, encoding = wire.numbers("HHHHi")
        if encoding == RESIZE:
            check_size(width, height)
            self.picture = np.zeros((height, width, 3), np.uint8)
            return
        tall, wide = self.picture.shape[:2]
        if left + width > wide or top + height > tall:
            raise DisplayError(
                f"the display sends a rectangle of {width} x {height} at {left}, {top} in a picture of {wide} x {tall}"
            )
        place = self.picture[top : top + height, left : left + width]
        if encoding == RAW:
            place[:] = _pixels(wire.exactly(width * height * 4), height, width)
        elif encoding == COPY:
            place[:] = self._elsewhere(wire, width, height)
        elif encoding == ZLIB:
            place[:] = self._unpacked(wire, height, width)
        elif encoding == HEXTILE:
            _hextile(wire, place)
        else:
            raise DisplayError(f"the display sends encoding {encoding}, which was not asked for")

    def _elsewhere(self, wire: Wire, width: int, height: int) -> Colour:
        left, top = wire.numbers("HH")
        tall, wide = self.picture.shape[:2]
        if left + width > wide or top + height > tall:
            raise DisplayError(f"the display copies from {left}, {top}, outside its picture of {wide} x {tall}")
        return self.picture[top : top + height, left : left + width].copy()

    def _unpacked(self, wire: Wire, height: int, width: int) -> Colour:
        (length,) = wire.numbers("I")
        if length > _PACKED:
            raise DisplayError(f"the display announces {length} packed bytes; expected: {_PACKED} at most")
        wanted = width * height * 4
        try:
            # What would unpack to more than the rectangle holds is never unpacked.
            data = self._packed.decompress(wire.exactly(length), wanted + 1)
        except zlib.error as error:
            raise DisplayError(f"the display sends packed bytes that cannot be unpacked: {error}") from error
        if self._packed.eof:  # what follows would be kept by the unpacker, and read by nobody
            raise DisplayError("the display ends its packed bytes, which go on for as long as it is watched")
        if len(data) != wanted or self._packed.unconsumed_tail:
            raise DisplayError(f"the display packs another number of bytes than the {wanted} of its rectangle")
        return _pixels(data, height, width)


def _pixels(data: bytes, height: int, width: int) -> Colour:
    """Red, green and blue from pixels of four bytes, blue first."""
    colours: Colour = np.frombuffer(data, np.uint8).reshape(height, width, 4)[..., 2::-1]
    return colours


def _hextile(wire: Wire, place: Colour) -> None:
    """Tiles of 16 pixels, each with a ground and rectangles on it; ground and ink hold from tile to tile."""
    ground = ink = np.zeros(3, np.uint8)
    for top in range(0, place.shape[0], _TILE):
        for left in range(0, place.shape[1], _TILE):
            tile = place[top : top + _TILE, left : left + _TILE]
            (flags,) = wire.numbers("B")
            if flags & _IS_RAW:
                tile[:] = _pixels(wire.exactly(tile.shape[0] * tile.shape[1] * 4), *tile.shape[:2])
                continue
            ground = _pixel(wire) if flags & _GROUND else ground
            ink = _pixel(wire) if flags & _INK else ink
            tile[:] = ground
            if flags & _PARTS:
                _parts(wire, tile, None if flags & _COLOURED else ink)


def _parts(wire: Wire, tile: Colour, ink: Colour | None) -> None:
    for _ in range(wire.numbers("B")[0]):
        colour = _pixel(wire) if ink is None else ink
        corner, size = wire.numbers("BB")
        left, top = corner >> 4, corner & 15
        width, height = (size >> 4) + 1, (size & 15) + 1
        if left + width > tile.shape[1] or top + height > tile.shape[0]:
            raise DisplayError("the display sends a part that lies outside its tile")
        tile[top : top + height, left : left + width] = colour


def _pixel(wire: Wire) -> Colour:
    colour: Colour = _pixels(wire.exactly(4), 1, 1)[0, 0]
    return colour
