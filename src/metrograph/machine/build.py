"""Makes a machine of a rig's card: what of it is kept, what the card leaves open, and what no such machine can be."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Literal

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.run.cards import Rig

_MIB = 1 << 20
_SIZE = re.compile(r"([1-9]\d{2,4})\s*[x×]\s*([1-9]\d{2,4})")
_NO_NETWORK = {"none", "no", "off", "offline", "without"}
_USUAL_PROCESSORS, _USUAL_DISPLAY = 2, (1280, 800)

Firmware = Literal["uefi", "bios"]
Adapter = Literal["std", "virtio", "vmware", "qxl"]
_ADAPTERS: dict[str, Adapter] = {"virtio": "virtio", "vmware": "vmware", "qxl": "qxl", "standard": "std", "std": "std"}


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
        "processors": rig.processors is None and f"{_USUAL_PROCESSORS} processors",
        "firmware": rig.firmware is None and "BIOS",
        "display": _pixels(rig) is None and f"{_USUAL_DISPLAY[0]}x{_USUAL_DISPLAY[1]}",
        "graphics": rig.graphics is None and "a standard adapter",
        "network": rig.network is None and "a network of its own",
    }
    return Build(
        memory=max((rig.memory or 0) // _MIB, 1) * _MIB,
        disk=rig.disk or 0,
        processors=rig.processors or _USUAL_PROCESSORS,
        firmware=rig.firmware or "bios",
        secure_boot=bool(rig.secure_boot),
        display=_pixels(rig) or _USUAL_DISPLAY,
        adapter=_adapter(rig) or "std",
        network=not _NO_NETWORK & set((rig.network or "").casefold().split()),
        open=tuple(f"{what}: {instead}" for what, instead in taken.items() if instead),
        unkept=tuple(_unkept(rig)),
    )


def _unkept(rig: Rig) -> Iterator[str]:
    """What a card says and no such machine can be, each in a few words."""
    if rig.graphics is not None and _adapter(rig) is None:
        yield f"graphics: {rig.graphics}"
    if rig.display is not None and _pixels(rig) is None:
        yield f"display: {rig.display}"
    if rig.secure_boot and rig.firmware != "uefi":
        yield "secure boot, as its firmware is not UEFI"
    if rig.memory and rig.memory % _MIB:
        yield "memory to the byte: whole MiB"


def _pixels(rig: Rig) -> tuple[int, int] | None:
    match = _SIZE.fullmatch((rig.display or "").strip())
    return None if match is None else (int(match[1]), int(match[2]))


def _adapter(rig: Rig) -> Adapter | None:
    words = re.findall(r"[a-z]+", (rig.graphics or "").casefold())
    return next((_ADAPTERS[word] for word in words if word in _ADAPTERS), None)
