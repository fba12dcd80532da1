"""Gathers what a comparison is made from: the sides that were named, oldest first, and what is known beside them."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import msgspec

from metrograph.analysis.compare import Known
from metrograph.analysis.ledgers import line_of
from metrograph.commands.environment import Environment
from metrograph.errors import MetrographError
from metrograph.language.suggest import suggest
from metrograph.logbook.cards import load_releases, load_rigs
from metrograph.logbook.digests import digests_of
from metrograph.logbook.selection import Reader
from metrograph.model.cards import Release
from metrograph.model.comparison import Side
from metrograph.model.ledgers import Digest
from metrograph.model.runs import Run

_FEW = 3
"""Runs of a side below which the repeats of other releases are looked at as well."""


class Gathered(msgspec.Struct, frozen=True):
    """Sides, oldest first; what is known beside them; the name of the one that the others are held against."""

    sides: tuple[Side, ...]
    known: Known
    baseline: str

    @property
    def title(self) -> str:
        """What is compared."""
        return " against ".join(side.name for side in self.sides)

    @property
    def runs(self) -> list[Run]:
        """All runs, side by side."""
        return [run for side in self.sides for run in side.runs]


def gather(
    environment: Environment, logbook: Path | None, names: Sequence[str], baseline: str | None = None
) -> Gathered:
    """Reads what was named; raises MetrographError when that is not two or more, or has no such baseline."""
    if len(set(names)) < 2:
        raise MetrographError("name two or more to compare, each once: releases, runs, or logs' paths")
    reader = Reader(environment.logbook_or_none(logbook))
    named = [reader.side(name) for name in dict.fromkeys(names)]
    base = named[0].name if baseline is None else baseline
    if base not in {side.name for side in named}:
        near = suggest(base, [side.name for side in named])
        raise MetrographError(f"the baseline “{base}” is not among what is compared; expected: {near}")
    cards = load_releases(reader.logbook)
    others = _others(environment, reader, named, cards)
    environment.warn_of(reader.faults)
    known = Known(load_rigs(reader.logbook), cards, reader.rulings, others)
    sides = sorted(named, key=lambda side: _age(side, cards))
    return Gathered(tuple(sides), known, base)


def _age(side: Side, cards: dict[str, Release]) -> tuple[str, str]:
    """What sides are ordered by: the day the release came out, or else was first installed; then their first run."""
    first = side.runs[0]
    begun = first.begun.isoformat() if first.begun else ""
    card = cards.get(first.release)
    return (card.released.isoformat() if card and card.released else begun[:10]), begun


def _others(
    environment: Environment, reader: Reader, sides: Sequence[Side], cards: dict[str, Release]
) -> dict[str, list[Digest]]:
    """More runs of the lines that are compared, where a side has few of its own: repeats tell what spread is usual."""
    book = reader.logbook
    if book is None or all(len(side.runs) >= _FEW for side in sides):
        return {}
    lines = {line_of(run.release, cards.get(run.release)) for side in sides for run in side.runs}
    releases = [release for release in book.releases_with_runs() if line_of(release, cards.get(release)) in lines]
    taken = {run.run for side in sides for run in side.runs}
    found: dict[str, list[Digest]] = {}
    for each in digests_of(book, reader, environment.track, releases):
        if each.run not in taken:
            found.setdefault(each.release, []).append(each)
    return found
