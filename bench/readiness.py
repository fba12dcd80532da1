"""Before and after: summing up an image, probing this system, and ledgers over ten thousand runs."""

from __future__ import annotations

import os
import random
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from bench.measure import BIN, ENVIRONMENT, in_turn, process
from metrograph.demo import copy_demo
from metrograph.ledgers.digests.digest import digest
from metrograph.store.local.checksums import read_image
from metrograph.store.reading import LogReader

RUNS, _SOME = 10_000, 200
_GIB = 1 << 30


def image(rounds: int = 5) -> list[str]:
    """Reading an image of 1 GiB for its SHA-256, against the platform's own command."""
    with tempfile.TemporaryDirectory() as name:
        path = Path(name) / "image.iso"
        block = random.Random(1).randbytes(1 << 20)
        with path.open("wb") as file:
            for _ in range(_GIB >> 20):
                file.write(block)
        ours, theirs, ratio = in_turn(
            lambda: read_image(path, {"sha256"}), process(["sha256sum", path], Path(name)), rounds
        )
    return ["reading an image of 1 GiB", f"{_GIB / ours / 1e6:.0f} MB/s", "sha256sum", f"{_GIB / theirs / 1e6:.0f} MB/s",
            f"{ratio:.2f}", "the speed of the hash"]  # fmt: skip


def probe(rounds: int = 5) -> list[str]:
    """The probe's script on this system, whole process."""
    with tempfile.TemporaryDirectory() as name:
        script = Path(name) / "probe.py"
        script.write_text(process([BIN / "metrograph", "probe", "--script"], Path(name))())
        run, bare, ratio = in_turn(
            process([sys.executable, script], Path(name)), process([sys.executable, "-c", "pass"], Path(name)), rounds
        )
    return [
        "probe, whole process",
        f"{run * 1000:.0f} ms",
        "a Python that does nothing",
        f"{bare * 1000:.0f} ms",
        f"{ratio:.1f}",
        "under 2 s",
    ]


def ledgers() -> list[list[str]]:
    """`metrograph readings` over a generated logbook: the first call, which reads all logs, and later ones."""
    with tempfile.TemporaryDirectory() as name:
        book = copy_demo(Path(name) / "demo")
        cues = _generate(book.runs)
        words: list[str | Path] = [BIN / "metrograph", "readings"]
        first, memory = _timed(words, book.path)
        calls = [_timed(words, book.path) for _ in range(5)]
        later, kept = statistics.median(seconds for seconds, _ in calls), max(mebibytes for _, mebibytes in calls)
        others = {
            ledger: statistics.median(_timed([BIN / "metrograph", *ledger.split()], book.path)[0] for _ in range(3))
            for ledger in ("issues", "effort", "trend desktop")
        }
        bare = statistics.median(_timed([*words[:1], "--version"], book.path)[0] for _ in range(5))
    size = f"{RUNS:,} runs, {cues:,} cues"
    return [
        [f"readings of {size}: first call", f"{first:.1f} s, {memory:.0f} MiB", "the second call", f"{later:.2f} s", f"{first / later:.0f}", ""],
        ["the same: second call", f"{later:.2f} s, {kept:.0f} MiB", "metrograph --version", f"{bare:.2f} s", f"{later / bare:.1f}", "a second"],
        *([f"{ledger} of the same, second call", f"{took:.2f} s", "metrograph --version", f"{bare:.2f} s", f"{took / bare:.1f}", "a second"]
          for ledger, took in others.items()),
    ]  # fmt: skip


def digesting(rounds: int = 15) -> list[str]:
    """A run of 60 cues read, folded and digested, beside reading it alone."""
    with tempfile.TemporaryDirectory() as name:
        book = copy_demo(Path(name) / "demo")
        _generate(book.runs, _SOME)
        reader, runs = LogReader(book), [run for run in book.run_names() if run.startswith("moor")]
        whole, reading, ratio = in_turn(
            lambda: [digest(reader.run(run)) for run in runs], lambda: [reader.log(run) for run in runs], rounds
        )
    return [
        "a run of 60 cues read, folded and digested", f"{whole / len(runs) * 1000:.2f} ms", "reading it alone",
        f"{reading / len(runs) * 1000:.2f} ms", f"{ratio:.1f}", "",
    ]  # fmt: skip


def _generate(folder: Path, runs: int = RUNS) -> int:
    """Logs of 60 cues each, in a hundred releases; returns how many cues there are."""
    chance = random.Random(7)
    screens = [
        "Language",
        "Where are you?",
        "Keyboard",
        "Package source",
        "Software",
        "Disk",
        "Your account",
        "Write the changes?",
    ]
    for number in range(runs):
        release = f"moor-{number % 100 + 1}.0-heron"
        lines = [f"metrograph 1\nrelease: {release}\nrig: bench-vm\nbegun: 2026-01-01T10:00:00Z\n"]
        at = 0
        for screen in screens:
            for words in (f"screen {screen}", *(f"keep key{key} = {chance.randrange(9)}" for key in range(4))):
                at += chance.randrange(1, 20)
                lines.append(f"{at // 60}:{at % 60:02} {words}")
        lines += [f"{at // 60 + 1}:00 screen Copying files", f"{at // 60 + 9}:00 phase desktop"]
        lines += [
            f"{at // 60 + 10}:0{i} reading {name} = {chance.randrange(500, 999)} MiB\n    load: rest"
            for i, name in enumerate(("memory", "disk used"))
        ]
        lines += [f"{at // 60 + 11}:{i:02} fact part{i} = {chance.randrange(9)}.{i}" for i in range(8)]
        lines += [f"{at // 60 + 12}:{i:02} check trial{i}: pass" for i in range(7)]
        lines.append(f"{at // 60 + 13}:00 end done\n")
        (folder / f"{release}-{number // 100 + 1}.metro").write_text("\n".join(lines))
    return runs * 60


def _timed(words: list[str | Path], folder: Path) -> tuple[float, float]:
    """Seconds of a whole process, and the most MiB that it had."""
    started = time.perf_counter()
    child = subprocess.Popen(words, cwd=folder, env=ENVIRONMENT, stdout=subprocess.DEVNULL)
    _, status, used = os.wait4(child.pid, 0)
    child.returncode = status
    return time.perf_counter() - started, used.ru_maxrss / 1024
