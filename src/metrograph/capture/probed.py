"""Reads what a probe wrote on an installed system, trusts none of it, and turns it into cues."""

from __future__ import annotations

import math
from datetime import datetime
from typing import Annotated, Literal

import msgspec

from metrograph.errors import MetrographError
from metrograph.language.sizes import format_size
from metrograph.language.spills import blot
from metrograph.model.cues import Cue, Fields

LARGEST = 1 << 20
"""Bytes that a probe's file may have."""

_LINE = r"^[^\x00-\x1f\x7f-\x9f\u2028-\u202e\u2066-\u2069]*$"
Line = Annotated[str, msgspec.Meta(max_length=500, pattern=_LINE)]
Name = Annotated[str, msgspec.Meta(max_length=80, pattern=r"^[^\x00-\x1f\x7f-\x9f=|:\u2028-\u202e\u2066-\u2069]+$")]
Size = Annotated[int, msgspec.Meta(ge=0, lt=1 << 60)]
Mount = Annotated[str, msgspec.Meta(max_length=200, pattern=r"^(?!.*/\.\.(?:/|$))/[^\x00-\x20\x7f-\x9f]*$")]
Word = Annotated[str, msgspec.Meta(max_length=40, pattern=r"^[A-Za-z0-9._+-]+$")]
_MOST = 500


class Fact(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Something that is so."""

    name: Name
    value: Annotated[Line, msgspec.Meta(min_length=1)]
    personal: bool = False


class Reading(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A measured figure, in bytes, seconds or as a count."""

    name: Name
    value: Annotated[float, msgspec.Meta(ge=0, lt=1e18)]
    unit: Literal["", "bytes", "s"] = ""
    load: Literal["rest", "busy"] | None = None
    how: Line | None = None


class Part(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A mounted partition. size: bytes."""

    mount: Mount
    filesystem: Word
    size: Size


class Swap(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Where swapped-out memory goes. size: bytes."""

    how: Literal["none", "file", "partition"]
    size: Size | None = None


class Disk(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The disk the system lies on. disk: bytes; crypt: what is encrypted."""

    parts: Annotated[tuple[Part, ...], msgspec.Meta(max_length=100)]
    disk: Size | None = None
    table: Word | None = None
    crypt: Word | None = None
    swap: Swap | None = None


class Missing(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What the probe could not find out, and why."""

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
    facts: Annotated[tuple[Fact, ...], msgspec.Meta(max_length=_MOST)]
    readings: Annotated[tuple[Reading, ...], msgspec.Meta(max_length=_MOST)]
    layout: Disk | None
    missing: Annotated[tuple[Missing, ...], msgspec.Meta(max_length=_MOST)]


def read_probed(data: bytes, file: str) -> Probed:
    """What a probe wrote; raises MetrographError with a sentence when it is anything else, whole or in part."""
    if len(data) > LARGEST:
        raise MetrographError(f"{file} is larger than {LARGEST >> 20} MiB; what a probe writes is not")
    try:
        return msgspec.json.decode(data, type=Probed)
    except (msgspec.DecodeError, RecursionError, UnicodeDecodeError) as error:
        message, _, place = str(error).partition(" - at ")
        if "matching regex" in message:
            message = "this text cannot stand here"
        where = f" at {place.strip('`').removeprefix('$.')}" if place else ""
        raise MetrographError(
            f"{file} is not what “metrograph probe” writes{where}: {message.lower()}; nothing was taken from it"
        ) from error


def to_cues(probed: Probed) -> list[Cue]:
    """The facts, readings and layout as cues at 0; a secret within a value is blotted out."""
    facts = [Cue(0, "fact", fact.name.strip(), blot(fact.value.strip())) for fact in probed.facts]
    return [*facts, *map(_reading, probed.readings), *([_layout(probed.layout)] if probed.layout else [])]


def _reading(reading: Reading) -> Cue:
    number = math.floor(reading.value) if reading.value == math.floor(reading.value) else round(reading.value, 3)
    text = format_size(int(reading.value)) if reading.unit == "bytes" else f"{number} {reading.unit}".strip()
    fields = (("load", reading.load), ("how", reading.how or "probe"))
    return Cue(0, "reading", reading.name.strip(), text, tuple((key, value) for key, value in fields if value))


def _layout(disk: Disk) -> Cue:
    swap = disk.swap
    size = f" {format_size(swap.size)}" if swap is not None and swap.size and swap.how != "none" else ""
    fields: list[tuple[str, str | None]] = [
        ("table", disk.table),
        ("disk", format_size(disk.disk) if disk.disk else None),
    ]
    fields += [("part", f"{part.mount} {part.filesystem} {format_size(part.size)}") for part in disk.parts]
    fields += [("swap", f"{swap.how}{size}" if swap else None), ("crypt", disk.crypt)]
    given: Fields = tuple((key, value) for key, value in fields if value)
    return Cue(0, "layout", None, "found", given)
