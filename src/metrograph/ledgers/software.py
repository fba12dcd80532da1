"""The ledger of software: what releases carry and lack, what was gained and lost, and how far behind it is."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from itertools import pairwise

import msgspec

from metrograph.compare.flow_records import Change, What
from metrograph.ledgers.digests.digest import Digest, details
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.facts import FactChange, is_newer, what_became
from metrograph.run.cards import Release
from metrograph.run.noted import Software

ON_BOARD, LACKING, ADDED = "yes", "none", "added"
"""What stands for software without a version, for such as is not there, and for such as the reviewer had to add."""


class SoftwareRow(msgspec.Struct, frozen=True):
    """One item across releases.

    values: its version, ``yes`` without one, ``none`` where it lacks, ``added`` where the reviewer had to add it; None
        where nobody noted it.
    listed: of each release whether anything of its group was noted, so that silence means it is not there.
    changes: against the last release of its line that says anything of it.
    sources: where it comes from, such as repository or sandboxed, as it was said.
    newest: its newest version when the release came out, as the card has it; behind: whether it is older than that,
        None where nobody can tell.
    instead_of: what it takes the place of: as it was said, or what of its group went when it came, where that is one
        thing only; instead_said: the former alone.
    """

    group: str | None
    item: str
    values: tuple[str | None, ...]
    listed: tuple[bool, ...]
    changes: tuple[FactChange, ...]
    sources: tuple[str | None, ...] = ()
    newest: tuple[str | None, ...] = ()
    behind: tuple[bool | None, ...] = ()
    instead_of: tuple[str | None, ...] = ()
    instead_said: tuple[str | None, ...] = ()

    def known(self, place: int) -> str | None:
        """What is known of it in a release: what was noted, or that whoever listed its group did not name it."""
        value = self.values[place] or (LACKING if self.listed[place] else None)
        return LACKING if value == ADDED else value


class GroupRow(msgspec.Struct, frozen=True):
    """A group of software from one release of a line to the next: sets against each other.

    before, after: how many items are on board; None where nobody listed them.
    gained, lost, raised, lowered: which of them.
    replaced: what went, and what came in its place.
    """

    group: str | None
    earlier: str
    later: str
    before: int | None
    after: int | None
    gained: tuple[str, ...]
    lost: tuple[str, ...]
    raised: tuple[str, ...]
    lowered: tuple[str, ...]
    replaced: tuple[tuple[str, str], ...]


class SoftwareLedger(msgspec.Struct, frozen=True):
    """Software by release; groups: what became of each group from one release of a line to the next."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[SoftwareRow, ...]
    groups: tuple[GroupRow, ...] = ()


def software_ledger(group: ReleaseGroup) -> SoftwareLedger:
    """Software by release, group by group."""
    noted = [_noted(runs) for runs in group.runs.values()]
    # Releases come oldest first, so that an item goes by what it was called last.
    names = {key: item.item for items in noted for key, item in items.items()}
    groups = list(dict.fromkeys(group for group, _ in names))
    listed = [_listed(items.values()) for items in noted]
    newest = [_newest(group.cards.get(release)) for release in group.releases]
    order = {name: place for place, name in enumerate(groups)}
    rows = [_row(key, names[key], noted, listed, newest) for key in sorted(names, key=lambda key: order[key[0]])]
    told = with_changes(rows, group.origins)
    return SoftwareLedger(group.releases, group.lines, told, tuple(_groups(told, group)))


def _listed(items: Collection[Software]) -> set[str | None]:
    """The groups of which everything on board was named: a list with “and more” at its end has left some out."""
    return {item.group for item in items if item.there} - {item.group for item in items if not item.listed} - {None}


Key = tuple[str | None, str]
"""A group, and an item in small letters."""


def _noted(runs: Sequence[Digest]) -> dict[Key, Software]:
    """What the runs of a release noted, the latest of each item; what the reviewer added was not on board."""
    items = {(item.group, item.item.casefold()): item for run in runs for item in details(run).software}
    known = {name: key for key in items for name in (key[1],)}
    for addition in (addition for run in runs for addition in run.added):
        key = known.get(addition.software.casefold(), (None, addition.software.casefold()))
        said = items.get(key) or Software(addition.software, None, None, True, None, None, addition.at)
        items[key] = msgspec.structs.replace(
            said, there=True, version=ADDED, source=addition.source or said.source,
            instead=addition.instead or said.instead,
        )  # fmt: skip
    return items


def _newest(card: Release | None) -> dict[str, str]:
    """The newest versions that a card names, by software in small letters."""
    return {name.casefold(): version for name, version in ((card and card.newest) or {}).items()}


def _row(
    key: Key,
    item: str,
    noted: Sequence[Mapping[Key, Software]],
    listed: Sequence[set[str | None]],
    newest: Sequence[Mapping[str, str]],
) -> SoftwareRow:
    values = tuple(_value(items[key]) if key in items else None for items in noted)
    upstream = tuple(known.get(key[1]) for known in newest)
    return SoftwareRow(
        group=key[0],
        item=item,
        values=values,
        listed=tuple(key[0] in groups for groups in listed),
        changes=(),
        sources=tuple(items[key].source if key in items else None for items in noted),
        newest=upstream,
        behind=tuple(_is_behind(value, new) for value, new in zip(values, upstream, strict=True)),
        instead_said=tuple(items[key].instead if key in items else None for items in noted),
    )


def _is_behind(version: str | None, newest: str | None) -> bool | None:
    """Whether a version is older than the newest; None where either is not known, or they cannot be ordered."""
    if version is None or newest is None or version in {ON_BOARD, LACKING, ADDED}:
        return None
    return is_newer(version, newest)


def with_changes(rows: Sequence[SoftwareRow], origins: Sequence[str]) -> tuple[SoftwareRow, ...]:
    """Rows with what became of each item. origins: the line that each of the releases continues."""
    return tuple(_with_pairs([_with_changes(row, origins) for row in rows], origins))


def _with_changes(row: SoftwareRow, origins: Sequence[str]) -> SoftwareRow:
    before: dict[str, str] = {}
    changes: list[FactChange] = []
    for place, line in enumerate(origins):
        value = row.known(place)
        changes.append(FactChange.ABSENT if value is None else what_became(before.get(line), value))
        before |= {} if value is None else {line: value}
    return msgspec.structs.replace(row, changes=tuple(changes))


def _with_pairs(rows: Sequence[SoftwareRow], origins: Sequence[str]) -> Iterator[SoftwareRow]:
    """Each with what went when it came, as it was said; else, where one of a group came and one went, in its place."""
    pairs: dict[tuple[str | None, int], tuple[list[str], list[str]]] = {}
    for row in rows:
        for place, change in enumerate(row.changes):
            if row.group is not None and change in {FactChange.NEW, FactChange.DROPPED}:
                came, went = pairs.setdefault((row.group, place), ([], []))
                (came if change is FactChange.NEW else went).append(row.item)
    single = {at: (came[0], went[0]) for at, (came, went) in pairs.items() if len(came) == len(went) == 1}
    for row in rows:
        found = [single.get((row.group, place), ("", "")) for place in range(len(origins))]
        said = row.instead_said or (None,) * len(origins)
        pairs_up = (went if came == row.item else None for came, went in found)
        yield msgspec.structs.replace(
            row, instead_of=tuple(told or went for told, went in zip(said, pairs_up, strict=True))
        )


def _groups(rows: Sequence[SoftwareRow], group: ReleaseGroup) -> Iterator[GroupRow]:
    """Each group between neighbours of one line that both list it."""
    by_line: dict[str, list[int]] = {}
    for place, line in enumerate(group.origins):
        by_line.setdefault(line, []).append(place)
    for name in dict.fromkeys(row.group for row in rows if row.group is not None):
        inside = [row for row in rows if row.group == name]
        for places in by_line.values():
            telling = [place for place in places if any(row.known(place) is not None for row in inside)]
            for earlier, later in pairwise(telling):
                yield _sets(name, inside, earlier, later, group.releases)


def _sets(name: str, rows: Sequence[SoftwareRow], earlier: int, later: int, releases: Sequence[str]) -> GroupRow:
    def which(change: FactChange) -> tuple[str, ...]:
        return tuple(row.item for row in rows if row.changes[later] is change)

    replaced = tuple((gone, row.item) for row in rows if (gone := row.instead_of[later]) is not None)
    paired = {item for pair in replaced for item in pair}
    before, after = (_count(rows, place) for place in (earlier, later))
    return GroupRow(
        group=name, earlier=releases[earlier], later=releases[later], before=before, after=after,
        gained=tuple(item for item in which(FactChange.NEW) if item not in paired),
        lost=tuple(item for item in which(FactChange.DROPPED) if item not in paired),
        raised=which(FactChange.RAISED), lowered=which(FactChange.LOWERED), replaced=replaced,
    )  # fmt: skip


def _count(rows: Sequence[SoftwareRow], place: int) -> int | None:
    """How many of a group are on board; who only noted what is missing has counted nothing."""
    listed = any(row.listed[place] for row in rows)
    return sum(row.known(place) not in {None, LACKING} for row in rows) if listed else None


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
