"""Says what of a run is told, and how: held against other runs, and shown to others than its reviewer."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any, TypeVar

import msgspec

from metrograph.log.cues import Cue, Log
from metrograph.run.noted import Circumstances, Software, Todo
from metrograph.run.records import RECORDING, Issue, Run, Screen

T = TypeVar("T")
_TOLD = (
    "readings", "facts", "checks", "tweaks", "added", "shots", "notes", "ratings", "software", "todos", "verdicts",
    "questions", "remarks", "beside", "same_as", "issues",
)  # fmt: skip
"""The fields of a run whose records are each said by themselves."""
_OF_LIKE = ("readings", "facts", "checks", "ratings", "software")
"""Those of them that are compared with their like only."""
_PRIVATE = frozenset({"todo"})
"""Verbs whose cues are their reviewer's own affair unless they say otherwise."""


def as_compared(run: Run) -> Run:
    """A run as it is held against others.

    Hearsay is left out, and what is said of a part, a desktop or a program, goes by a name that says so: so it is
    compared with its like alone.
    """
    changes: dict[str, Any] = {}
    for name in _TOLD:
        records = getattr(run, name)
        kept = [each for each in records if each.heard is None]
        if name in _OF_LIKE:
            kept = [_by_subject(each) for each in kept]
        if len(kept) != len(records) or kept != list(records):
            changes[name] = tuple(kept)
    return msgspec.structs.replace(run, **changes) if changes else run


def _by_subject(record: Any) -> Any:
    """What is said of a part by a name that has it."""
    if record.of is None:
        return record
    if isinstance(record, Software):
        return msgspec.structs.replace(record, group=" of ".join(filter(None, (record.group, record.of))), of=None)
    return msgspec.structs.replace(record, name=f"{record.name} of {record.of}", of=None)


def published(run: Run) -> Run:
    """A run as others may see it: without what is left to do, the reviewer's own trouble, what is not to be told."""
    screens = tuple(msgspec.structs.replace(screen, choices=_told_choices(screen)) for screen in run.screens)
    told: dict[str, Any] = {name: tuple(filter(is_told, getattr(run, name))) for name in _TOLD}
    return msgspec.structs.replace(run, screens=screens, **told)


def is_told(record: Circumstances) -> bool:
    """Whether something that was noted may be published."""
    private = isinstance(record, Todo) or (isinstance(record, Issue) and record.area == RECORDING)
    return record.tell in {"yes", "first"} if private else record.tell != "no"


def _told_choices(screen: Screen) -> tuple[Any, ...]:
    return tuple(choice for choice in screen.choices if choice.told)


def published_log(log: Log) -> Log:
    """A log as others may see it; see ``published``."""
    own = {cue.name for cue in log.cues if cue.verb == "issue" and cue.name and not _may_be_seen(cue)}
    kept = tuple(
        cue for cue in log.cues if _may_be_seen(cue) and not (cue.verb in {"tried", "fix"} and cue.name in own)
    )
    return log if len(kept) == len(log.cues) else msgspec.structs.replace(log, cues=kept)


def _may_be_seen(cue: Cue) -> bool:
    private = cue.verb in _PRIVATE or cue.field("area") == RECORDING
    return cue.field("tell") in {"yes", "first"} if private else cue.field("tell") != "no"


def highlights_first(records: Iterable[T], tell: Callable[[T], str | None]) -> list[T]:
    """Records in their order, those that are to be told first before the rest."""
    return sorted(records, key=lambda record: tell(record) != "first")
