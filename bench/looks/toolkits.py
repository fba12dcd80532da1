"""Has sheets drawn by whatever draws a look: each toolkit is a program of its own, as two of them never share one."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

import msgspec
import numpy as np
from PIL import Image

from bench.looks.drawing import Order, inner_size
from bench.looks.flow import Sheet
from bench.looks.look import TEXT, Look

_HERE = Path(__file__).parent
_SYSTEM = "/usr/bin/python3"  # what is bound to GTK belongs to the system's own Python


def draw(look: Look, sheets: list[Sheet]) -> list[Image.Image]:
    """The pictures of sheets, as their toolkit draws them; raises CalledProcessError where that is not here."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        order = folder / "order.json"
        order.write_bytes(msgspec.json.encode(Order(look, sheets)))
        if look.family == "gtk3":
            _on_display(folder, [_SYSTEM, str(_HERE / "gtk3.py"), str(order), name, *map(str, inner_size(look))])
        elif look.family == "gtk4":
            memory = str(folder / "Xvfb_screen0")
            _on_display(
                folder, [_SYSTEM, str(_HERE / "gtk4.py"), str(order), name, *map(str, inner_size(look)), memory]
            )
            for number in range(len(sheets)):
                _from_memory(folder / f"{number}.xwd", inner_size(look)).save(folder / f"{number}.png")
        else:
            module = "terminals" if look.family in TEXT else look.family
            subprocess.run(
                [sys.executable, "-m", f"bench.looks.{module}", str(order), name], check=True, capture_output=True,
                cwd=_HERE.parent.parent,
            )  # fmt: skip
        return [Image.open(folder / f"{number}.png").convert("RGB") for number in range(len(sheets))]


def _on_display(folder: Path, words: list[str]) -> None:
    """Runs a program on a virtual display whose memory lies in a folder."""
    screen = ["-screen", "0", "2000x1200x24", "-fbdir", str(folder)]
    subprocess.run(
        ["/usr/bin/xvfb-run", "-a", "-s", " ".join(screen), *words], check=True, capture_output=True,
        env=os.environ | {"GSK_RENDERER": "cairo", "NO_AT_BRIDGE": "1"},
    )  # fmt: skip


def _from_memory(file: Path, size: tuple[int, int]) -> Image.Image:
    """The upper left corner of a display's memory (XWD, version 7)."""
    raw = file.read_bytes()
    head = np.frombuffer(raw[:100], ">u4")
    start, width, height, row = int(head[0] + 12 * head[19]), int(head[4]), int(head[5]), int(head[12])
    pixels = np.frombuffer(raw[start : start + row * height], np.uint8).reshape(height, row // 4, 4)[:, :width, 2::-1]
    return Image.fromarray(pixels[: size[1], : size[0]].copy())
