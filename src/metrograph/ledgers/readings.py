"""The ledger of readings: figures by release, state and load, and what is more or less than before."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import msgspec

from metrograph.ledgers.digests.digest import Digest, details
from metrograph.ledgers.digests.release_groups import Difference, ReleaseGroup, differences
from metrograph.log.lexicon import Better, Lexicon
from metrograph.log.quantities.ranges import Range
from metrograph.measures.catalogue import better_of
from metrograph.measures.reducing import DISK_USED, ReadingKey, Spread, by_key, median_of_all, spread_or_none, words_for
from metrograph.measures.selection import Selection
from metrograph.run.noted import STATES

Column = Mapping[ReadingKey, Sequence[Range]]
"""The amounts of a release's runs by what was read."""


class ReadingRow(msgspec.Struct, frozen=True):
    """A reading in one state and under one load across releases.

    load: rest, busy, what was open, or None where it was not said.
    better: ``less`` or ``more``; None when neither is.
    figures: of each release the median of its runs; None where none has an amount.
    words: of each release what was said in the place of an amount.
    differences: to the last release before it in its line that was read so, files for swapping left out.
    elsewhere: releases of the same lines that were read in another state, or under another load, only.
    swap_files: of what is used of the disk, the bytes of each release's file for swapping, which are in it; None where
        nobody said so. Empty for other readings.
    """

    name: str
    unit: str
    state: str
    load: str | None
    better: Better | None
    figures: tuple[Spread | None, ...]
    words: tuple[tuple[str, ...], ...]
    differences: tuple[Difference | None, ...]
    elsewhere: tuple[str, ...]
    swap_files: tuple[float | None, ...] = ()


class ReadingLedger(msgspec.Struct, frozen=True):
    """Figures by release and state. Lists have an entry per release, in the order of ``releases``, oldest first."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[ReadingRow, ...]
    selections: Mapping[str, Selection] = {}


def readings_ledger(group: ReleaseGroup, lexicon: Lexicon) -> ReadingLedger:
    """Figures by release, a row for each name, unit, state and load."""
    columns = {release: _column(runs) for release, runs in group.measured.items()}
    keys = dict.fromkeys(key for column in columns.values() for key in column)
    keys |= dict.fromkeys(_only_words(group, keys))
    names = list(dict.fromkeys(key.name for key in keys))
    ordered = sorted(keys, key=lambda key: (names.index(key.name), *_place(key.state), key.load or ""))
    rows = tuple(_row(key, group, columns, lexicon) for key in ordered)
    return ReadingLedger(group.releases, group.lines, rows, group.selections)


def _place(state: str) -> tuple[int, str]:
    """The states of a run in their order, then a reviewer's own."""
    return (STATES.index(state), "") if state in STATES else (len(STATES), state)


def _column(runs: Sequence[Digest]) -> Column:
    values: dict[ReadingKey, list[Range]] = {}
    for run in runs:
        for key, value in by_key(run.readings).items():
            values.setdefault(key, []).append(value)
    return values


def _only_words(group: ReleaseGroup, known: Mapping[ReadingKey, None]) -> list[ReadingKey]:
    """What was read in words alone, wherever it was read."""
    said = {(key.name, key.state, key.load) for key in known}
    every = (r for runs in group.measured.values() for run in runs for r in run.readings if r.value is None)
    return [ReadingKey(r.name, r.unit, r.state, r.load) for r in every if (r.name, r.state, r.load) not in said]


def _row(key: ReadingKey, group: ReleaseGroup, columns: Mapping[str, Column], lexicon: Lexicon) -> ReadingRow:
    figures = [spread_or_none(columns[release].get(key, ())) for release in group.releases]
    words = tuple(
        tuple(said for run in runs if (said := words_for(run.readings, key.name, key.state, key.load)) is not None)
        for runs in group.measured.values()
    )
    concerned = {line for line, figure in zip(group.lines, figures, strict=True) if figure is not None}
    elsewhere = tuple(
        release
        for release, line, figure in zip(group.releases, group.lines, figures, strict=True)
        if figure is None and line in concerned and any(other.name == key.name for other in columns[release])
    )
    swap_files = tuple(map(usual_swap_file, group.measured.values())) if key.name == DISK_USED else ()
    medians = [figure.median if figure else None for figure in figures]
    changes = differences(without_swap_files(medians, swap_files), group.lines)
    return ReadingRow(*key, better_of(key.name, lexicon), tuple(figures), words, changes, elsewhere, swap_files)


def without_swap_files(values: Sequence[Range | None], files: Sequence[float | None]) -> list[Range | None]:
    """What the systems themselves take; None of a release that nobody said it of, where others made such a file."""
    if not any(files):
        return list(values)
    return [
        None if value is None or file is None else value + Range(-file, -file)
        for value, file in zip(values, files, strict=True)
    ]


def usual_swap_file(runs: Sequence[Digest]) -> float | None:
    """The bytes of the file for swapping that a release's runs made; None where nobody said so."""
    return median_of_all([details(run).swap_file for run in runs])
