"""How many keys a run costs at the recorder: without a plan, and with an earlier run as its plan."""

from __future__ import annotations

import tempfile
from collections.abc import Sequence
from pathlib import Path

from bench.typist import record
from metrograph.demo import copy_demo
from metrograph.log.cues import Cue, Header
from metrograph.log.reader import read_log
from metrograph.log.writer import format_line
from metrograph.services.live.session import Session
from metrograph.store.clock import now
from metrograph.store.local.logbook import Logbook, make_logbook

FIRST, SECOND, REPEAT = "larkmoor-7.0-heron-1", "larkmoor-8.0-heron-1", "larkmoor-7.0-heron-2"
_JUDGED = frozenset({"verdict"})
_OWN_WORDS = frozenset({"verdict", "note", "issue", "tweak", "add"})


def keys_of(run: str, like: str | None, without: frozenset[str] = frozenset(), most: int | None = None) -> list[str]:
    """The keys that record a run of the demo.

    like: the run that is its plan, the only other in the logbook; None for a first run in an empty one.
    without: verbs whose cues are left out.
    most: how many cues, from the first; None for all.
    """
    with tempfile.TemporaryDirectory() as name:
        demo, book = copy_demo(Path(name) / "demo"), Logbook(Path(name) / "own")
        make_logbook(book.path)
        if like is not None:
            book.log(like).write_bytes(demo.log(like).read_bytes())
        session = open_session(book, run.rpartition("-")[0], like)
        return record(session, cues_of(demo, run, without)[:most])


def open_session(book: Logbook, release: str, like: str | None) -> Session:
    """A recorder on a run that has just begun."""
    present = now()
    others = (("like", like),) if like else ()
    return Session(book, book.begin(Header(release, "bench-vm", present.wall, others), present), now)


def cues_of(demo: Logbook, run: str, without: frozenset[str] = frozenset()) -> list[Cue]:
    """The cues of a run of the demo, in their order."""
    return [cue for cue in read_log(demo.log(run).read_text())[0].cues if cue.verb not in without]


def rows() -> list[list[str]]:
    """The table: what is recorded, keys of the first release, keys of the second, and their ratio."""
    kinds: dict[str, frozenset[str]] = {
        "every cue": frozenset(),
        "without the verdict, which is written afterwards": _JUDGED,
        "without cues that are the reviewer's own sentences": _OWN_WORDS,
    }
    return [_row(what, keys_of(FIRST, None, each), keys_of(SECOND, FIRST, each)) for what, each in kinds.items()]


def repeat() -> list[str]:
    """The same for a second run of the first release."""
    return _row("every cue, the first release once more", keys_of(FIRST, None), keys_of(REPEAT, FIRST))


def characters(run: str) -> int:
    """What it takes to type a run in full, with a key behind each cue."""
    with tempfile.TemporaryDirectory() as name:
        return sum(len(format_line(cue)) + 1 for cue in cues_of(copy_demo(Path(name) / "demo"), run))


def _row(what: str, first: Sequence[str], second: Sequence[str]) -> list[str]:
    return [what, str(len(first)), str(len(second)), f"{len(second) / len(first):.2f}"]
