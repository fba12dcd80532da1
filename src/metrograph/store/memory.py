"""Finds what a person names as runs: of a store, or log files by their paths, which are a store that lies in memory."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from metrograph.core.errors import MetrographError
from metrograph.log.cues import Cue, Header, Log
from metrograph.store.appending import addition, first_text, is_open, revised, whole_text
from metrograph.store.clock import Instant, When
from metrograph.store.ids import split_run, unknown
from metrograph.store.local.files import read_bytes
from metrograph.store.local.logbook import ENDING, Logbook, shown_path
from metrograph.store.protocol import Stamp, Store, Written

if TYPE_CHECKING:
    from metrograph.store.settings import Settings


class MemoryStore:
    """Logs by the names of their runs; a ``Store``. Nothing outlives the process."""

    def __init__(self, settings: Settings | None = None) -> None:
        from metrograph.store.settings import usual_settings  # whoever only looks for a run does without

        self._settings = settings or usual_settings()
        self._logs: dict[str, bytes] = {}
        self._labels: dict[str, str] = {}
        self._kept: dict[str, bytes] = {}

    def put(self, run: str, data: bytes, label: str) -> None:
        """Puts a log in as it is, in the place of one of the same name."""
        self._logs[run], self._labels[run] = data, label

    def run_names(self, release: str | None = None) -> list[str]:
        """The names of all runs, or of one release's, by release and number."""
        return sorted((run for run in self._logs if release in {None, split_run(run)[0]}), key=split_run)

    def strays(self) -> list[str]:
        """None: nothing else can lie here."""
        return []

    def has(self, run: str) -> bool:
        """Whether there is a log of this run."""
        return run in self._logs

    def read(self, run: str) -> bytes:
        """The log of a run as it stands."""
        if run not in self._logs:
            raise MetrographError(f"there is no run log {run}")
        return self._logs[run]

    def label(self, run: str) -> str:
        """What was given with the log, or else the run's name."""
        return self._labels.get(run, run)

    def stamps(self) -> dict[str, Stamp]:
        """Every run with a digest of its log."""
        import hashlib  # takes longer to load than a cue to write

        return {run: tuple(hashlib.blake2b(data, digest_size=8).digest()) for run, data in self._logs.items()}

    def open_runs(self) -> list[str]:
        """The runs that have no end yet."""
        return [run for run in self.run_names() if is_open(self.read(run), run)]

    def begin(self, header: Header, present: Instant) -> str:
        """Opens the next run of the header's release; returns its name."""
        number = max((split_run(run)[1] for run in self.run_names(header.release)), default=0) + 1
        run = f"{header.release}-{number}"
        self._logs[run] = first_text(header, present).encode()
        return run

    def append(self, run: str, cues: Sequence[Cue], when: When, only_new: bool = False) -> Written:
        """Adds cues to a run; see ``Store.append``."""
        data = self.read(run)
        added = addition(data, self.label(run), run, cues, when, only_new)
        if added.whole is not None:
            self._logs[run] = added.whole.encode()
        elif added.end:
            self._logs[run] = data + b"\n" * (not data.endswith(b"\n")) + added.end.encode()
        return Written(added.log, added.cues)

    def revise(self, run: str, changes: Mapping[int, Cue | None]) -> None:
        """Puts other cues in the place of those that begin on some lines; see ``Store.revise``."""
        self._logs[run] = revised(self.read(run), self.label(run), run, changes).encode()

    def add(self, run: str, log: Log) -> bool:
        """Keeps a whole log that came from elsewhere; False when the run is there already."""
        text = whole_text(log, lambda: self._settings.lexicon)
        if run in self._logs:
            return False
        self._logs[run] = text.encode()
        return True

    def card_names(self, group: str) -> list[str]:  # noqa: ARG002 - there are no cards here
        """The names of cards: none, as there are none in memory."""
        return []

    def settings(self) -> Settings:
        """The settings that the store was made with."""
        return self._settings

    def kept(self, name: str) -> bytes | None:
        """Something that was kept; None when it is not there."""
        return self._kept.get(name)

    def keep(self, name: str, data: bytes) -> None:
        """Keeps some bytes under a name until the program ends."""
        self._kept[name] = data


class Selected(msgspec.Struct, frozen=True):
    """The runs of a store that one name stands for."""

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
    runs = runs_of(logbook, name)
    if not runs:
        if logbook.card("releases", name).is_file():
            raise MetrographError(f"{name} has no runs yet; “metrograph begin {name} --rig RIG” begins one")
        known = sorted({*logbook.run_names(), *logbook.card_names("releases")})
        raise unknown("run or release", name, known, "“metrograph runs” lists them")
    return Selected(name, logbook, runs)


def runs_of(store: Store, name: str) -> tuple[str, ...]:
    """The run of this name, or the runs of the release; none where there is neither."""
    return (name,) if store.has(name) else tuple(store.run_names(name))


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

    store = MemoryStore()
    store.put(path.stem, read_bytes(path, "run log"), shown_path(path))
    return Selected(path.stem, store, (path.stem,))
