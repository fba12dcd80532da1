"""Turns what a person names (a run, a release, a log's path) into runs of a store, or says what was meant."""

from __future__ import annotations

from pathlib import Path

import msgspec

from metrograph.errors import MetrographError
from metrograph.store.local.files import read_bytes
from metrograph.store.local.logbook import ENDING, Logbook, shown_path
from metrograph.store.names import unknown
from metrograph.store.protocol import Store


class Selected(msgspec.Struct, frozen=True):
    """What one name stands for: runs of a store."""

    name: str
    store: Store
    runs: tuple[str, ...]


def select(logbook: Logbook | None, name: str) -> Selected:
    """The runs that a name stands for: a log file's path, a run, or a release with all its runs."""
    path = Path(name)
    if path.suffix == ENDING or "/" in name:
        return log_file(path)
    if logbook is None:
        raise MetrographError(f"“{name}” is not a log file, and there is no logbook here to look it up in")
    if logbook.has(name):
        return Selected(name, logbook, (name,))
    runs = logbook.run_names(name)
    if not runs:
        if logbook.card("releases", name).is_file():
            raise MetrographError(f"{name} has no runs yet; “metrograph begin {name} --rig RIG” begins one")
        known = sorted({*logbook.run_names(), *logbook.card_names("releases")})
        raise unknown("run or release", name, known, "“metrograph runs” lists them")
    return Selected(name, logbook, tuple(runs))


def find_run(store: Store, named: str | None) -> str:
    """The run that was named, or else the only one that is open; raises MetrographError when it cannot be told."""
    if named is not None:
        if not store.has(named):
            raise unknown("run", named, store.run_names(), "“metrograph runs” lists them")
        return named
    runs = store.open_runs()
    if not runs:
        raise MetrographError(
            "no run is open; “metrograph begin RELEASE --rig RIG” begins one, --run names one that has ended"
        )
    if len(runs) > 1:
        raise MetrographError(f"several runs are open ({', '.join(runs)}): say which with --run")
    return runs[0]


def log_file(path: Path) -> Selected:
    """One log that lies somewhere else."""
    from metrograph.store.memory import MemoryStore

    store = MemoryStore()
    store.put(path.stem, read_bytes(path, "run log"), shown_path(path))
    return Selected(path.stem, store, (path.stem,))
