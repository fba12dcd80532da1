"""Runs all benchmarks and prints their table, as it stands in docs/performance.md: `make bench`."""

from __future__ import annotations

import platform
import sys
from datetime import date

from bench import (
    aligning,
    comparing,
    growing,
    judging,
    keystrokes,
    power,
    publishing,
    readiness,
    reading,
    recorder,
    recording,
)
from bench.measure import compile_sources

HEADINGS = ["what", "figure", "beside", "its figure", "ratio", "wanted"]
POWER = ["runs", "no difference: one figure", "one of eight", "20 % longer: one figure", "one of eight"]
KEYS = ["keys to record, at the recorder", "first release, no plan", "next release, with the first as plan", "ratio"]


def main() -> None:
    """Prints the tables, a row as soon as it is measured."""
    compile_sources()
    print(
        f"Measured on {date.today().isoformat()}, Python {platform.python_version()}, medians of alternating rounds.\n"
    )
    _head(HEADINGS)
    for measure in (
        recording.cue,
        recording.stamp,
        reading.sound,
        reading.faulty,
        comparing.compare,
        aligning.pairwise,
        aligning.hundred,
        aligning.thousand,
        readiness.image,
        readiness.probe,
        readiness.digesting,
        judging.speed,
        judging.software,
    ):
        _row(measure())
    for row in [*readiness.ledgers(), *publishing.rows(), *recorder.rows()]:
        _row(row)
    _table(["flows of 60 screens", "precision", "recall"], aligning.quality())
    _table(["merging", "time"], aligning.growth())
    _table(growing.HEADINGS, growing.rows())
    _table(POWER, power.rows())
    _table(judging.CALIBRATION, judging.calibration())
    print()
    _head(KEYS)
    for row in [*keystrokes.rows(), keystrokes.repeat()]:
        _row(row)
    first, second = (keystrokes.characters(run) for run in (keystrokes.FIRST, keystrokes.SECOND))
    _row(["every cue, typed in full", str(first), str(second), ""])


def _table(headings: list[str], rows: list[list[str]]) -> None:
    print()
    _head(headings)
    for row in rows:
        _row(row)


def _head(headings: list[str]) -> None:
    _row(headings)
    _row(["---"] * len(headings))


def _row(cells: list[str]) -> None:
    print(f"| {' | '.join(cells)} |")
    sys.stdout.flush()


if __name__ == "__main__":
    main()
