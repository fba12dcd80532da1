"""Disk layouts: what a cue says of one, how it fills the disk, what was found instead, and what cannot be meant."""

from __future__ import annotations

from collections.abc import Iterator
from enum import StrEnum

import msgspec

from metrograph.log.cues import Cue
from metrograph.log.faults import suggest
from metrograph.log.quantities.disk_parts import (
    FILE_SYSTEMS,
    HIBERNATE,
    MOUNTS,
    REST,
    Partition,
    Swap,
    parse_part,
    parse_swap,
)
from metrograph.log.quantities.quantity import parse_exact
from metrograph.log.quantities.units import BYTES, show_size
from metrograph.run.cards import Rig

FOUND = "found"
"""The method of a layout that nobody chose: what a probe found to be there."""

_TOLERANCE = 0.05  # of a size; installers round, and file systems keep something for themselves
_ALIASES = {"vfat": "fat32", "fat": "fat32", "fat16": "fat32"}  # what a mount table calls them
_TABLES = {"dos": "msdos", "mbr": "msdos"}


class Layout(msgspec.Struct, frozen=True):
    """A disk as the installer is about to make it.

    table: the partition table, such as gpt; None when it was not said, as with all that follow.
    disk: bytes.
    encryption: what was said of it, as it stood.
    """

    method: str
    table: str | None = None
    disk: int | None = None
    parts: tuple[Partition, ...] = ()
    swap: Swap | None = None
    encryption: str | None = None
    loader: str | None = None


class Segment(msgspec.Struct, frozen=True):
    """A piece of a disk from its beginning to its end.

    size: bytes; None when it was not said.
    free: whether nothing stands there; known: False where nobody said whether anything does.
    """

    label: str
    size: int | None
    free: bool = False
    known: bool = True


class Mismatch(StrEnum):
    """In what a disk is not as the installer said."""

    PART_MISSING = "part missing"
    PART_UNEXPECTED = "part unexpected"
    FILE_SYSTEM = "file system"
    PART_SIZE = "part size"
    SWAP_MISSING = "swap missing"
    SWAP_KIND = "swap kind"
    SWAP_SIZE = "swap size"
    ENCRYPTED = "encrypted"
    NOT_ENCRYPTED = "not encrypted"
    TABLE = "table"


class LayoutDifference(msgspec.Struct, frozen=True):
    """One thing that is on the disk otherwise than the installer said.

    subject: the mount point concerned; empty where the whole disk is.
    said, there: what was said and what is there, as they are written; empty where neither says more than ``what``.
    """

    what: Mismatch
    subject: str = ""
    said: str = ""
    there: str = ""


def swap_file_of(layout: Layout | None) -> float | None:
    """The bytes of the file for swapping that a layout makes, 0 where it makes none; None where that was not said.

    A file for swapping lies in whatever is used of the disk, so that figures of it are held together without.
    """
    swap = None if layout is None else layout.swap
    if swap is None:
        return None
    if swap.how != "file":
        return 0.0
    return None if swap.size is None else float(swap.size)


def layout_of(cue: Cue) -> Layout:
    """The layout that a ``layout`` cue tells of."""
    disk, swap = cue.field("disk"), cue.field("swap")
    return Layout(
        method=cue.text,
        table=cue.field("table"),
        disk=None if disk is None else round(parse_exact(disk, BYTES)),
        parts=tuple(map(parse_part, cue.every("part"))),
        swap=None if swap is None else parse_swap(swap),
        encryption=cue.field("crypt"),
        loader=cue.field("loader"),
    )


def segments(layout: Layout) -> tuple[Segment, ...]:
    """The disk from end to end: partitions in the order they were noted, then swap, then what is left of it.

    What is left is free only where every piece has a size; otherwise nobody knows whose it is.
    """
    pieces = [Segment(part.mount, _size_of(part, layout)) for part in layout.parts]
    if layout.swap is not None and layout.swap.how == "partition":
        pieces.append(Segment("swap", layout.swap.size))
    left = (layout.disk or 0) - sum(piece.size or 0 for piece in pieces)
    if left <= 0:
        return tuple(pieces)
    known = bool(layout.parts) and all(piece.size is not None for piece in pieces)
    return (*pieces, Segment("free", left, free=True) if known else Segment("unknown", left, known=False))


def _size_of(part: Partition, layout: Layout) -> int | None:
    """The size of a part; of the one that takes the rest, what all others leave, where all of them are known."""
    if not part.rest or layout.disk is None:
        return part.size
    swap = layout.swap.size if layout.swap is not None and layout.swap.how == "partition" else 0
    others = [swap, *(other.size for other in layout.parts if other is not part)]
    known = [size for size in others if size is not None]
    return max(layout.disk - sum(known), 0) if len(known) == len(others) else None


def parts_of(layout: Layout) -> dict[str, str]:
    """What a layout says, part by part, so that two of them can be held against each other."""
    said = {"method": layout.method, "partition table": layout.table, "encryption": layout.encryption}
    said |= {part.mount: _written(part.filesystem, part.size, REST if part.rest else "") for part in layout.parts}
    if layout.swap is not None:
        said["swap"] = _written(layout.swap.how, layout.swap.size, HIBERNATE if layout.swap.hibernate else "")
    return {name: value for name, value in (said | {"boot loader": layout.loader}).items() if value is not None}


def _written(what: str, size: int | None, more: str) -> str:
    shown = show_size(size) if size is not None else ""
    return " ".join(word for word in (what, shown, more) if word)


def layout_differences(said: Layout, there: Layout) -> list[LayoutDifference]:
    """What is on the disk otherwise than the installer said; only where both say something."""
    differences = [*_parts(said, there)]
    if said.swap is not None and there.swap is not None:
        differences += _swaps(said.swap, there.swap)
    if (said.encryption is not None) != (there.encryption is not None):
        encrypted = there.encryption is not None
        differences.append(LayoutDifference(Mismatch.ENCRYPTED if encrypted else Mismatch.NOT_ENCRYPTED))
    if said.table and there.table and _TABLES.get(said.table, said.table) != _TABLES.get(there.table, there.table):
        differences.append(LayoutDifference(Mismatch.TABLE, said=said.table, there=there.table))
    return differences


def _parts(said: Layout, there: Layout) -> Iterator[LayoutDifference]:
    by_mount = {part.mount: part for part in there.parts}
    for part in said.parts:
        found = by_mount.get(part.mount)
        if found is not None:
            yield from _part(part, found)
        elif part.mount.startswith("/") and by_mount:
            yield LayoutDifference(Mismatch.PART_MISSING, part.mount)
    expected = {part.mount for part in said.parts}
    for mount in by_mount:
        if said.parts and mount not in expected:
            yield LayoutDifference(Mismatch.PART_UNEXPECTED, mount)


def _part(said: Partition, there: Partition) -> Iterator[LayoutDifference]:
    if _ALIASES.get(said.filesystem, said.filesystem) != _ALIASES.get(there.filesystem, there.filesystem):
        yield LayoutDifference(Mismatch.FILE_SYSTEM, said.mount, said.filesystem, there.filesystem)
    yield from _size_difference(Mismatch.PART_SIZE, said.mount, said.size, there.size)


def _swaps(said: Swap, there: Swap) -> Iterator[LayoutDifference]:
    if said.how != there.how:
        missing = there.how == "none"
        yield LayoutDifference(Mismatch.SWAP_MISSING if missing else Mismatch.SWAP_KIND, "", said.how, there.how)
    else:
        yield from _size_difference(Mismatch.SWAP_SIZE, "", said.size, there.size)


def _size_difference(what: Mismatch, subject: str, said: int | None, there: int | None) -> Iterator[LayoutDifference]:
    if said is not None and there is not None and abs(there - said) > _TOLERANCE * max(said, there, 1):
        yield LayoutDifference(what, subject, show_size(said), show_size(there))


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
