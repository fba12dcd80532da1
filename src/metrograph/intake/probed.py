"""Reads what a machine says of itself, and trusts none of it: the file of a probe, and a rig described from here."""

from __future__ import annotations

import math
import os
import re
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Annotated, Literal

import msgspec

from metrograph.core.errors import UNDECODABLE, MetrographError, refused
from metrograph.intake.source import Event, Outside
from metrograph.log.cues import Cue, Fields, Log
from metrograph.log.lexicon import Lexicon, is_after_restart
from metrograph.log.quantities.times import format_time
from metrograph.log.quantities.units import format_size
from metrograph.privacy.gate import clean
from metrograph.run.cards import Rig
from metrograph.run.folding.fold import fold

LARGEST = 1 << 20
"""Bytes that a probe's file may have."""

_LINE = r"^[^\x00-\x1f\x7f-\x9f\u2028-\u202e\u2066-\u2069]*$"
Line = Annotated[str, msgspec.Meta(max_length=500, pattern=_LINE)]
_NAME = r"^(?=.*\S)[^\x00-\x1f\x7f-\x9f=|:\u2028-\u202e\u2066-\u2069]+$"
Name = Annotated[str, msgspec.Meta(max_length=80, pattern=_NAME)]
Size = Annotated[int, msgspec.Meta(ge=0, lt=1 << 60)]
Mount = Annotated[str, msgspec.Meta(max_length=200, pattern=r"^(?!.*/\.\.(?:/|$))/[^\x00-\x1f\x7f-\x9f]*$")]
Word = Annotated[str, msgspec.Meta(max_length=40, pattern=r"^[A-Za-z0-9._+-]+$")]
_MOST = 500  # entries of one kind in a probe file: no probe writes more, whoever does is up to something


class ProbedFact(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Something that is so."""

    name: Name
    value: Annotated[Line, msgspec.Meta(min_length=1)]
    personal: bool = False


class ProbedReading(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A measured figure, in bytes, seconds or as a count."""

    name: Name
    value: Annotated[float, msgspec.Meta(ge=0, lt=1e18)]
    unit: Literal["", "bytes", "s"] = ""
    load: Literal["rest", "busy"] | None = None
    how: Line | None = None


class ProbedPart(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A mounted partition. size: bytes."""

    mount: Mount
    filesystem: Word
    size: Size


class ProbedSwap(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Where swapped-out memory goes. size: bytes."""

    how: Literal["none", "file", "partition"]
    size: Size | None = None


class ProbedDisk(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The disk the system lies on. disk: bytes; crypt: what is encrypted."""

    parts: Annotated[tuple[ProbedPart, ...], msgspec.Meta(max_length=100)]
    disk: Size | None = None
    table: Word | None = None
    crypt: Word | None = None
    swap: ProbedSwap | None = None


_ITEM = r"^(?=.*\S)[^\x00-\x1f\x7f-\x9f,\u2028-\u202e\u2066-\u2069]+$"
Item = Annotated[str, msgspec.Meta(max_length=80, pattern=_ITEM)]
_GROUP = r"^(?=.*\S)[^\x00-\x1f\x7f-\x9f,:\\\u2028-\u202e\u2066-\u2069]+$"
Grouped = Annotated[str, msgspec.Meta(max_length=40, pattern=_GROUP)]


class ProbedSoftware(msgspec.Struct, frozen=True, forbid_unknown_fields=True, rename={"source": "from"}):
    """Software that the menus offer. version, group: None where it was not found; source: where it comes from."""

    item: Item
    version: Word | None = None
    group: Grouped | None = None
    source: Literal["repository", "sandboxed"] | None = None


class Missing(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Something that the probe could not find out, and why."""

    what: Line
    why: Line


class Probed(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """All that a probe wrote.

    taken: on the clock of the probed system.
    state: None when it could not tell.
    """

    version: Annotated[Literal[1], msgspec.Meta()] = msgspec.field(name="metrograph-probe")
    taken: datetime
    state: Literal["live", "installed"] | None
    facts: Annotated[tuple[ProbedFact, ...], msgspec.Meta(max_length=_MOST)]
    readings: Annotated[tuple[ProbedReading, ...], msgspec.Meta(max_length=_MOST)]
    layout: ProbedDisk | None
    missing: Annotated[tuple[Missing, ...], msgspec.Meta(max_length=_MOST)]
    software: Annotated[tuple[ProbedSoftware, ...], msgspec.Meta(max_length=_MOST)] = ()


def read_probed(data: bytes, file: str) -> Probed:
    """What a probe wrote; raises MetrographError with a sentence when it is anything else, whole or in part."""
    if len(data) > LARGEST:
        raise MetrographError(f"{file} is larger than {LARGEST >> 20} MiB; what a probe writes is not")
    try:
        return msgspec.json.decode(data, type=Probed)
    except UNDECODABLE as error:
        message, place = refused(error)
        if "matching regex" in message:  # the pattern says nothing to a reader
            message = "this text cannot stand here"
        where = f" at {place}" if place else ""
        raise MetrographError(
            f"{file} is not what “metrograph probe” writes{where}: {message.lower()}; nothing was taken from it"
        ) from error


class ProbeFile:
    """What a probe wrote, as a ``Source``: facts, readings, software and the layout that is there."""

    name = "the probe"
    outside = Outside.REFUSED

    def __init__(self, probed: Probed) -> None:
        self.probed = probed

    def events(self) -> Iterator[Event]:
        """All of it, at the moment the probe ran; a secret within a value is left out."""
        return (Event(cue, wall=self.probed.taken.astimezone()) for cue in to_cues(self.probed))


def to_cues(probed: Probed) -> list[Cue]:
    """The facts, readings, software and layout as cues at 0; a secret within a value is left out."""
    facts = [clean(Cue(0, "fact", fact.name.strip(), fact.value.strip())) for fact in probed.facts]
    layout = [_layout(probed.layout)] if probed.layout else []
    return [*facts, *map(_reading, probed.readings), *_software(probed.software), *layout]


def check_state(probed: Probed, log: Log, at: int, lexicon: Lexicon) -> None:
    """A figure must not get a state that it was not taken in.

    at: when the probe ran, in milliseconds on the run's time.

    Raises MetrographError when the run was in another state then.
    """
    before = msgspec.structs.replace(log, cues=tuple(cue for cue in log.cues if cue.at <= at))
    state = "installed" if is_after_restart(fold(before, "", lexicon).position.phase) else "live"
    if probed.state is not None and probed.state != state:
        raise MetrographError(
            f"the probe ran on a system that is {probed.state}, and at {format_time(at)} the run is {state};"
            " --at TIME says when it was"
        )


def _reading(reading: ProbedReading) -> Cue:
    number = math.floor(reading.value) if reading.value == math.floor(reading.value) else round(reading.value, 3)
    text = format_size(int(reading.value)) if reading.unit == "bytes" else f"{number} {reading.unit}".strip()
    fields = (("load", reading.load), ("how", reading.how or "probe"))
    return Cue(0, "reading", reading.name.strip(), text, tuple((key, value) for key, value in fields if value))


def _software(items: tuple[ProbedSoftware, ...]) -> Iterator[Cue]:
    """What is on board, a cue for each group and for each place that it comes from."""
    for group, source in dict.fromkeys((item.group, item.source) for item in items):
        named = [
            f"{item.item.strip()} {item.version}" if item.version else item.item.strip()
            for item in items
            if (item.group, item.source) == (group, source)
        ]
        fields: Fields = (("from", source),) if source else ()
        yield clean(Cue(0, "carries", group, ", ".join(named), fields))


def _one_word(mount: str) -> str:
    """A mount point as the kernel's tables have it, blanks in octal."""
    return "".join(f"\\{ord(sign):03o}" if sign.isspace() else sign for sign in mount)


def _layout(disk: ProbedDisk) -> Cue:
    swap = disk.swap
    size = f" {format_size(swap.size)}" if swap is not None and swap.size and swap.how != "none" else ""
    fields: list[tuple[str, str | None]] = [
        ("table", disk.table),
        ("disk", format_size(disk.disk) if disk.disk else None),
    ]
    fields += [("part", f"{_one_word(part.mount)} {part.filesystem} {format_size(part.size)}") for part in disk.parts]
    fields += [("swap", f"{swap.how}{size}" if swap else None), ("crypt", disk.crypt)]
    given: Fields = tuple((key, value) for key, value in fields if value)
    return Cue(0, "layout", None, "found", given)


def this_machine(root: Path = Path("/")) -> Rig:
    """The rig this is; a part that the system does not tell is left out.

    root: where the system's files hang; another one in tests.
    """
    vendor = _read(root, "sys/class/dmi/id/sys_vendor")
    model = _read(root, "sys/class/dmi/id/product_name")
    return Rig(
        kind="virtual" if _is_virtual(root) else "physical",
        model=" ".join(word for word in (vendor, model) if word) or None,
        firmware="uefi" if (root / "sys/firmware/efi").is_dir() else "bios",
        processors=os.cpu_count(),
        memory=_memory(root),
        disk=_largest_disk(root),
    )


def _is_virtual(root: Path) -> bool:
    return " hypervisor" in (_read(root, "proc/cpuinfo") or "")


def _memory(root: Path) -> int | None:
    found = re.search(r"MemTotal:\s+(\d+) kB", _read(root, "proc/meminfo") or "")
    return _installed(int(found[1]) * 1024) if found else None


def _installed(seen: int) -> int:
    """Bytes that are in the machine, of which the system sees a little less: up to the next step of those sold."""
    step = 1 << max(seen.bit_length() - 3, 0)  # an eighth to a quarter of it
    return -(-seen // step) * step


def _largest_disk(root: Path) -> int | None:
    """Bytes of the largest fixed disk; the system counts in sectors of 512 whatever the disk does."""
    sizes = [
        int(_read(disk, "size") or 0) * 512
        for disk in (root / "sys/block").glob("*")
        if not re.match(r"loop|ram|zram|sr|fd|dm-|md", disk.name) and _read(disk, "removable") != "1"
    ]
    return max(sizes, default=0) or None


def _read(folder: Path, name: str) -> str | None:
    try:
        return (folder / name).read_text("utf-8", "replace").strip()
    except OSError:
        return None
