"""Runs all benchmarks and prints their table, as it stands in docs/performance.md: `make bench`."""

from __future__ import annotations

import platform
import sys
from datetime import date

from bench import comparing, reading, recording
from bench.measure import compile_sources

HEADINGS = ["what", "figure", "beside", "its figure", "ratio", "wanted"]


def main() -> None:
    """Prints the table, a row as soon as it is measured."""
    compile_sources()
    print(
        f"Measured on {date.today().isoformat()}, Python {platform.python_version()}, medians of alternating rounds.\n"
    )
    for row in (HEADINGS, ["---"] * len(HEADINGS)):
        print(f"| {' | '.join(row)} |")
    for measure in (recording.cue, recording.stamp, reading.sound, reading.faulty, comparing.compare):
        print(f"| {' | '.join(measure())} |")
        sys.stdout.flush()


if __name__ == "__main__":
    main()
