"""Turns what a person names on the command line (a run, a release, a log's path) into runs that have been read."""

from __future__ import annotations

from functools import cached_property
from pathlib import Path

import msgspec

from metrograph.analysis.fold import fold
from metrograph.analysis.plan import Plan, plan_of
from metrograph.errors import MetrographError
from metrograph.language.reader import read_log_bytes
from metrograph.logbook.files import read_bytes
from metrograph.logbook.folder import ENDING, Logbook, unknown
from metrograph.model.comparison import Side
from metrograph.model.cues import Fault, Log
from metrograph.model.flows import NO_RULINGS, Rulings
from metrograph.model.lexicon import Lexicon, load_lexicon
from metrograph.model.runs import Run


class Selected(msgspec.Struct, frozen=True):
    """What one name stands for: logs by the names of their runs."""

    name: str
    logs: tuple[tuple[str, Path], ...]


def select(logbook: Logbook | None, name: str) -> Selected:
    """The logs that a name stands for: a log file's path, a run, or a release with all its runs."""
    path = Path(name)
    if path.suffix == ENDING or "/" in name:
        return Selected(path.stem, ((path.stem, path),))
    if logbook is None:
        raise MetrographError(f"“{name}” is not a log file, and there is no logbook here to look it up in")
    if logbook.log(name).is_file():
        return Selected(name, ((name, logbook.log(name)),))
    runs = logbook.run_names(name)
    if not runs:
        if logbook.card("releases", name).is_file():
            raise MetrographError(f"{name} has no runs yet; “metrograph begin {name} --rig RIG” begins one")
        known = sorted({*logbook.run_names(), *logbook.cards("releases")})
        raise unknown("run or release", name, known, "“metrograph runs” lists them")
    return Selected(name, tuple((run, logbook.log(run)) for run in runs))


class Reader:
    """Reads logs and keeps what was wrong with them, to be told once at the end."""

    def __init__(self, logbook: Logbook | None) -> None:
        self.logbook = logbook
        self.lexicon: Lexicon = logbook.lexicon() if logbook else load_lexicon()
        self.faults: list[Fault] = []

    @cached_property
    def rulings(self) -> Rulings:
        """What a person has decided about screens; read when it is first asked for, as a cue seldom does."""
        return self.logbook.rulings() if self.logbook else NO_RULINGS

    def log(self, path: Path) -> Log:
        """A log as far as it can be read; raises MetrographError when the file cannot."""
        log, faults = read_log_bytes(read_bytes(path, "run log"), shown_path(path), lambda: self.lexicon.kinds)
        self.faults += faults
        return log

    def run(self, name: str, path: Path) -> Run:
        """The run that a log tells of."""
        return fold(self.log(path), name, self.lexicon)

    def side(self, name: str) -> Side:
        """The runs that a name stands for, in the order they were begun."""
        selected = select(self.logbook, name)
        runs = [self.run(run, path) for run, path in selected.logs]
        return Side(selected.name, tuple(sorted(runs, key=_begun)))

    def plan(self, name: str | None, of: str) -> Plan | None:
        """The plan that a run or a release makes; None when there is no such run, or none was named.

        of: the run that follows it. It is no part of it, nor are a release's other runs that are still open.
        """
        try:
            selected = select(self.logbook, name) if name else None
        except MetrographError:
            return None
        if selected is None:
            return None
        logs = [(run, self.log(path)) for run, path in selected.logs if run != of]
        runs = [(fold(log, run, self.lexicon), log) for run, log in logs]
        sources = [source for source in runs if source[0].ended] if name not in {run for run, _ in logs} else runs
        if not sources:
            return None
        return plan_of(selected.name, sorted(sources, key=_begun_first), self.lexicon, self.rulings)


def _begun(run: Run) -> float:
    return run.begun.timestamp() if run.begun else 0.0


def _begun_first(source: tuple[Run, Log]) -> float:
    return _begun(source[0])


def shown_path(path: Path) -> str:
    """A path as a person standing in the working folder would write it; bytes that are no UTF-8 as escapes."""
    try:
        shown = str(path.resolve().relative_to(Path.cwd()))
    except (ValueError, OSError):
        shown = str(path)
    return shown.encode("utf-8", "backslashreplace").decode()
