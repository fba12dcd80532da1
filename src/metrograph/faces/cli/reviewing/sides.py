"""Reads what a comparison is made from: the sides that were named, oldest first, and what is known beside them."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import msgspec

from metrograph.compare.records import Side
from metrograph.core.errors import MetrographError
from metrograph.faces.cli.environment import Environment
from metrograph.ledgers.comparison import Background
from metrograph.ledgers.digests.cache import digests_of
from metrograph.ledgers.digests.digest import Digest
from metrograph.ledgers.digests.groups import begun, read_side
from metrograph.log.faults import suggest
from metrograph.run.cards import Release, line_of
from metrograph.run.records import Run
from metrograph.store.local.cards import load_releases, load_rigs
from metrograph.store.local.logbook import Logbook
from metrograph.store.names import split_run
from metrograph.store.reading import LogReader
from metrograph.words.names import names_of

_FEW_RUNS = 3
"""Runs of a side below which the repeats of other releases are looked at as well."""


class Compared(msgspec.Struct, frozen=True):
    """Sides, oldest first; what is known beside them; the name of the one that the others are held against."""

    sides: tuple[Side, ...]
    background: Background
    baseline: str

    @property
    def title(self) -> str:
        """What is compared."""
        common, names = self.names
        return f"{common} {' against '.join(names.get(side.name, side.name) for side in self.sides)}".strip()

    @property
    def names(self) -> tuple[str, dict[str, str]]:
        """What their human names have in common, and what is left of each, of runs too."""
        common, names = names_of(
            [side.name for side in self.sides], self.background.cards, [run.run for run in self.runs]
        )
        rigs = {rig: card.name for rig, card in self.background.rigs.items() if card.name}
        return common, rigs | names

    @property
    def runs(self) -> list[Run]:
        """All runs, side by side."""
        return [run for side in self.sides for run in side.runs]


def read_compared(
    environment: Environment,
    logbook: Path | None,
    names: Sequence[str],
    baseline: str | None = None,
    only_rig: str | None = None,
    least: int = 2,
) -> Compared:
    """Reads what was named; raises MetrographError when that is fewer than wanted, or has no such baseline or rig."""
    if len(set(names)) < least:
        raise MetrographError("name two or more to compare, each once: releases, runs, or logs' paths")
    book = environment.logbook_or_none(logbook)
    reader = LogReader(book)
    cards = load_releases(book)
    named = [read_side(reader, book, name, cards) for name in dict.fromkeys(names)]
    named = named if only_rig is None else [_on_rig(side, only_rig) for side in named]
    base = named[0].name if baseline is None else baseline
    if base not in {side.name for side in named}:
        near = suggest(base, [side.name for side in named])
        raise MetrographError(f"the baseline “{base}” is not among what is compared; expected: {near}")
    others = _others(environment, reader, book, named, cards)
    environment.warn_of(reader.faults)
    background = Background(load_rigs(book), cards, reader.rulings, others, reader.lexicon)
    return Compared(tuple(sorted(named, key=lambda side: _age(side, cards))), background, base)


def _on_rig(side: Side, rig: str) -> Side:
    """A side with its runs on one rig only."""
    runs = tuple(run for run in side.runs if run.rig == rig)
    if not runs:
        known = suggest(rig, dict.fromkeys(run.rig for run in side.runs))
        raise MetrographError(f"{side.name} was not installed on “{rig}”; expected: {known}")
    return msgspec.structs.replace(side, runs=runs)


def latest_of(environment: Environment, logbook: Path | None) -> list[str]:
    """The two latest releases of the line that was installed last; raises MetrographError when it has no two."""
    book = environment.logbook(logbook)
    reader, cards = LogReader(book), load_releases(book)
    sides = [
        read_side(reader, book, name, cards) for name in dict.fromkeys(split_run(run)[0] for run in book.run_names())
    ]
    ordered = sorted(sides, key=lambda side: _age(side, cards))
    last = max(sides, key=lambda side: max(begun(run) for run in side.runs), default=None)
    of_line = [side.name for side in ordered if last is not None and side.line == last.line]
    if len(of_line) < 2:
        raise MetrographError("name two or more to compare: no line has two releases with runs yet")
    return of_line[-2:]


def _age(side: Side, cards: dict[str, Release]) -> tuple[str, str]:
    """What sides are ordered by: the day the release came out, or else was first installed; then their first run."""
    first = side.runs[0]
    begun = first.begun.isoformat() if first.begun else ""
    card = cards.get(first.release)
    return (card.released if card and card.released else begun[:10]), begun


def _others(
    environment: Environment,
    reader: LogReader,
    book: Logbook | None,
    sides: Sequence[Side],
    cards: dict[str, Release],
) -> dict[str, list[Digest]]:
    """More runs of the lines that are compared, where a side has few of its own: repeats tell what spread is usual."""
    if book is None or all(len(side.runs) >= _FEW_RUNS for side in sides):
        return {}
    lines = {line_of(run.release, cards.get(run.release)) for side in sides for run in side.runs}
    installed = sorted({split_run(run)[0] for run in book.run_names()})
    releases = [release for release in installed if line_of(release, cards.get(release)) in lines]
    read = {run.run for side in sides for run in side.runs}
    others: dict[str, list[Digest]] = {}
    for digest in digests_of(reader, book, environment.track, releases):
        if digest.run not in read:
            others.setdefault(digest.release, []).append(digest)
    return others
