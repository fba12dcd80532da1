"""Values with a form of their own: figures, partitions, swap."""

from __future__ import annotations

import re

from metrograph.language.sizes import parse_size
from metrograph.model.layouts import Part, Swap

_NUMBER = r"([+-]?[0-9]{1,18}(?:\.[0-9]{1,9})?)(?:\s*(\S.*))?"


def parse_number(text: str) -> tuple[float, str] | None:
    """A number and its unit (empty when it has none); None when it does not begin with a number."""
    found = re.fullmatch(_NUMBER, text)
    return (float(found[1]), found[2] or "") if found else None


def parse_part(text: str) -> Part | None:
    """A partition: mount point, file system and size (``/boot/efi fat32 300 MiB``); None when it has another form."""
    words = text.split(maxsplit=2)
    size = parse_size(words[2]) if len(words) == 3 else None
    return None if size is None else Part(mount=words[0], filesystem=words[1], size=size)


def parse_swap(text: str) -> Swap | None:
    """Swap: ``none``, ``file 2 GiB``, ``partition 4 GiB``, the same without a size; None when it has another form."""
    how, _, rest = text.partition(" ")
    size = parse_size(rest) if rest else None
    if how not in {"none", "file", "partition"} or (rest and size is None) or (how == "none" and rest):
        return None
    return Swap(how=how, size=size)
