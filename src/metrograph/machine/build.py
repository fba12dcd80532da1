"""Makes a machine of a rig's card: what of it is kept, what the card leaves open, and what no such machine can be."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Literal, get_args

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.run.cards import Rig

_MIB = 1 << 20
_SIZE = re.compile(r"([1-9]\d{2,4})\s*[x×]\s*([1-9]\d{2,4})")
_NO_NETWORK = {"none", "no", "off", "offline", "without", "no network", "without network"}
_USUAL = Rig(processors=2, firmware="bios", display="1280x800", graphics="standard", network="one of its own")
"""What is taken where a card leaves something open, always the same."""

Firmware = Literal["uefi", "bios"]
Adapter = Literal["standard", "virtio", "qxl"]


class Build(msgspec.Struct, frozen=True):
    """A machine as it is built.

    memory, disk: in bytes; processors: threads that it runs at once; display: width and height in pixels.
    network: whether it has one of its own, behind this computer's.
    accelerated: whether this computer's processors may run it, where they can.
    open: what the card leaves open, each with what was taken; unkept: what it says and no such machine can be.
    """

    memory: int
    disk: int
    processors: int
    firmware: Firmware
    secure_boot: bool
    display: tuple[int, int]
    adapter: Adapter
    network: bool
    accelerated: bool = True
    open: tuple[str, ...] = ()
    unkept: tuple[str, ...] = ()


def build_of(name: str, rig: Rig) -> Build:
    """The machine that a card describes; always the same for the same card.

    Raises MetrographError where the card is of a physical machine, or lacks what cannot be taken for granted.
    """
    if rig.kind == "physical":
        raise MetrographError(f"{name} is a physical machine; “metrograph watch” looks at its display")
    missing = [what for what in ("memory", "disk") if not getattr(rig, what)]
    if missing:
        given = " ".join(f"--{what} SIZE" for what in missing)
        raise MetrographError(
            f"the card of {name} says nothing of {' and '.join(missing)};"
            f" “metrograph rig new {name} --update {given}” does"
        )
    taken = {
        field: value
        for field in Rig.__struct_fields__
        if (value := getattr(_USUAL, field)) is not None and getattr(rig, field) is None
    }
    card = msgspec.structs.replace(rig, **taken)
    return Build(
        memory=max((card.memory or 0) // _MIB, 1) * _MIB,
        disk=card.disk or 0,
        processors=card.processors or 1,
        firmware=card.firmware or "bios",
        secure_boot=bool(card.secure_boot),
        display=_pixels(card) or _pixels(_USUAL) or (0, 0),
        adapter=_adapter(card) or "standard",
        network=(card.network or "").strip().casefold() not in _NO_NETWORK,
        open=tuple(f"{field}: {value}" for field, value in taken.items()),
        unkept=tuple(_unkept(card)),
    )


def _unkept(rig: Rig) -> Iterator[str]:
    """What a card says and no such machine can be, each in a few words."""
    if _adapter(rig) is None:
        yield f"graphics: {rig.graphics}, {_USUAL.graphics} instead"
    if _pixels(rig) is None:
        yield f"display: {rig.display}, {_USUAL.display} instead"
    if rig.secure_boot and rig.firmware != "uefi":
        yield "secure boot, as its firmware is not UEFI"
    if rig.memory and rig.memory % _MIB:
        yield "memory to the byte: whole MiB"


def _pixels(rig: Rig) -> tuple[int, int] | None:
    match = _SIZE.fullmatch((rig.display or "").strip())
    return None if match is None else (int(match[1]), int(match[2]))


def _adapter(rig: Rig) -> Adapter | None:
    words = (rig.graphics or "").casefold().split()
    return next((adapter for adapter in get_args(Adapter) if adapter in words), None)
