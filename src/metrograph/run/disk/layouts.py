"""Disk layouts: what a cue says of one, how it fills the disk, and where what was found is not what was said."""

from __future__ import annotations

from collections.abc import Iterator
from enum import StrEnum

import msgspec

from metrograph.log.cues import Cue
from metrograph.log.quantities.disks import HIBERNATE, REST, Part, Swap, parse_part, parse_swap
from metrograph.log.quantities.quantity import parse_exact
from metrograph.log.quantities.sizes import show_size
from metrograph.log.quantities.units import BYTES

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
    parts: tuple[Part, ...] = ()
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


def _size_of(part: Part, layout: Layout) -> int | None:
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


def _part(said: Part, there: Part) -> Iterator[LayoutDifference]:
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
