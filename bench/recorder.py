"""The recorder in a real terminal, beside an empty program of the same kind: memory, idle load, key to screen."""

from __future__ import annotations

import os
import statistics
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pexpect

from bench.measure import BIN, ENVIRONMENT, process
from metrograph.demo import copy_demo

_EMPTY = """
from textual.app import App
from textual.widgets import Input
class Empty(App):
    def compose(self):
        yield Input(placeholder="Enter: ")
Empty().run()
"""
_IDLE = 20  # seconds
_KEYS = "screen Kettle and some more words to type"
Figures = tuple[float, float, float]


def rows() -> list[list[str]]:
    """Three rows for the table of all benchmarks."""
    ours, empty = _ours(), _empty()
    names = ("recorder: memory", "recorder: one core, idle", "recorder: key to screen, median")
    wanted = ("under 100 MiB", "under 5 %", "under 50 ms")
    units = ("{:.0f} MiB", "{:.1f} %", "{:.0f} ms")
    return [
        [name, unit.format(one), "an empty Textual program with an input line", unit.format(two), f"{one / max(two, 0.1):.1f}", limit]
        for name, unit, one, two, limit in zip(names, units, ours, empty, wanted, strict=True)
    ]  # fmt: skip


def _ours() -> Figures:
    """With a plan, and a log of 59 cues."""
    with tempfile.TemporaryDirectory() as name:
        book = copy_demo(Path(name) / "demo")
        begin = ["begin", "larkmoor-8.0-heron", "--rig", "bench-vm", "--like", "larkmoor-7.0-heron"]
        run = process([BIN / "metrograph", *begin], book.path)().split()[0]
        cues = book.log("larkmoor-8.0-heron-1").read_text().partition("\n\n")[2].partition("28:10 end")[0]
        book.log(run).write_text(book.log(run).read_text() + cues)
        with _terminal([str(BIN / "metrograph"), "record"], book.path) as child:
            return _measure(child)


def _empty() -> Figures:
    with tempfile.TemporaryDirectory() as name, _terminal([sys.executable, "-c", _EMPTY], Path(name)) as child:
        return _measure(child)


@contextmanager
def _terminal(words: list[str], folder: Path) -> Iterator[pexpect.spawn[str]]:
    environment = dict(ENVIRONMENT) | {"TERM": "xterm-256color", "LC_ALL": "C.UTF-8"}
    child = pexpect.spawn(
        words[0], words[1:], cwd=str(folder), dimensions=(24, 80), encoding="utf-8", env=environment, timeout=60
    )
    child.delaybeforesend = None
    child.expect("Enter: ")
    _drain(child, 2)
    yield child
    child.close(force=True)


def _measure(child: pexpect.spawn[str]) -> Figures:
    """MiB resident, percent of one core over some idle seconds, median milliseconds from key to screen."""
    before, since = _cpu(child), time.monotonic()
    _drain(child, _IDLE)
    load = 100 * (_cpu(child) - before) / (time.monotonic() - since)
    latency = statistics.median(_latency(child, key) for key in _KEYS) * 1000
    return _resident(child), load, latency


def _latency(child: pexpect.spawn[str], key: str) -> float:
    started = time.perf_counter()
    child.send(key)
    while key not in child.read_nonblocking(65536, timeout=5):
        pass
    seconds = time.perf_counter() - started
    _drain(child, 0.1)
    return seconds


def _drain(child: pexpect.spawn[str], seconds: float) -> None:
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        try:
            child.read_nonblocking(65536, timeout=0.02)
        except pexpect.TIMEOUT:
            continue


def _cpu(child: pexpect.spawn[str]) -> float:
    """Seconds of processor time so far."""
    fields = Path(f"/proc/{child.pid}/stat").read_text().rpartition(")")[2].split()
    return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")


def _resident(child: pexpect.spawn[str]) -> float:
    lines = Path(f"/proc/{child.pid}/status").read_text().splitlines()
    return next(int(line.split()[1]) for line in lines if line.startswith("VmRSS")) / 1024
