"""Loads the plan that a run follows from what its log names."""

from __future__ import annotations

from metrograph.errors import MetrographError
from metrograph.plan.plan import Plan, plan_of
from metrograph.run.folding.fold import fold
from metrograph.store.local.logbook import ENDING, Logbook
from metrograph.store.names import is_id
from metrograph.store.reading import LogReader
from metrograph.store.selection import select


def _is_here(name: str) -> bool:
    return is_id(name) and not name.endswith(ENDING)


def load_plan(reader: LogReader, logbook: Logbook, name: str | None, of: str, rig: str | None = None) -> Plan | None:
    """The plan that a run or a release makes; None when there is no such run, or none was named.

    of: the run that follows it. It is no part of it, nor are a release's other runs that are still open.
    rig: where it is made; runs there are preferred, those that came to their end first.
    """
    try:
        # A log that came from elsewhere may name anything; only what lies in this logbook is looked at.
        selected = select(logbook, name) if logbook is not None and name and _is_here(name) else None
    except MetrographError:
        return None
    if selected is None:
        return None
    logs = [(run, reader.log(run, selected.store)) for run in selected.runs if run != of]
    runs = [(fold(log, run, reader.lexicon), log) for run, log in logs]
    is_one_run = name in {run for run, _ in logs}
    sources = [source for source in runs if is_one_run or source[0].ended]
    if not sources:
        return None
    same = [source for source in sources if source[0].rig == rig]
    sources = [source for source in same if source[0].ended == "done"] or same or sources
    ordered = sorted(sources, key=lambda source: source[0].begun.timestamp() if source[0].begun else 0.0)
    return plan_of(selected.name, ordered, reader.lexicon, reader.rulings)
