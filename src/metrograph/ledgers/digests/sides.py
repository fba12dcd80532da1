"""Reads what a person names as the sides of a comparison."""

from __future__ import annotations

from collections.abc import Mapping

from metrograph.compare.records import Side
from metrograph.run.cards import Release
from metrograph.run.lines import line_of
from metrograph.run.records import Run
from metrograph.store.local.logbook import Logbook
from metrograph.store.reading import LogReader
from metrograph.store.selection import select

NO_CARDS: Mapping[str, Release] = {}


def read_side(reader: LogReader, logbook: Logbook | None, name: str, cards: Mapping[str, Release] = NO_CARDS) -> Side:
    """The runs that a name stands for, in the order they were begun. cards: say what a release continues."""
    selected = select(logbook, name)
    runs = sorted((reader.run(run, selected.store) for run in selected.runs), key=begun)
    release = runs[0].release
    return Side(selected.name, tuple(runs), line_of(release, cards.get(release)))


def begun(run: Run) -> float:
    """Seconds since 1970 to a run's beginning; 0 where the log does not say."""
    return run.begun.timestamp() if run.begun else 0.0
