"""Groups runs by what is compared: by release, by the line they continue, by the sides that a person names."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

import msgspec

from metrograph.compare.flow_records import Side
from metrograph.ledgers.digests.digest import Digest
from metrograph.log.quantities.ranges import Range, difference
from metrograph.measures.selection import Candidate, Selection, select
from metrograph.run.audience import as_compared
from metrograph.run.cards import Release, line_of
from metrograph.run.records import Run
from metrograph.store.local.logbook import Logbook
from metrograph.store.memory import select as named_runs
from metrograph.store.reading import LogReader

Difference = tuple[float | None, float | None]
"""How much more, between its bounds; None for one that is open."""


class ReleaseGroup(msgspec.Struct, frozen=True):
    """Releases that are set side by side, oldest first, with their runs and what is known of each.

    lines: for each release the line that it continues, such as ``Larkmoor Heron``: only releases of one line are held
        against each other.
    origins: the lines that they really continue, where a person set several side by side; see ``of``.
    selections: for each line, which runs its figures are made from.
    """

    runs: dict[str, list[Digest]]
    lines: tuple[str, ...]
    cards: Mapping[str, Release] = {}
    origins: tuple[str, ...] = ()
    selections: Mapping[str, Selection] = {}

    @classmethod
    def of(
        cls,
        runs: dict[str, list[Digest]],
        lines: tuple[str, ...],
        cards: Mapping[str, Release] | None = None,
        origins: tuple[str, ...] | None = None,
    ) -> ReleaseGroup:
        """A group of runs by release, with a selection for each of its lines.

        origins: the lines that the releases continue, where ``lines`` only says what is set side by side. What one
            release of a line says nothing of, one of another cannot have lost.
        """
        by_line: dict[str, dict[str, list[Digest]]] = {}
        for (release, digests), line in zip(runs.items(), lines, strict=True):
            by_line.setdefault(line, {})[release] = digests
        selections = {line: select(_candidates(releases)) for line, releases in by_line.items()}
        return cls(runs, lines, cards or {}, lines if origins is None else origins, selections)

    @property
    def measured(self) -> dict[str, list[Digest]]:
        """The runs that figures are made from, by release."""
        pairs = zip(self.runs.items(), self.lines, strict=True)
        return {release: self.selections[line].of(runs) for (release, runs), line in pairs}

    @property
    def releases(self) -> tuple[str, ...]:
        """The ids of the releases."""
        return tuple(self.runs)


def candidate_of(run: Digest) -> Candidate:
    """A run as it is judged before its figures count."""
    return Candidate(run.run, run.rig, run.ended)


def _candidates(releases: Mapping[str, Sequence[Digest]]) -> dict[str, list[Candidate]]:
    return {name: list(map(candidate_of, runs)) for name, runs in releases.items()}


def group(digests: Iterable[Digest], cards: Mapping[str, Release], one_line: bool = False) -> ReleaseGroup:
    """Runs by release: by line, and within one by the day the release came out, or else its first run was begun.

    one_line: whether all are held against each other, whatever line they belong to.
    """
    runs: dict[str, list[Digest]] = {}
    for digest in digests:
        runs.setdefault(digest.release, []).append(digest)
    origins = {name: line_of(name, cards.get(name)) for name in runs}
    lines = dict.fromkeys(runs, "") if one_line else origins
    order = sorted(runs, key=lambda name: (lines[name], _day(runs[name], cards.get(name)), name))
    return ReleaseGroup.of(
        {name: runs[name] for name in order}, tuple(lines[name] for name in order), cards,
        tuple(origins[name] for name in order),
    )  # fmt: skip


def _day(runs: Sequence[Digest], card: Release | None) -> str:
    first = min((run.begun.date() for run in runs if run.begun), default=None)
    return (card.released if card else None) or (first.isoformat() if first else "")


def differences(values: Sequence[Range | None], lines: Sequence[str]) -> tuple[Difference | None, ...]:
    """How much more each value is than the last before it in its line that is known, between two bounds."""
    last: dict[str, Range] = {}
    changes: list[Difference | None] = []
    for value, line in zip(values, lines, strict=True):
        changes.append(None if value is None or line not in last else difference(last[line], value))
        last |= {} if value is None else {line: value}
    return tuple(changes)


def begun(run: Run) -> float:
    """Seconds since 1970 to a run's beginning; 0 where the log does not say."""
    return run.begun.timestamp() if run.begun else 0.0


def read_side(reader: LogReader, logbook: Logbook | None, name: str, cards: dict[str, Release]) -> Side:
    """The runs that a name stands for, in the order they were begun. cards: say what a release continues."""
    selected = named_runs(logbook, name)
    runs = sorted((as_compared(reader.run(run, selected.store)) for run in selected.runs), key=begun)
    release = runs[0].release
    return Side(selected.name, tuple(runs), line_of(release, cards.get(release)))
