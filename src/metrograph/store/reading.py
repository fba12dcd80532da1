"""Reads logs from a store through the gate, and keeps what was wrong with them, to be told once at the end."""

from __future__ import annotations

from functools import cached_property

from metrograph.log.cues import Fault, Log
from metrograph.log.lexicon import Lexicon
from metrograph.log.reader import read_log_bytes
from metrograph.privacy.gate import sift
from metrograph.run.folding.fold import fold
from metrograph.run.records import Run
from metrograph.run.route import Rulings
from metrograph.store.protocol import Store
from metrograph.store.settings import Settings, usual_settings

_MOST_NAMED = 5  # files that are left out


def strays_of(store: Store) -> list[Fault]:
    """One fault for everything among the logs and cards of a store that is neither, and is left out."""
    strays = store.strays()
    if not strays:
        return []
    more = f" and {len(strays) - _MOST_NAMED} more" if len(strays) > _MOST_NAMED else ""
    others = f", and so are {', '.join(strays[1:_MOST_NAMED])}{more}" if len(strays) > 1 else ""
    return [Fault(strays[0], 1, 1, "error", f"this is no log and no card, and is left out{others}")]


class LogReader:
    """Reads the logs of one store.

    store: None where there is no logbook; then only logs of other stores can be read.
    faults: what was wrong in the logs that were read, each thing once; faulty: the runs whose logs these are.
    """

    def __init__(self, store: Store | None) -> None:
        self.store = store
        self.settings: Settings = store.settings() if store is not None else usual_settings()
        self.faults: list[Fault] = [] if store is None else strays_of(store)
        self.faulty: set[str] = set()

    @property
    def lexicon(self) -> Lexicon:
        """The lexicon with the kinds, titles and readings of the logbook itself."""
        return self.settings.lexicon

    @cached_property
    def rulings(self) -> Rulings:
        """What a person has decided about screens."""
        return self.settings.rulings

    def log(self, run: str, store: Store | None = None) -> Log:
        """A log as far as it can be read; raises MetrographError when it cannot be had.

        store: where it lies, when that is not the reader's own.
        """
        where = store or self.store
        if where is None:
            raise LookupError(run)
        log, faults = sift(*read_log_bytes(where.read(run), where.label(run), lambda: self.lexicon))
        if faults:
            self.faulty.add(run)
            self.faults = list(dict.fromkeys((*self.faults, *faults)))  # however often a log is read
        return log

    def run(self, run: str, store: Store | None = None) -> Run:
        """The run that a log tells of."""
        return fold(self.log(run, store), run, self.lexicon)
