"""Reading logs, beside reading the same cues as JSON lines."""

from __future__ import annotations

import json
from pathlib import Path

import msgspec

from bench.measure import in_turn
from metrograph.log.reader import read_log

LOGS = Path(__file__).parent.parent / "src/metrograph/demo/logbook/runs"
COPIES = 60


def sound(rounds: int = 15) -> list[str]:
    """The demo's logs, without fault."""
    return _measure("reading logs, one core", [path.read_text() for path in sorted(LOGS.glob("*.metro"))], rounds)


def faulty(rounds: int = 15) -> list[str]:
    """The same with every fiftieth verb misspelt; every fault is located and a near miss looked for."""
    texts = [_misspelt(path.read_text()) for path in sorted(LOGS.glob("*.metro"))]
    return _measure("the same, every fiftieth cue misspelt", texts, rounds)


def _measure(name: str, texts: list[str], rounds: int) -> list[str]:
    cues = [cue for text in texts for cue in read_log(text)[0].cues]
    faults = sum(len(read_log(text)[1]) for text in texts)
    count = (len(cues) + faults) * COPIES
    lines = [json.dumps(msgspec.to_builtins(cue)) for cue in cues]
    ours, plain, ratio = in_turn(
        lambda: [read_log(text) for _ in range(COPIES) for text in texts],
        lambda: [json.loads(line) for _ in range(COPIES) for line in lines],
        rounds,
    )
    return [
        name,
        f"{count / ours:,.0f} cues/s" + (f", {faults * COPIES:,} faults" if faults else ""),
        "json.loads of the same cues, a line each",
        f"{len(cues) * COPIES / plain:,.0f} cues/s",
        f"{ratio:.2f}",
        "at least 80,000",
    ]


def _misspelt(text: str) -> str:
    lines, seen = text.split("\n"), 0
    for index, line in enumerate(lines):
        if line[:1].isdigit():
            seen += 1
            if seen % 50 == 0:
                time, verb, *rest = line.split(" ", 2)
                lines[index] = " ".join([time, verb[:-1] + "z", *rest])
    return "\n".join(lines)
