"""Says what a machine is that was made of a rig's card, and where it is not as the card says."""

from __future__ import annotations

from collections.abc import Iterator

from metrograph.log.quantities.units import show_size
from metrograph.machine.build import Build
from metrograph.words.figure_words import counted


def machine_line(build: Build, accelerated: bool) -> str:
    """The machine in a line, for the header of its run. accelerated: whether the computer's processors ran it."""
    firmware = "UEFI with secure boot" if build.secure_boot else "UEFI" if build.firmware == "uefi" else "BIOS"
    width, height = build.display
    parts = (
        counted(build.processors, "processor"),
        f"memory {show_size(build.memory)}",
        f"disk {show_size(build.disk)}",
        firmware,
        f"{width}x{height}",
        "network" if build.network else "no network",
        "accelerated" if accelerated else "not accelerated",
    )
    return ", ".join(parts)


def kept_lines(rig: str, build: Build) -> Iterator[str]:
    """What the card leaves open, and what it says and the machine is not."""
    if build.open:
        yield f"the card of {rig} leaves open, and so is taken: {'; '.join(build.open)}"
    if build.unkept:
        yield f"the card of {rig} says what such a machine cannot be: {'; '.join(build.unkept)}"
