"""The world around a flow, and the result that it gives back, masked already."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from contextlib import AbstractContextManager
from pathlib import Path
from typing import TYPE_CHECKING, Any, Protocol, TypeVar

import msgspec

if TYPE_CHECKING:
    from metrograph.log.cues import Fault
    from metrograph.privacy.mask import Known
    from metrograph.show.report.model import Report
    from metrograph.show.terminal.text import Medium
    from metrograph.store.clock import Instant
    from metrograph.store.local.logbook import Logbook
    from metrograph.store.preferences import Preferences

T = TypeVar("T")


class Desk(Protocol):
    """Where somebody works: which logbook, whose preferences, what time it is, and who hears of trouble."""

    @property
    def folder(self) -> Path:
        """The folder that the call was made in."""

    @property
    def variables(self) -> Mapping[str, str]:
        """The variables of the process."""

    @property
    def started(self) -> Callable[[], Instant]:
        """Gives the moment at which the call was made, which is the time of a cue."""

    @property
    def present(self) -> Callable[[], Instant]:
        """Gives this moment."""

    def logbook(self, named: Path | None) -> Logbook:
        """The logbook to work on; raises MetrographError when there is none."""

    def logbook_or_none(self, named: Path | None) -> Logbook | None:
        """The logbook, or None where none was asked for and none is there."""

    def preferences(self) -> Preferences:
        """What the person has set for all logbooks."""

    def is_interactive(self) -> bool:
        """Whether a person can be asked."""

    def warn(self, text: str) -> None:
        """Tells a person something besides the result."""

    def warn_of(self, faults: Sequence[Fault]) -> None:
        """Tells what was wrong in the files that were read."""

    def track(self, items: Sequence[T], what: str) -> Iterable[T]:
        """Gives the items one by one, and tells how far long work is."""

    def progress(self, what: str) -> AbstractContextManager[Callable[[int, int], None]]:
        """Gives what is to be called with how much of how much is done."""


class Result(msgspec.Struct, frozen=True):
    """The result of a flow: nothing in it tells who or where, unless that was asked for.

    document: what a program gets, a record or a table of records by name.
    report: makes what a person reads, given what it is to stand on.
    """

    document: Any
    report: Callable[[Medium], Report]


def masked(desk: Desk, runs: Iterable[Known], record: T, show_personal: bool) -> T:
    """A result as others may see it; tells how much was masked.

    runs: those that it was made from.
    """
    return masked_and_counted(desk, runs, record, show_personal)[0]


def masked_and_counted(desk: Desk, runs: Iterable[Known], record: T, show_personal: bool) -> tuple[T, int]:
    """A result as others may see it, and in how many places it was masked."""
    if show_personal:
        return record, 0
    from metrograph.privacy.mask import Mask

    mask = Mask(runs)
    clean = mask.apply(record)
    if mask.hidden:
        places = "one place" if mask.hidden == 1 else f"{mask.hidden} places"
        desk.warn(f"personal values are masked in {places}; --show-personal shows them")
    return clean, mask.hidden
