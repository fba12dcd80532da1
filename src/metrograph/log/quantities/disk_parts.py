"""Disks as a log notes them: partitions and swap, each written as one value; what was not said stays unknown."""

from __future__ import annotations

import msgspec

from metrograph.log.faults import Unreadable
from metrograph.log.quantities.quantity import parse_exact
from metrograph.log.quantities.units import BYTES

FILE_SYSTEMS = (
    "ext4", "btrfs", "xfs", "f2fs", "ext3", "ext2", "zfs", "bcachefs", "reiserfs", "jfs", "fat32", "fat16", "vfat",
    "exfat", "ntfs", "swap", "lvm", "luks", "bios-boot", "none",
)  # fmt: skip
"""What a partition may hold; ``lvm`` and ``luks`` are containers, ``bios-boot`` is raw space for a boot loader."""

MOUNTS = (
    "/", "/boot", "/boot/efi", "/efi", "/home", "/var", "/var/log", "/tmp", "/usr", "/opt", "/srv", "/root",
    "swap", "-",
)  # fmt: skip
"""Where partitions usually are mounted; ``-`` is nowhere."""

REST = "rest"
HIBERNATE = "hibernate"
_EXPECTED_PART = "a mount point, a file system and a size or “rest”, such as /boot/efi fat32 300 MiB"
_EXPECTED_SWAP = "none, file or partition, with a size and “hibernate” or without, such as file 2 GiB"


class Partition(msgspec.Struct, frozen=True):
    """One partition.

    size: bytes; None when it was not said.
    rest: whether it takes what the others leave.
    """

    mount: str
    filesystem: str
    size: int | None = None
    rest: bool = False


class Swap(msgspec.Struct, frozen=True):
    """Where swapped-out memory goes.

    size: bytes; None when it was not said.
    hibernate: whether it is meant to hold the memory while the machine sleeps; None when it was not said.
    """

    how: str
    size: int | None = None
    hibernate: bool | None = None


def parse_part(text: str) -> Partition:
    """A partition: ``/boot/efi fat32 300 MiB``, ``/home ext4 rest``, ``/ btrfs``; raises Unreadable."""
    mount, filesystem, size = [*text.split(maxsplit=2), "", ""][:3]
    if not filesystem or filesystem[0].isdigit():
        raise Unreadable(f"“{text}” cannot be read here", text, _EXPECTED_PART)
    if size.casefold() == REST:
        return Partition(mount, filesystem, rest=True)
    return Partition(mount, filesystem, _size(size, _EXPECTED_PART))


def parse_swap(text: str) -> Swap:
    """Swap: ``none``, ``file 2 GiB``, ``partition 4 GiB hibernate``, either left out; raises Unreadable."""
    how, _, rest = text.partition(" ")
    head, _, last = rest.rpartition(" ")
    hibernate = last.casefold() == HIBERNATE
    size = head if hibernate else rest
    if how not in {"none", "file", "partition"} or (how == "none" and rest):
        raise Unreadable(f"“{text}” cannot be read here", text, _EXPECTED_SWAP)
    return Swap(how, _size(size.strip(), _EXPECTED_SWAP), True if hibernate else None)


def _size(text: str, expected: str) -> int | None:
    """Exact bytes; None where nothing was said."""
    if text in {"", "?"}:
        return None
    try:
        return round(parse_exact(text, BYTES))
    except Unreadable as wrong:
        raise Unreadable(wrong.message, text, expected) from None
