"""The abilities of every store, a folder or memory: list, read, append, and say what has changed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Protocol

import msgspec

from metrograph.log.cues import Cue, Header, Log
from metrograph.store.clock import Instant, When

if TYPE_CHECKING:
    from metrograph.store.settings import Settings

Stamp = tuple[int, ...]
"""Numbers that differ when a log was changed."""


class Written(msgspec.Struct, frozen=True):
    """The result of writing. log: as it stood before; cues: as they were written, none of those that were there."""

    log: Log
    cues: tuple[Cue, ...]


class Store(Protocol):
    """Logs of runs by name, with what belongs to them."""

    def run_names(self, release: str | None = None) -> list[str]:
        """The names of all runs, or of one release's, by release and number."""

    def strays(self) -> list[str]:
        """What lies among the logs and cards and is neither."""

    def has(self, run: str) -> bool:
        """Whether there is a log of this run; raises MetrographError when it could not be a run's name."""

    def read(self, run: str) -> bytes:
        """The log of a run as it stands; raises MetrographError when there is none to be had."""

    def label(self, run: str) -> str:
        """How a person names the log of a run."""

    def stamps(self) -> dict[str, Stamp]:
        """Every run with its stamp."""

    def open_runs(self) -> list[str]:
        """The runs that have no end yet."""

    def begin(self, header: Header, present: Instant) -> str:
        """Opens the next run of the header's release; returns its name."""

    def append(self, run: str, cues: Sequence[Cue], when: When, only_new: bool = False) -> Written:
        """Adds cues to a run, all or none, and returns when they are kept.

        This is the one way for a cue into a log: it refuses what holds a secret, what would not read back, and what
        comes after the end.

        only_new: leave out what the log has already, to the letter.

        Raises MetrographError when a cue is refused, NotWritableError when the store cannot be written to.
        """

    def revise(self, run: str, changes: Mapping[int, Cue | None]) -> None:
        """Puts other cues in the place of those that begin on some lines; None takes one out."""

    def add(self, run: str, log: Log) -> bool:
        """Keeps a whole log that came from elsewhere, through the same gate; False when the run is there already."""

    def card_names(self, group: str) -> list[str]:
        """The ids of all cards of a group, ``releases`` or ``rigs``, sorted."""

    def settings(self) -> Settings:
        """What a person has set; raises MetrographError when the settings are wrong."""

    def kept(self, name: str) -> bytes | None:
        """Something that was kept to be quicker next time; None when it is not there."""

    def keep(self, name: str, data: bytes) -> None:
        """Keeps something that can be made anew at any time, where that can be done."""
