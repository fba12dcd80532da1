"""The ledger of what is left to do, by run and release: what somebody noted, and what the checklist still wants."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence

import msgspec

from metrograph.ledgers.digests.digest import Digest, details
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.log.lexicon import Checklist
from metrograph.run.warnings import steps_left


class LeftToDo(msgspec.Struct, frozen=True, rename={"reader": "for"}):
    """Something that is left to do after a run. reader: for whom."""

    release: str
    run: str
    text: str
    reader: str | None


class WantedTodo(msgspec.Struct, frozen=True):
    """The wants of the checklist that no run of a release has: trials, readings, tweaks, additions."""

    release: str
    to_try: tuple[str, ...]
    to_read: tuple[str, ...]
    to_tweak: tuple[str, ...]
    to_add: tuple[str, ...]


class TodoLedger(msgspec.Struct, frozen=True):
    """The things left to do, release by release."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    todos: tuple[LeftToDo, ...]
    wanted: tuple[WantedTodo, ...]


def todos_ledger(group: ReleaseGroup, checklist: Checklist) -> TodoLedger:
    """What is left to do after the runs of each release."""
    every = [(release, run) for release, runs in group.runs.items() for run in runs]
    ticked = {name for _, run in every for name in details(run).ticked}
    told = (todo for release, run in every for todo in _told(release, run, ticked))
    wanted = (_wanted(release, runs, checklist) for release, runs in group.runs.items())
    return TodoLedger(
        group.releases, group.lines, tuple(told),
        tuple(each for each in wanted if any((each.to_try, each.to_read, each.to_tweak, each.to_add))),
    )  # fmt: skip


def _told(release: str, run: Digest, ticked: Collection[str]) -> Iterator[LeftToDo]:
    """What a run left, but for what was done in it or in another since; and the questions that it did not answer."""
    for todo in details(run).todos:
        if not todo.ticked and todo.name not in ticked:
            yield LeftToDo(release, run.run, todo.text, todo.reader)
    for question in details(run).questions:
        if question.answer is None:
            yield LeftToDo(release, run.run, f"still to be answered: {question.text}", None)


def _wanted(release: str, runs: Sequence[Digest], checklist: Checklist) -> WantedTodo:
    tried = {check.name for run in runs for check in run.checks}
    read = {reading.name for run in runs for reading in run.readings}
    tweaked = [tweak for run in runs for tweak in details(run).tweaks]
    added = [addition.software for run in runs for addition in run.added]
    return WantedTodo(
        release,
        tuple(name for name in checklist.checks if name not in tried),
        tuple(name for name in checklist.readings if name not in read),
        tuple(steps_left(checklist.tweaks, tweaked)),
        tuple(steps_left(checklist.additions, added)),
    )
