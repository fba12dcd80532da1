"""The ledger of facts: what releases are made of, and what was raised, replaced or dropped from one to the next."""

from __future__ import annotations

import re
from collections.abc import Sequence
from enum import StrEnum

import msgspec

from metrograph.core.visitor import AnswerFields, Answering
from metrograph.ledgers.digests.digest import Digest
from metrograph.ledgers.digests.release_groups import ReleaseGroup


class FactChange(StrEnum):
    """How a fact has changed since the last release of its line that says anything of it.

    NEW and DROPPED are said only where the other release says that there is none; ABSENT is one that says nothing.
    """

    FIRST = "first"
    NEW = "new"
    RAISED = "raised"
    LOWERED = "lowered"
    REPLACED = "replaced"
    DROPPED = "dropped"
    SAME = "same"
    ABSENT = "absent"


class FactRow(Answering, frozen=True, rename={"changes": "verdicts"}):
    """A fact across releases.

    values: several of one release with commas between them; None where a release has none.
    changes: against the release before.
    personal: whether it tells who or where.
    """

    name: str
    values: tuple[str | None, ...]
    changes: tuple[FactChange, ...]
    personal: bool = False

    def answer(self) -> AnswerFields:
        """Its values."""
        return AnswerFields(self.name, ("values",), personal=self.personal)


class FactLedger(msgspec.Struct, frozen=True):
    """Facts by release."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[FactRow, ...]


def facts_ledger(group: ReleaseGroup) -> FactLedger:
    """Facts by release, and what became of each from one release of a line to the next."""
    names = dict.fromkeys(fact.name for runs in group.runs.values() for run in runs for fact in run.facts)
    return FactLedger(group.releases, group.lines, tuple(_row(name, group) for name in names))


def _row(name: str, group: ReleaseGroup) -> FactRow:
    values = [_values(name, runs) for runs in group.runs.values()]
    personal = any(
        fact.personal for runs in group.runs.values() for run in runs for fact in run.facts if fact.name == name
    )
    before: dict[str, str] = {}
    changes: list[FactChange] = []
    for value, line in zip(values, group.origins, strict=True):
        changes.append(FactChange.ABSENT if value is None else what_became(before.get(line), value))
        before |= {} if value is None else {line: value}
    return FactRow(name, tuple(values), tuple(changes), personal)


def _values(name: str, runs: Sequence[Digest]) -> str | None:
    values = dict.fromkeys(fact.value for run in runs for fact in run.facts if fact.name == name)
    return ", ".join(values) or None


def what_became(before: str | None, after: str) -> FactChange:
    """What became of a value. before: the last one known of the same line; None where there is none."""
    if before is None:
        return FactChange.FIRST
    if before == after:
        return FactChange.SAME
    if _says_none(before) or _says_none(after):
        return FactChange.NEW if _says_none(before) else FactChange.DROPPED
    old, new = _version(before), _version(after)
    if old is None or new is None or old[0] != new[0]:
        return FactChange.REPLACED
    return FactChange.RAISED if new[1] > old[1] else FactChange.LOWERED


def is_newer(before: str, after: str) -> bool | None:
    """Whether one version is newer than another; None where they cannot be ordered."""
    old, new = _version(before), _version(after)
    return None if old is None or new is None else new[1] > old[1]


def _says_none(value: str) -> bool:
    return value.casefold() in _NONE


_NONE = frozenset({"none", "no", "not there", "missing", "-", "—"})
"""What is noted where something is looked for and is not there."""


def _version(text: str) -> tuple[str, tuple[int, ...]] | None:
    """What a value names and its version's numbers: ``Kettle 4.2`` is Kettle and 4, 2; None without numbers."""
    match = re.search(r"\d+(?:\.\d+)*", text)
    if match is None:
        return None
    return text[: match.start()].strip().casefold(), tuple(map(int, match[0].split(".")))
