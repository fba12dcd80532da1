"""The ledger of effort: the figures of releases side by side, each with those of its runs."""

from __future__ import annotations

from collections.abc import Mapping

import msgspec

from metrograph.ledgers.digests.digest import details, taken
from metrograph.ledgers.digests.groups import Group
from metrograph.measures.catalogue import Figures
from metrograph.measures.selection import Selection
from metrograph.measures.spread import Spread, spreads


class EffortLedger(msgspec.Struct, frozen=True):
    """Figures by release.

    figures: per release, by name; runs: per release, those of each of its runs, counted or not; empty if not asked for.
    """

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    figures: tuple[dict[str, Spread], ...]
    runs: tuple[dict[str, Figures], ...]
    selections: Mapping[str, Selection] = {}


def effort_ledger(group: Group, each_run: bool = True) -> EffortLedger:
    """The figures of all releases, made from the runs that count. each_run: whether those of every run are wanted."""
    figures = tuple(spreads([taken(digest) for digest in digests]) for digests in group.measured.values())
    by_run: tuple[dict[str, Figures], ...] = tuple(
        {digest.run: details(digest).figures for digest in digests} for digests in group.runs.values() if each_run
    )
    return EffortLedger(group.releases, group.lines, figures, by_run, group.selections)
