"""Sets the figures of releases side by side, each with those of its runs."""

from __future__ import annotations

from metrograph.analysis.digests import details
from metrograph.analysis.effort import spreads
from metrograph.analysis.ledgers import Group
from metrograph.model.figures import EffortLedger


def effort_ledger(group: Group) -> EffortLedger:
    """The figures of all releases; of runs that are not over, as far as they go."""
    runs = [{run.run: details(run).figures for run in own} for own in group.runs.values()]
    figures = tuple(spreads(list(own.values())) for own in runs)
    return EffortLedger(group.releases, group.lines, figures, tuple(runs))
