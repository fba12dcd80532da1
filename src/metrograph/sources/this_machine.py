"""Describes the machine it runs on as a rig, from what the system tells everybody; no names, no serial numbers."""

from __future__ import annotations

import os
import re
from pathlib import Path

from metrograph.run.cards import Rig


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
