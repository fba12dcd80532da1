"""Holds an image that was read against what is published of it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

import msgspec

from metrograph.language.sizes import show_size
from metrograph.model.cards import Release


class CheckedImage(msgspec.Struct, frozen=True):
    """An image and what was found of it.

    size: bytes; checksums: hexadecimal digits by method.
    agrees: what it was held against and is; wrong: a sentence for each thing that it is not.
    age: days from the release to the install day; None when the card has no date.
    """

    size: int
    checksums: dict[str, str]
    agrees: tuple[str, ...]
    wrong: tuple[str, ...]
    age: int | None

    def sentences(self) -> list[str]:
        """What there is to say, a sentence each."""
        found = [*self.wrong, *(f"its {what} is right" for what in self.agrees)]
        if not found:
            found = [f"{show_size(self.size)}, nothing to check it against yet"]
        if self.age is not None:
            days = "on the day it came out" if self.age == 0 else f"{self.age} days after the release"
            old = "; expect many updates" if self.age >= _OLD else ""
            found.append(
                f"installed {days}{old}" if self.age >= 0 else f"the install day is {-self.age} days before the release"
            )
        return found


_OLD = 28
"""Days after which hundreds of updates are likely."""


def hold_against(card: Release, size: int, checksums: dict[str, str], said: Sequence[str], day: date) -> CheckedImage:
    """What of an image is right and what is wrong.

    said: checksums that were published for it, as a card writes them.
    day: of the installation.
    """
    agrees: list[str] = []
    wrong: list[str] = []
    if card.image_size is not None:
        sentence = f"it has {size} bytes, and the card says {card.image_size}"
        (agrees if size == card.image_size else wrong).append("size" if size == card.image_size else sentence)
    for each in dict.fromkeys(said):
        method, _, digits = each.partition(":")
        name = f"{method.upper().replace('SHA', 'SHA-')} checksum"
        sentence = f"its {name} is {checksums[method]}, and {digits} is published"
        (agrees if checksums[method] == digits else wrong).append(name if checksums[method] == digits else sentence)
    age = (day - card.released).days if card.released else None
    return CheckedImage(size, checksums, tuple(agrees), tuple(wrong), age)
