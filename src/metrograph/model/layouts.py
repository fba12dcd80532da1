"""What becomes of the disk: partitions, swap, encryption, boot loader."""

from __future__ import annotations

from typing import Literal

import msgspec


class Part(msgspec.Struct, frozen=True):
    """One partition.

    size: bytes.
    """

    mount: str
    filesystem: str
    size: int


class Swap(msgspec.Struct, frozen=True):
    """Where swapped-out memory goes.

    size: bytes; None when it was not said.
    """

    how: str
    size: int | None = None


class Layout(msgspec.Struct, frozen=True):
    """A disk as the installer is about to make it.

    table: the partition table, such as gpt; None when it was not said, as with all that follow.
    disk: bytes.
    encryption: what was said of it, as it stood.
    """

    method: str
    table: str | None = None
    disk: int | None = None
    parts: tuple[Part, ...] = ()
    swap: Swap | None = None
    encryption: str | None = None
    loader: str | None = None


Firmware = Literal["uefi", "bios"]
