"""How much of a core `watch` takes at rest, and how soon it proposes a screen, idle and with all cores at work.

python -m bench.watching_live [idle] [busy]
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from itertools import pairwise
from pathlib import Path
from statistics import median
from typing import NamedTuple

import numpy as np
from tests.watch.server import Server, hello, raw, update

from bench.films.painter import paint
from bench.measure import BIN, ENVIRONMENT, process
from bench.watching_speed import shown, theme

SIZE = (1280, 800)
_REST = 40.0  # seconds in the end in which nothing happens
_WAYS = {"idle": (False, 10, 6.0), "busy": (True, 10, 6.0), "hurried": (True, 70, 1.5)}
"""Whether twice as many processes as there are cores work meanwhile; screens, and for how many seconds each is there."""
_TICKS = os.sysconf("SC_CLK_TCK")


class _Display:
    """Shows one screen after the other to whoever is connected, and then nothing new."""

    def __init__(self, screens: int, each: float) -> None:
        pictures = [np.asarray(paint(theme(SIZE, 1), screen)) for at, screen in shown(screens) if at % 30 == 0]
        self._each = each
        self._pictures, self.came, self.over = pictures, list[float](), threading.Event()
        self.server = Server(stay=_REST + 10)
        self.server.parts = self._parts()  # type: ignore[assignment]  # told as time goes by

    def _parts(self) -> Iterator[bytes]:
        yield from hello(size=SIZE)
        for picture in self._pictures:
            yield update(raw(0, 0, picture))
            self.came.append(time.monotonic())
            time.sleep(self._each)
        self.over.set()


class Watched(NamedTuple):
    """What became of the screens of one display. delays: seconds until each was proposed; rest: of a core, 0 to 1."""

    screens: int
    delays: list[float]
    kept: int
    rest: float


def watched(busy: bool, screens: int, each: float) -> Watched:
    """Lets the command watch a display, as ``_WAYS`` has it."""
    with tempfile.TemporaryDirectory() as name, _load(2 * (os.cpu_count() or 1) if busy else 0):
        folder = Path(name)
        for words in (["init"], ["release", "new", "larkmoor-9.0-heron"], ["rig", "new", "bench-vm"]):
            process([BIN / "metrograph", *words], folder)()
        display = _Display(screens, each)
        words = ["watch", f"rfb://127.0.0.1:{display.server.port}", "larkmoor-9.0-heron", "--rig", "bench-vm"]
        child = subprocess.Popen(
            [BIN / "metrograph", *words], cwd=folder, env=ENVIRONMENT, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
        )  # fmt: skip
        said: list[tuple[float, str]] = []
        threading.Thread(target=lambda: said.extend(_lines(child)), daemon=True).start()
        display.over.wait()
        before, began = _worked(child.pid), time.monotonic()
        time.sleep(_REST)
        rest = (_worked(child.pid) - before) / (time.monotonic() - began)
        child.terminate()
        child.wait()
        draft = next((folder / "drafts").glob("*.metro")).read_text()
    told = [at for at, line in said if "  screen " in line and "(it was none)" not in line]
    came = display.came
    delays = [
        first - at
        for at, until in pairwise([*came, float("inf")])
        if (first := next((each for each in told if at < each < until), None))
    ]
    return Watched(len(came), delays, len(re.findall(r"(?m)^[0-9:.]+ screen ", draft)), rest)


@contextmanager
def _load(count: int) -> Iterator[None]:
    """So many processes that compute without end."""
    working = [subprocess.Popen([sys.executable, "-c", "while True: pass"]) for _ in range(count)]
    try:
        yield
    finally:
        for each in working:
            each.kill()
            each.wait()


def main() -> None:
    """Prints the table."""
    print("| machine | of a core at rest | screens in the draft | proposed, median | proposed, longest |")
    print("| --- | --- | --- | --- | --- |")
    for way in sys.argv[1:] or _WAYS:
        found = watched(*_WAYS[way])
        median_, longest = (f"{how(found.delays):.1f} s" for how in (median, max))
        print(f"| {way} | {found.rest:.1%} | {found.kept} of {found.screens} | {median_} | {longest} |", flush=True)


def _lines(child: subprocess.Popen[str]) -> Iterator[tuple[float, str]]:
    for line in child.stdout or ():
        yield time.monotonic(), line


def _worked(pid: int) -> float:
    """Seconds that a process has computed."""
    fields = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()
    return (int(fields[11]) + int(fields[12])) / _TICKS


if __name__ == "__main__":
    main()
