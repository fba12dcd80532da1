"""Holds an image that was read against what is published of it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from enum import StrEnum

import msgspec

from metrograph.log.quantities.dates import days_since
from metrograph.log.quantities.ranges import Range
from metrograph.run.cards import Release


class Property(StrEnum):
    """What of an image is held against what is published."""

    SIZE = "size"
    SHA256 = "SHA-256 checksum"
    SHA512 = "SHA-512 checksum"


class Agreement(msgspec.Struct, frozen=True):
    """One property of an image. published, actual: bytes, or hexadecimal digits."""

    what: Property
    published: str
    actual: str

    @property
    def agrees(self) -> bool:
        """Whether the image is what was published."""
        return self.published == self.actual


class CheckedImage(msgspec.Struct, frozen=True):
    """An image and what came of holding it against its card.

    size: bytes; checksums: hexadecimal digits by method.
    age: days from the release to the install day; None when the card has no date.
    """

    size: int
    checksums: dict[str, str]
    properties: tuple[Agreement, ...]
    age: Range | None

    @property
    def is_right(self) -> bool:
        """Whether nothing is other than it was published."""
        return all(checked.agrees for checked in self.properties)


_METHODS = {"sha256": Property.SHA256, "sha512": Property.SHA512}


def hold_against(
    card: Release, size: int, checksums: dict[str, str], published: Sequence[str], day: date
) -> CheckedImage:
    """What of an image is right and what is wrong.

    published: checksums as a card writes them.
    day: of the installation.
    """
    properties = []
    if card.image_size is not None:
        properties.append(Agreement(Property.SIZE, str(card.image_size), str(size)))
    for checksum in dict.fromkeys(published):
        method, _, digits = checksum.partition(":")
        properties.append(Agreement(_METHODS[method], digits, checksums[method]))
    age = days_since(card.released, day) if card.released else None
    return CheckedImage(size, checksums, tuple(properties), age)
