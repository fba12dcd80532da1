"""Time against size: each reader on n things and on twice as many, so that one log cannot hold up a whole logbook."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from datetime import UTC, datetime

from metrograph.compare.flow_records import Side
from metrograph.intake.notes import Notes
from metrograph.ledgers.comparison import compare
from metrograph.log.cues import Log
from metrograph.log.lexicon import load_lexicon
from metrograph.log.reader import read_log
from metrograph.privacy.leaks import blot, leak_warnings
from metrograph.privacy.mask import Mask
from metrograph.run.cards import Release
from metrograph.run.folding.fold import fold
from metrograph.run.warnings import warnings
from metrograph.show.charts.layouts.lanes_layout import lay_lanes
from metrograph.show.report.model import Drawing
from metrograph.show.report.run import run_report
from metrograph.show.terminal.terminal_writer import write
from metrograph.show.terminal.text import Medium
from metrograph.store.local.card_files import parse_card

HEADINGS = ["reader", "n", "time", "of 2n", "ratio"]
_BEGUN = datetime(2026, 5, 2, tzinfo=UTC).isoformat()


def _log(lines: Iterator[str]) -> Log:
    body = "".join(f"{second // 60}:{second % 60:02} {line}\n" for second, line in enumerate(lines))
    return read_log(f"metrograph 1\nrelease: a-1\nrig: b\nbegun: {_BEGUN}\n\n{body}")[0]


def _show(count: int, *lines: str) -> None:
    """Reads, folds, masks and shows a run of so many of each line."""
    run = fold(_log(line.format(n) for n in range(count) for line in lines), "a-1")
    write(run_report(Mask([run]).apply(run), Drawing("lanes", lay_lanes([run]), "a")), Medium(width=80))


def _lint(count: int, line: str) -> None:
    log = _log(line.format(n) for n in range(count))
    warnings(log, load_lexicon(), None)
    leak_warnings(log)


def _compare(count: int) -> None:
    sides = [
        Side(name, (fold(_log(f"screen {name}{n} of {n * 7}" for n in range(count)), f"{name}-1"),))
        for name in ("one", "two")
    ]
    compare(sides)


_READERS: tuple[tuple[str, int, Callable[[int], object]], ...] = (
    ("lint of notes", 5000, lambda n: _lint(n, "note This is remark {} about a key")),
    ("lint of secrets", 5000, lambda n: _lint(n, "note the password is hunter{}x")),
    ("show of issues and fixes", 4000, lambda n: _show(n, "issue a-{}: x", "fix a-{}: y")),
    ("show of one issue again and again", 8000, lambda n: _show(n, "issue a: x {}")),
    ("show of attempts", 4000, lambda n: _show(n, "screen Disk", "fail x", "retry")),
    ("show of screens", 4000, lambda n: _show(n, "screen Disk {}")),
    ("show of tasks", 4000, lambda n: _show(n, "task a-{}: x")),
    ("show of names and texts that hold them", 2000, lambda n: _show(n, "enter user name = Name{}x", "note Name{}x")),
    ("a line of secrets, blotted", 15_000, lambda n: blot("password=abc1 " * n)),
    ("notes in plain lines", 20_000, lambda n: list(Notes(b"0:01 screen Disk\n" * n, "n.txt").events())),
    ("notes in captions", 20_000, lambda n: list(Notes(b"0:01.000 --> 0:02.000\nwait\n\n" * n, "n.vtt").events())),
    ("compare of unlike screens", 200, _compare),
    ("a card of unknown keys", 4000, lambda n: parse_card("".join(f"k{i} = 1\n" for i in range(n)), Release, "a.toml")),
)  # fmt: skip


def rows() -> list[list[str]]:
    """A row each: the least of three times, for n and for 2n."""
    return [_row(name, count, work) for name, count, work in _READERS]


def _row(name: str, count: int, work: Callable[[int], object]) -> list[str]:
    one, two = (min(_seconds(work, size) for _ in range(3)) for size in (count, 2 * count))
    return [name, f"{count:,}", f"{one:.2f} s", f"{two:.2f} s", f"{two / one:.1f}"]


def _seconds(work: Callable[[int], object], size: int) -> float:
    start = time.perf_counter()
    work(size)
    return time.perf_counter() - start


if __name__ == "__main__":
    for row in rows():
        print(f"| {' | '.join(row)} |")
