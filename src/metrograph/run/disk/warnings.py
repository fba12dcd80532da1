"""Whether a disk layout can be what was meant: its sizes, whether the rig can boot from it, its words."""

from __future__ import annotations

from collections.abc import Iterator

from metrograph.log.faults import suggest
from metrograph.log.quantities.disks import FILE_SYSTEMS, MOUNTS
from metrograph.log.quantities.sizes import show_size
from metrograph.run.cards import Rig
from metrograph.run.disk.layouts import Layout, segments

_EFI_PLACES = frozenset({"/boot/efi", "/efi", "/boot"})
_OWN_PLACES = ("/mnt/", "/media/", "/home/", "/srv/", "/var/")  # below which anything may be mounted
_NEAR = 0.02  # how far from a power of 1000/1024, or from a thousand, a ratio may be to look like that slip
_CARD_TOLERANCE = 0.1  # of a disk's size; cards give round figures
Warned = tuple[str, str]
"""What is probably not meant, and what could be."""


def layout_warnings(layout: Layout, rig: Rig, sleeps_to_disk: bool = False) -> list[Warned]:
    """What is probably not meant in a layout, and what could be: a sentence and an expectation each.

    rig: the machine, as far as it is known.
    sleeps_to_disk: whether that was chosen, so that swap has to hold the memory.
    """
    disk = layout.disk or rig.disk
    return [
        *_sizes(layout, disk),
        *_card(layout, rig),
        *_booting(layout, rig),
        *_words(layout),
        *(_sleep(layout, rig) if sleeps_to_disk or (layout.swap and layout.swap.hibernate) else ()),
    ]


def _sizes(layout: Layout, disk: int | None) -> Iterator[Warned]:
    taken = sum(piece.size or 0 for piece in segments(layout) if piece.known and not piece.free)
    if not disk or not taken:
        return
    if slip := _slip(taken / disk):
        yield f"the partitions take {show_size(taken)} of a disk of {show_size(disk)}: {slip}", "sizes of one family"
    elif taken > disk:
        yield f"the partitions take {show_size(taken - disk)} more than the disk has", f"{show_size(disk)} together"
    swap = layout.swap
    if swap is not None and swap.size is not None and swap.size > disk:
        yield f"swap of {show_size(swap.size)} is larger than the disk", f"less than {show_size(disk)}"


def _slip(ratio: float) -> str | None:
    """What two sizes look like that should be about the same; None when they may well be what they are."""
    for power in (1, 2, 3, 4):
        family = 1.024**power
        # A layout may leave something free, so only a sum above the disk looks like a mix of families.
        if abs(ratio / family - 1) < _NEAR / 4 and ratio > 1.02:
            return "1000 and 1024 look mixed up"
    for thousand in (1000, 1024, 1 / 1000, 1 / 1024):
        if abs(ratio / thousand - 1) < _NEAR:
            return "that looks off by a factor of a thousand"
    return None


def _card(layout: Layout, rig: Rig) -> Iterator[Warned]:
    if layout.disk and rig.disk and abs(layout.disk / rig.disk - 1) > _CARD_TOLERANCE:
        here, card = show_size(layout.disk), show_size(rig.disk)
        yield f"the disk is {here} here and {card} on the rig's card", card


def _booting(layout: Layout, rig: Rig) -> Iterator[Warned]:
    """What the firmware needs; only where partitions were noted and the firmware is known."""
    if not layout.parts:
        return
    mounts = {part.mount: part.filesystem for part in layout.parts}
    if "/" not in mounts:
        yield "no partition is mounted at /", "part: / ext4 24 GiB"
    efi = [mount for mount in _EFI_PLACES if mounts.get(mount) in {"fat32", "vfat", "fat16"}]
    if rig.firmware == "uefi" and not efi:
        yield "the rig boots with UEFI, and there is no partition for it", "part: /boot/efi fat32 300 MiB"
    if rig.firmware == "bios" and layout.table == "gpt" and "bios-boot" not in mounts.values():
        yield "the rig boots with BIOS from a GPT disk, and there is no partition for that", "part: - bios-boot 1 MiB"


def _words(layout: Layout) -> Iterator[Warned]:
    for part in layout.parts:
        if part.filesystem not in FILE_SYSTEMS:
            yield f"“{part.filesystem}” is not a file system that is known", suggest(part.filesystem, FILE_SYSTEMS)
        if part.mount not in MOUNTS and not part.mount.startswith(_OWN_PLACES):
            yield f"“{part.mount}” is not a usual place to mount", suggest(part.mount, MOUNTS)
    places = [part.mount for part in layout.parts if part.mount != "-"]
    for mount in dict.fromkeys(place for place in places if places.count(place) > 1):
        yield f"two partitions are mounted at {mount}", "one"


def _sleep(layout: Layout, rig: Rig) -> Iterator[Warned]:
    size = layout.swap.size if layout.swap is not None and layout.swap.how != "none" else 0
    if rig.memory and size is not None and size < rig.memory:
        has = show_size(size) if size else "none"
        yield (
            f"sleep to disk was chosen, and swap ({has}) is smaller than the memory",
            f"{show_size(rig.memory)} or more",
        )
