"""Ledgers as tables, one for each line of releases: what all reports of ledgers have in common."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Protocol, TypeVar

import msgspec

from metrograph.measures.selection import Selection
from metrograph.present.report import model as m
from metrograph.present.wording.selection import selection_lines

_FIXED, _SIDE = 47, 11  # columns of all that is not a release, and of a release
ROOM = m.Room(_FIXED, _SIDE)
T = TypeVar("T")


class ByRelease(Protocol):
    """A ledger with an entry per release."""

    @property
    def releases(self) -> tuple[str, ...]:
        """Their ids, oldest first within each line."""

    @property
    def lines(self) -> tuple[str, ...]:
        """What each of them continues."""


def by_line(title: str, ledger: ByRelease, table: Callable[[Sequence[int]], m.Table]) -> list[m.Section]:
    """A table for each line of releases that has anything to show. table: made from the places of its releases."""
    places: dict[str, list[int]] = {}
    for place, line in enumerate(ledger.lines):
        places.setdefault(line, []).append(place)
    sections: list[m.Section] = []
    for line, at in places.items():
        sections += m.section(f"{title} {line}".strip(), under(line, msgspec.structs.replace(table(at), of=line)))
    return sections


def under(line: str, table: m.Table) -> m.Table:
    """A table below a heading that says what its releases continue, so that their columns need not."""
    columns = tuple(
        msgspec.structs.replace(column, heading=column.heading.removeprefix(f"{line} ")) if column.side else column
        for column in table.columns
    )
    return msgspec.structs.replace(table, columns=columns)


def left_out(selections: Iterable[Selection]) -> tuple[m.Section, ...]:
    """Which runs are in no figure."""
    return m.section("", m.Lines(selection_lines(selections)))


def sides(releases: Sequence[str], right: bool = False) -> list[m.Column]:
    """A column for each release."""
    return [m.Column(name, right=right, gives=True, side=True) for name in releases]


def pick(values: Sequence[T], places: Sequence[int]) -> list[T]:
    """The entries of some releases."""
    return [values[place] for place in places]
