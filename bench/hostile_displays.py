"""How much memory displays that never stop sending take in a minute: `python -m bench.hostile_displays [SECONDS]`."""

from __future__ import annotations

import itertools
import multiprocessing
import struct
import sys
import time
import zlib
from collections.abc import Iterator
from pathlib import Path

import numpy as np
from tests.watch.server import Packed, Server, head, hello, raw, update

from metrograph.core.errors import MetrographError
from metrograph.watch.inputs.display import Display

_SIZE = (1280, 800)
_EARLY = 4.0  # seconds after which memory is looked at first
_CHANCE = np.random.default_rng(1)


def _noise() -> np.ndarray:
    return _CHANCE.integers(0, 255, (200, 320, 3), np.uint8)


def _noisy() -> Iterator[bytes]:
    for number in itertools.count():
        yield update(raw(320 * (number % 4), 200 * (number // 4 % 4), _noise()))


def _packed() -> Iterator[bytes]:
    packer = Packed()
    for number in itertools.count():
        yield update(packer.rectangle(320 * (number % 4), 0, _noise()))


def _more_than_its_pixels() -> Iterator[bytes]:
    packer = zlib.compressobj()
    while True:
        data = packer.compress(bytes(1_000_000)) + packer.flush(zlib.Z_SYNC_FLUSH)
        yield update(head(0, 0, 0, 0, 6) + struct.pack(">I", len(data)) + data)


def _after_its_end() -> Iterator[bytes]:
    data = zlib.compress(b"")
    while True:
        yield update(head(0, 0, 0, 0, 6) + struct.pack(">I", len(data)) + data)


def _sizes() -> Iterator[bytes]:
    for number in itertools.count():
        yield update(head(0, 0, 640 + number % 1280, 480 + number % 600, -223))


def _clipboards() -> Iterator[bytes]:
    while True:
        yield b"\x03\0\0\0" + struct.pack(">I", 60_000) + bytes(60_000)


def _empty() -> Iterator[bytes]:
    while True:
        yield update(*[head(0, 0, 0, 0, 0)] * 1000)


KINDS = {
    "pixels that change without end": _noisy,
    "the same, packed": _packed,
    "packed bytes for more than the pixels": _more_than_its_pixels,
    "packed bytes after their end": _after_its_end,
    "sizes that change without end": _sizes,
    "clipboards without end": _clipboards,
    "empty rectangles without end": _empty,
}


def watch(kind: str, seconds: float, told: multiprocessing.Queue) -> None:  # type: ignore[type-arg]
    """Watches a display for so long; says how much memory it took early and at the end, in MiB, and how it ended."""
    server = Server(stay=1)
    server.parts = itertools.chain(hello(size=_SIZE), KINDS[kind]())  # type: ignore[assignment]  # told as time goes by
    begun, early, looks, end = time.monotonic(), None, 0, "watched to the end"
    try:
        display = Display("127.0.0.1", server.port)
        while time.monotonic() - begun < seconds:
            display.look(0.2)
            looks += 1
            if early is None and time.monotonic() - begun >= _EARLY:
                early = resident()
    except MetrographError as error:
        end = f"refused: {error}"
    told.put((early, resident(), looks, end))


def resident() -> float:
    """The memory that this process has, in MiB."""
    line = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmRSS"))
    return int(line.split()[1]) / 1024


def main() -> None:
    """Prints a table."""
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 60.0
    context = multiprocessing.get_context("spawn")
    print(f"| a display that sends | after {_EARLY:.0f} s | after {seconds:.0f} s | looks | came of it |")
    print("|---|---|---|---|---|")
    for kind in KINDS:
        told = context.Queue()
        process = context.Process(target=watch, args=(kind, seconds, told), daemon=True)
        process.start()
        early, late, looks, end = told.get(timeout=seconds * 2 + 30)
        process.kill()
        print(f"| {kind} | {f'{early:.0f} MiB' if early else '—'} | {late:.0f} MiB | {looks} | {end} |", flush=True)


if __name__ == "__main__":
    main()
