"""Says in words what stands on a disk."""

from __future__ import annotations

from metrograph.log.quantities.sizes import show_size
from metrograph.run.disk.layouts import Layout, Segment, segments


def disk_title(layout: Layout) -> str:
    """How the disk was divided: ``whole disk, gpt, 25 GiB``."""
    size = show_size(layout.disk) if layout.disk is not None else None
    return ", ".join(word for word in (layout.method, layout.table, size) if word)


def segment_lines(layout: Layout) -> list[str]:
    """What stands on it from end to end, a line a piece."""
    systems = {part.mount: part.filesystem for part in layout.parts}
    return [
        " ".join(word for word in (piece.label, systems.get(piece.label), _size(piece)) if word)
        for piece in segments(layout)
    ]


def _size(piece: Segment) -> str:
    return "of unknown size" if piece.size is None else show_size(piece.size)


def other_lines(layout: Layout) -> list[str]:
    """What else was said: swap that is no partition, hibernation, encryption, the boot loader."""
    swap, lines = layout.swap, []
    if swap is not None and (swap.how != "partition" or swap.hibernate):
        size = f" of {show_size(swap.size)}" if swap.size is not None else ""
        lines.append(f"swap: {swap.how}{size}" + (", to hibernate" if swap.hibernate else ""))
    lines += [f"encryption: {layout.encryption}"] if layout.encryption else []
    return lines + ([f"boot loader: {layout.loader}"] if layout.loader else [])


def disk_lines(layout: Layout) -> list[str]:
    """All of it."""
    return [disk_title(layout), *segment_lines(layout), *other_lines(layout)]
