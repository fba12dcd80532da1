"""What a person waits for with a hand on the other machine: one cue, and the time it is given."""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from pathlib import Path

from bench.measure import BIN, in_turn, process
from metrograph.log.quantities.times import parse_time

BARE = "import typer\napp = typer.Typer()\n\n@app.command()\ndef word() -> None:\n    print('word')\n\napp()\n"
RELEASE, RUN = "larkmoor-8.0-heron", "larkmoor-8.0-heron-1"


def cue(rounds: int = 41) -> list[str]:
    """`metrograph cue` in a log of 60 cues, against a Typer command that prints a word."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        _open_run(folder)
        (folder / "bare.py").write_text(BARE)
        ours = process([BIN / "metrograph", "cue", "keep", "swap", "=", "file"], folder)
        bare = process([sys.executable, folder / "bare.py"], folder)
        one, two, ratio = in_turn(ours, bare, rounds)
    return [
        "one cue, whole process",
        f"{one * 1000:.0f} ms",
        "a bare Typer command that prints a word",
        f"{two * 1000:.0f} ms",
        f"{ratio:.2f}",
        "at most 1.3",
    ]


def stamp(rounds: int = 40) -> list[str]:
    """How long after the call the cue's time is."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        anchor = _open_run(folder)
        late = []
        for _ in range(rounds):
            before = time.clock_gettime(time.CLOCK_BOOTTIME)
            said = process([BIN / "metrograph", "cue", "wait"], folder)()
            late.append(anchor + (parse_time(said.split()[1]) or 0) / 1000 - before)
    off = [abs(each) * 1000 for each in late]
    return [
        "time of a cue",
        f"off by {statistics.median(off):.0f} ms, worst of {rounds}: {max(off):.0f} ms",
        "the moment before its process is started",
        "",
        "",
        "within 30 ms",
    ]


def _open_run(folder: Path) -> float:
    """Opens a run and gives its log 60 cues; returns the clock's reading at its beginning, in seconds."""
    for words in (["init"], ["release", "new", RELEASE], ["rig", "new", "bench-vm"], ["begin", RELEASE]):
        process([BIN / "metrograph", *words], folder)()
    log = folder / f"runs/{RUN}.metro"
    clock = next(line.split()[2] for line in log.read_text().splitlines() if line.startswith("clock:"))
    log.write_text(log.read_text() + "".join(f"0:00 screen Screen {number}\n    kind: other\n" for number in range(60)))
    return float(clock)
