"""Disk layouts: what a cue says of one, how it fills the disk, and whether it can be what was meant."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec

from metrograph.language.sizes import parse_size, show_size
from metrograph.language.suggest import suggest
from metrograph.language.values import parse_part, parse_swap
from metrograph.model.cards import Rig
from metrograph.model.cues import Cue
from metrograph.model.layouts import FILE_SYSTEMS, MOUNTS, Layout, Part, Swap

FOUND = "found"
"""The method of a layout that nobody chose: what a probe found to be there."""

_EFI_PLACES = frozenset({"/boot/efi", "/efi", "/boot"})
_TOLERANCE = 0.05  # of a size; installers round, and file systems keep something for themselves
_ALIASES = {"vfat": "fat32", "fat": "fat32", "fat16": "fat32"}  # what a mount table calls them
_TABLES = {"dos": "msdos", "mbr": "msdos"}
_NEAR = 0.02  # how far from a power of 1000/1024, or from a thousand, a ratio may be to look like that slip


class Segment(msgspec.Struct, frozen=True):
    """A piece of a disk from its beginning to its end. size: bytes."""

    label: str
    size: int
    free: bool = False


def layout_of(cue: Cue) -> Layout:
    """The layout that a ``layout`` cue tells of."""
    parts = [parse_part(part) for part in cue.every("part")]
    return Layout(
        method=cue.text,
        table=cue.field("table"),
        disk=parse_size(cue.field("disk") or ""),
        parts=tuple(part for part in parts if part is not None),
        swap=parse_swap(cue.field("swap") or ""),
        encryption=cue.field("crypt"),
        loader=cue.field("loader"),
    )


def segments(layout: Layout) -> tuple[Segment, ...]:
    """The disk from end to end, partitions in the order they were noted, then swap, then what is free."""
    pieces = [Segment(part.mount, part.size) for part in layout.parts]
    if layout.swap is not None and layout.swap.how == "partition" and layout.swap.size:
        pieces.append(Segment("swap", layout.swap.size))
    free = (layout.disk or 0) - sum(piece.size for piece in pieces)
    return (*pieces, Segment("free", free, free=True)) if free > 0 else tuple(pieces)


def parts_of(layout: Layout) -> dict[str, str]:
    """What a layout says, part by part, so that two of them can be held against each other."""
    said = {"method": layout.method, "partition table": layout.table, "encryption": layout.encryption}
    said |= {part.mount: f"{part.filesystem} {show_size(part.size)}" for part in layout.parts}
    if layout.swap is not None:
        size = "" if layout.swap.size is None else f" {show_size(layout.swap.size)}"
        said["swap"] = layout.swap.how + size
    return {name: value for name, value in (said | {"boot loader": layout.loader}).items() if value is not None}


def differences(said: Layout, found: Layout) -> list[str]:
    """What is on the disk otherwise than the installer said, a sentence each; only where both say something."""
    sentences = []
    there = {part.mount: part for part in found.parts}
    for part in said.parts:
        own = there.get(part.mount)
        if part.mount.startswith("/") and own is None and there:
            sentences.append(f"{part.mount} was to be a partition of its own, and none is there.")
        elif own is not None:
            sentences += _part_differences(part, own)
    mounts = {part.mount for part in said.parts}
    sentences += [f"{mount} is there, and was not spoken of." for mount in there if said.parts and mount not in mounts]
    if said.swap is not None and found.swap is not None:
        sentences += _swap_differences(said.swap, found.swap)
    encrypted = found.encryption is not None
    if (said.encryption is not None) != encrypted:
        sentences.append(
            "It is encrypted, and that was not spoken of." if encrypted else "It was to be encrypted, and is not."
        )
    if said.table and found.table and _TABLES.get(said.table, said.table) != _TABLES.get(found.table, found.table):
        sentences.append(f"The partition table is {found.table}; {said.table} was said.")
    return sentences


def _part_differences(said: Part, found: Part) -> list[str]:
    sentences = []
    if _ALIASES.get(said.filesystem, said.filesystem) != _ALIASES.get(found.filesystem, found.filesystem):
        sentences.append(f"{said.mount} holds {found.filesystem}; {said.filesystem} was said.")
    if abs(found.size - said.size) > _TOLERANCE * max(said.size, found.size, 1):
        sentences.append(f"{said.mount} has {show_size(found.size)}; {show_size(said.size)} was said.")
    return sentences


def _swap_differences(said: Swap, found: Swap) -> list[str]:
    if said.how != found.how:
        return ["Swap is missing." if found.how == "none" else f"Swap is a {found.how}; {said.how} was said."]
    if said.size and found.size and abs(found.size - said.size) > _TOLERANCE * said.size:
        return [f"Swap has {show_size(found.size)}; {show_size(said.size)} was said."]
    return []


def layout_doubts(layout: Layout, rig: Rig, sleeps_to_disk: bool = False) -> list[tuple[str, str]]:
    """What is probably not meant, and what could be: a sentence and an expectation each.

    rig: the machine, as far as it is known.
    sleeps_to_disk: whether that was chosen, so that swap has to hold the memory.
    """
    disk = layout.disk or rig.disk
    return [
        *_sizes(layout, disk),
        *_rig(layout, rig),
        *_booting(layout, rig),
        *_words(layout),
        *(_sleep(layout, rig) if sleeps_to_disk else ()),
    ]


def _sizes(layout: Layout, disk: int | None) -> Iterable[tuple[str, str]]:
    taken = sum(piece.size for piece in segments(layout) if not piece.free)
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


def _rig(layout: Layout, rig: Rig) -> Iterable[tuple[str, str]]:
    if layout.disk and rig.disk and abs(layout.disk / rig.disk - 1) > 0.1:
        yield (
            f"the disk is {show_size(layout.disk)} here and {show_size(rig.disk)} on the rig's card",
            show_size(rig.disk),
        )


def _booting(layout: Layout, rig: Rig) -> Iterable[tuple[str, str]]:
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


def _words(layout: Layout) -> Iterable[tuple[str, str]]:
    for part in layout.parts:
        if part.filesystem not in FILE_SYSTEMS:
            yield f"“{part.filesystem}” is not a file system that is known", suggest(part.filesystem, FILE_SYSTEMS)
        if part.mount not in MOUNTS and not part.mount.startswith(("/mnt/", "/media/", "/home/", "/srv/", "/var/")):
            yield f"“{part.mount}” is not a usual place to mount", suggest(part.mount, MOUNTS)
    for mount in {part.mount for part in layout.parts if part.mount != "-"}:
        if sum(part.mount == mount for part in layout.parts) > 1:
            yield f"two partitions are mounted at {mount}", "one"


def _sleep(layout: Layout, rig: Rig) -> Iterable[tuple[str, str]]:
    size = layout.swap.size if layout.swap is not None and layout.swap.how != "none" else 0
    if rig.memory and size is not None and size < rig.memory:
        has = show_size(size) if size else "none"
        yield (
            f"sleep to disk was chosen, and swap ({has}) is smaller than the memory",
            f"{show_size(rig.memory)} or more",
        )
