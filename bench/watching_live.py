"""How much of a core `watch` takes at rest, and how soon it proposes a screen: `python -m bench.watching_live`."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from statistics import median

import numpy as np
from tests.watch.server import Server, hello, raw, update

from bench.films.painter import paint
from bench.measure import BIN, ENVIRONMENT, process
from bench.watching_speed import shown, theme

SIZE = (1280, 800)
_EACH, _REST = 6.0, 40.0  # seconds that a screen is in front, and that nothing happens in the end
_SCREENS = 10
_TICKS = os.sysconf("SC_CLK_TCK")


class _Display:
    """Shows one screen after the other to whoever is connected, and then nothing new."""

    def __init__(self) -> None:
        pictures = [np.asarray(paint(theme(SIZE, 1), screen)) for at, screen in shown(_SCREENS) if at % 30 == 0]
        self._pictures, self.came, self.over = pictures, list[float](), threading.Event()
        self.server = Server(stay=_REST + 10)
        self.server.parts = self._parts()  # type: ignore[assignment]  # told as time goes by

    def _parts(self) -> Iterator[bytes]:
        yield from hello(size=SIZE)
        for picture in self._pictures:
            yield update(raw(0, 0, picture))
            self.came.append(time.monotonic())
            time.sleep(_EACH)
        self.over.set()


def main() -> None:
    """Prints the table."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for words in (["init"], ["release", "new", "larkmoor-9.0-heron"], ["rig", "new", "bench-vm"]):
            process([BIN / "metrograph", *words], folder)()
        display = _Display()
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
    delays = [
        first - came
        for came in display.came[1:]
        if (first := next((at for at, line in said if came < at < came + _EACH and "  screen " in line), None))
    ]
    print("| what | measured |\n| --- | --- |")
    print(f"| of a core, while a display of 1280x800 stands still | {rest:.1%} |")
    if len(delays) < len(display.came) - 1:
        print(*said, sep="\n", file=sys.stderr)
    print(
        f"| from a screen's coming to its proposal, median of {len(delays)} of {len(display.came) - 1} | {median(delays):.1f} s |"
    )
    print(f"| the longest | {max(delays):.1f} s |")


def _lines(child: subprocess.Popen[str]) -> Iterator[tuple[float, str]]:
    for line in child.stdout or ():
        yield time.monotonic(), line


def _worked(pid: int) -> float:
    """Seconds that a process has computed."""
    fields = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()
    return (int(fields[11]) + int(fields[12])) / _TICKS


if __name__ == "__main__":
    main()
