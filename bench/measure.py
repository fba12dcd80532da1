"""Timing: turn and turn about, so that a machine whose speed drifts does so for both."""

from __future__ import annotations

import compileall
import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable, Sequence
from pathlib import Path

BIN = Path(sys.executable).parent
ROOT = Path(__file__).parent.parent
ENVIRONMENT = {key: value for key, value in os.environ.items() if key != "PYTHONDONTWRITEBYTECODE"}


def compile_sources() -> None:
    """Compiled files are there after an installation; here they are made, so that starts are those of a user."""
    compileall.compile_dir(ROOT / "src", quiet=1)


def process(words: Sequence[str | Path], folder: Path) -> Callable[[], str]:
    """A whole process, from start to end."""

    def run() -> str:
        done = subprocess.run(words, cwd=folder, env=ENVIRONMENT, capture_output=True, text=True, check=True)
        return done.stdout

    return run


def in_turn(first: Callable[[], object], second: Callable[[], object], rounds: int) -> tuple[float, float, float]:
    """Median seconds of each, and the median of the ratios first / second by round, after one round uncounted."""
    pairs = [(_seconds(first), _seconds(second)) for _ in range(rounds + 1)][1:]
    ones, twos = zip(*pairs, strict=True)
    return statistics.median(ones), statistics.median(twos), statistics.median(one / two for one, two in pairs)


def _seconds(work: Callable[[], object]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start
