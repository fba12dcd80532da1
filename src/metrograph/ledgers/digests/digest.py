"""Makes the digest of a run, which is all that ledgers need of it, and opens what is folded up in it."""

from __future__ import annotations

from datetime import datetime
from functools import lru_cache
from typing import Any

import msgspec

from metrograph.log.quantities.ranges import Range
from metrograph.measures.catalogue import figures_of
from metrograph.measures.reducing import Taken
from metrograph.run.audience import as_compared, is_told
from metrograph.run.disks import swap_file_of
from metrograph.run.folding.timeline import UPDATE
from metrograph.run.noted import (
    Addition,
    Beside,
    Check,
    Fact,
    Question,
    Rating,
    Reading,
    Remark,
    SameAs,
    Software,
    Task,
    Todo,
    Verdict,
)
from metrograph.run.records import Issue, Part, Run
from metrograph.run.route import Route, ScreenKey, route_of, screen_key

_UNPACKED = 4096  # routes that are kept unpacked; runs of a release mostly take the same


class Details(msgspec.Struct, frozen=True, array_like=True, gc=False):
    """The details of a run, which only some ledgers need.

    figures: of the run itself; phases: the names of those it went through.
    issue_screens: for each issue the screen that it stood on; None where there was none.
    tweaks: what had to be changed to be able to work.
    swap_file: bytes of the file for swapping that was made; see ``run.disks.swap_file_of``.
    ticked: the names of what it did of that which earlier runs had left to do.
    beside, same_as: what was said of it beside other releases.
    covers: the parts of what is reviewed that it went through.
    """

    figures: dict[str, Range]
    phases: tuple[str, ...]
    issues: tuple[Issue, ...]
    issue_screens: tuple[ScreenKey | None, ...]
    tasks: tuple[Task, ...]
    software: tuple[Software, ...]
    ratings: tuple[Rating, ...]
    verdicts: tuple[Verdict, ...]
    todos: tuple[Todo, ...]
    tweaks: tuple[str, ...]
    swap_file: float | None = None
    ticked: tuple[str, ...] = ()
    questions: tuple[Question, ...] = ()
    remarks: tuple[Remark, ...] = ()
    beside: tuple[Beside, ...] = ()
    same_as: tuple[SameAs, ...] = ()
    covers: tuple[Part, ...] = ()


class Digest(msgspec.Struct, frozen=True, array_like=True, gc=False):
    """A run without its bulk, as ledgers need it; see ``Run``.

    ended: whether the run is over; screens: how many were noted.
    personal: keys with values that tell who or where, which are masked in whatever is made from digests.
    installed: when all was copied, on the clock.
    update_time: how long the first update took; None when there was none, or it is not over.
    told: whether a person said anything of how it went.
    route, details: a ``Route`` and ``Details``, packed, so that nobody waits for them who does not look at them.
    """

    run: str
    release: str
    rig: str
    begun: datetime | None
    ended: bool
    screens: int
    installed: Range | None
    update_time: Range | None
    personal: tuple[tuple[str, str], ...]
    readings: tuple[Reading, ...]
    facts: tuple[Fact, ...]
    checks: tuple[Check, ...]
    added: tuple[Addition, ...]
    told: bool
    route: msgspec.Raw
    details: msgspec.Raw


def digest(run: Run) -> Digest:
    """The digest of a run, as it is held against others."""
    run = as_compared(run)
    details = Details(
        figures=figures_of(run),
        phases=tuple(phase.name for phase in run.phases),
        issue_screens=tuple(_screen(run, issue) for issue in run.issues),
        tweaks=tuple(tweak.what for tweak in run.tweaks),
        swap_file=swap_file_of(run.layout),
        covers=run.covers,
        **_told(run),
    )
    return Digest(
        run.run, run.release, run.rig, run.begun, run.ended is not None, len(run.screens), run.milestones.installed,
        _update_time(run), run.personal, run.readings, run.facts, run.checks, run.added, run.is_told,
        _packed(route_of(run)), _packed(details),
    )  # fmt: skip


def published_digest(digest: Digest) -> Digest:
    """A digest without what its reviewer keeps to themselves."""
    more = details(digest)
    kinds = ("software", "ratings", "verdicts", "todos", "questions", "remarks", "beside", "same_as")
    lists = {name: tuple(filter(is_told, getattr(more, name))) for name in kinds}
    issues = [pair for pair in zip(more.issues, more.issue_screens, strict=True) if is_told(pair[0])]
    kept = msgspec.structs.replace(
        more, issues=tuple(issue for issue, _ in issues), issue_screens=tuple(screen for _, screen in issues), **lists
    )
    own = {name: tuple(filter(is_told, getattr(digest, name))) for name in ("readings", "facts", "checks", "added")}
    return msgspec.structs.replace(digest, details=_packed(kept), **own)


def _told(run: Run) -> dict[str, Any]:
    """What a digest keeps of a reviewer's own words."""
    return {name: getattr(run, name) for name in _WORDS}


_WORDS = (
    "issues", "tasks", "software", "ratings", "verdicts", "todos", "ticked", "questions", "remarks", "beside",
    "same_as",
)  # fmt: skip


def _update_time(run: Run) -> Range | None:
    """The task of that name says it itself; else it is the time that the machine worked in the phase."""
    tasks = [task.length for task in run.tasks if task.name == UPDATE]
    if tasks:
        return tasks[-1]
    return next((phase.machine for phase in run.phases if phase.name == UPDATE), None)


def route(digest: Digest) -> Route:
    """The route that a run took."""
    return _route(bytes(digest.route))


def details(digest: Digest) -> Details:
    """The details of a run, opened: issues, tasks, software and whatever else only some ledgers need."""
    return _details(bytes(digest.details))


def taken(digest: Digest) -> Taken:
    """The figures of a run with their circumstances."""
    more = details(digest)
    return Taken(digest.run, digest.release, digest.rig, more.figures, digest.readings, more.swap_file)


def _packed(record: msgspec.Struct) -> msgspec.Raw:
    return msgspec.Raw(msgspec.msgpack.encode(record))


@lru_cache(_UNPACKED)
def _details(packed: bytes) -> Details:
    return msgspec.msgpack.decode(packed, type=Details)


@lru_cache(_UNPACKED)
def _route(packed: bytes) -> Route:
    return msgspec.msgpack.decode(packed, type=Route)


def _screen(run: Run, issue: Issue) -> ScreenKey | None:
    """The screen that an issue stood on, whatever became of that attempt."""
    return next((screen_key(screen) for screen in run.screens if screen.title == issue.screen), None)
