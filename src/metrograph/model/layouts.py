"""What becomes of the disk: partitions, swap, encryption, boot loader."""

from __future__ import annotations

import msgspec

FILE_SYSTEMS = (
    "ext4", "btrfs", "xfs", "f2fs", "ext3", "ext2", "zfs", "bcachefs", "reiserfs", "jfs", "fat32", "fat16", "vfat",
    "exfat", "ntfs", "swap", "lvm", "luks", "bios-boot", "none",
)  # fmt: skip
"""What a partition may hold; ``lvm`` and ``luks`` are containers, ``bios-boot`` is raw space for a boot loader."""

MOUNTS = (
    "/",
    "/boot",
    "/boot/efi",
    "/efi",
    "/home",
    "/var",
    "/var/log",
    "/tmp",
    "/usr",
    "/opt",
    "/srv",
    "/root",
    "swap",
    "-",
)
"""Where partitions usually are mounted; ``-`` is nowhere."""


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
