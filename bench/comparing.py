"""Comparing two runs of 60 screens, beside importing what that needs."""

from __future__ import annotations

import sys
import tempfile
from collections.abc import Iterable
from pathlib import Path

from bench.measure import BIN, in_turn, process

HEADER = "metrograph 1\nrelease: larkmoor-{0}-heron\nrig: bench-vm\nbegun: 2026-05-02T10:04:11+02:00\n\n"
IMPORTS = (
    "import metrograph.faces.cli.main, metrograph.faces.cli.reviewing.compare, metrograph.ledgers.comparison, metrograph.compare.contrasts,"
    " metrograph.show.charts.layouts.lanes_layout, metrograph.show.report.comparing.comparison_report, tomllib"
)


def compare(rounds: int = 21) -> list[str]:
    """`metrograph compare` of two logs with 60 screens each, a third of them renamed, moved, new or gone."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        (folder / "a.metro").write_text(_log("7.0", range(60)))
        (folder / "b.metro").write_text(_log("8.0", [*range(10, 30), *range(10), *range(35, 65)]))
        ours = process([BIN / "metrograph", "compare", "a.metro", "b.metro"], folder)
        imports = process([sys.executable, "-c", IMPORTS], folder)
        one, two, ratio = in_turn(ours, imports, rounds)
    return [
        "compare two runs of 60 screens, whole process",
        f"{one * 1000:.0f} ms",
        "a process that imports the same and ends",
        f"{two * 1000:.0f} ms",
        f"{ratio:.2f}",
        "under 2",
    ]


def _log(version: str, numbers: Iterable[int]) -> str:
    text = HEADER.format(version)
    for place, number in enumerate(numbers):
        minutes, word = place // 2, "abcdefghij"[number % 10] * 3 + f" {number}"
        title = word if number % 7 else f"{word} in {version}"
        text += f"{minutes}:{place % 2 * 30:02} screen {title}\n{minutes}:{place % 2 * 30 + 5:02} keep key {number} = {version}\n"
    return text + "59:00 end done\n"
