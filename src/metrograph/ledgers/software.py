"""The ledger of software: what releases carry and lack, and what was gained and lost from one to the next."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import msgspec

from metrograph.compare.records import Change, What
from metrograph.ledgers.digests.digest import Digest, details
from metrograph.ledgers.digests.groups import Group
from metrograph.ledgers.facts import FactChange, what_became
from metrograph.run.noted import Software

ON_BOARD, LACKING = "yes", "none"
"""What stands for software without a version, and for such as is not there."""


class SoftwareRow(msgspec.Struct, frozen=True):
    """One item across releases.

    values: its version, ``yes`` without one, ``none`` where it lacks; None where nobody noted it.
    listed: of each release whether anything of its group was noted, so that silence means it is not there.
    changes: against the last release of its line that says anything of it.
    """

    group: str | None
    item: str
    values: tuple[str | None, ...]
    listed: tuple[bool, ...]
    changes: tuple[FactChange, ...]

    def known(self, place: int) -> str | None:
        """What is known of it in a release: what was noted, or that whoever listed its group did not name it."""
        return self.values[place] or (LACKING if self.listed[place] else None)


class SoftwareLedger(msgspec.Struct, frozen=True):
    """Software by release."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[SoftwareRow, ...]


def software_ledger(group: Group) -> SoftwareLedger:
    """Software by release, group by group."""
    noted = [_noted(runs) for runs in group.runs.values()]
    # Releases come oldest first, so that an item goes by what it was called last.
    names = {key: item.item for items in noted for key, item in items.items()}
    groups = list(dict.fromkeys(group for group, _ in names))
    ordered = sorted(names, key=lambda key: groups.index(key[0]))
    return SoftwareLedger(
        group.releases, group.lines, tuple(_row(key, names[key], noted, group.origins) for key in ordered)
    )


Key = tuple[str | None, str]
"""A group, and an item in small letters."""


def _noted(runs: Sequence[Digest]) -> dict[Key, Software]:
    """What the runs of a release noted, the latest of each item."""
    return {(item.group, item.item.casefold()): item for run in runs for item in details(run).software}


def _row(key: Key, item: str, noted: Sequence[Mapping[Key, Software]], origins: Sequence[str]) -> SoftwareRow:
    row = SoftwareRow(
        group=key[0],
        item=item,
        values=tuple(_value(items[key]) if key in items else None for items in noted),
        listed=tuple(_lists(key[0], items) for items in noted),
        changes=(),
    )
    return with_changes(row, origins)


def with_changes(row: SoftwareRow, origins: Sequence[str]) -> SoftwareRow:
    """A row with what became of the item. origins: the line that each of its releases continues."""
    before: dict[str, str] = {}
    changes: list[FactChange] = []
    for place, line in enumerate(origins):
        value = row.known(place)
        changes.append(FactChange.ABSENT if value is None else what_became(before.get(line), value))
        before |= {} if value is None else {line: value}
    return msgspec.structs.replace(row, changes=tuple(changes))


def _lists(group: str | None, items: Mapping[Key, Software]) -> bool:
    """Whether what a release has of a group was listed; of what stands in no group nobody has listed all."""
    return group is not None and any(item.group == group and item.there for item in items.values())


def _value(item: Software) -> str:
    return (item.version or ON_BOARD) if item.there else LACKING


_WHATS = {
    FactChange.NEW: What.SOFTWARE_NEW,
    FactChange.DROPPED: What.SOFTWARE_GONE,
    FactChange.RAISED: What.SOFTWARE_CHANGED,
    FactChange.LOWERED: What.SOFTWARE_CHANGED,
    FactChange.REPLACED: What.SOFTWARE_CHANGED,
}


def software_changes(ledger: SoftwareLedger, earlier: int, later: int) -> Iterator[Change]:
    """What was gained, lost and raised from one release to another, by their indices."""
    for row in ledger.rows:
        before, after = row.known(earlier), row.known(later)
        what = _WHATS.get(what_became(before, after)) if before is not None and after is not None else None
        if what is not None:
            names = ledger.releases[earlier], ledger.releases[later]
            yield Change(*names, what, key=row.item, before=before, after=after, under=row.group)
