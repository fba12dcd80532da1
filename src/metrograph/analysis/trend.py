"""Follows one figure along the releases of each line, oldest first, with the spread of its runs."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.analysis.digests import details
from metrograph.analysis.effort import spread
from metrograph.analysis.ledgers import Group
from metrograph.model.figures import FIGURES, Spread
from metrograph.model.kinship import Trend
from metrograph.model.ledgers import Digest
from metrograph.model.lexicon import Lexicon
from metrograph.model.ranges import Range

_LATER = ("updated", "installed", "live")


def names_of(group: Group) -> list[str]:
    """All figures that can be followed: those of every run, then what was read, by name."""
    read = dict.fromkeys(r.name for runs in group.runs.values() for run in runs for r in run.readings)
    return [*FIGURES, *(name for name in read if name not in FIGURES)]


def trends(group: Group, name: str, lexicon: Lexicon, state: str | None = None) -> tuple[Trend, ...]:
    """One figure along each line of releases that has it.

    state: of a reading, in which it must have been taken; None for the one that most runs have, ``installed`` at a tie.
    """
    if name in FIGURES:
        known = FIGURES[name]
        words, better = known.words, known.better
        unit: str = known.unit
        values = {release: _figures(runs, name) for release, runs in group.runs.items()}
    else:
        state = state or _usual_state(group, name)
        measure = lexicon.measures.get(name)
        words, better = f"{name} ({state})", measure.better if measure else None
        unit = next(
            (r.unit for runs in group.runs.values() for run in runs for r in run.readings if r.name == name), ""
        )
        values = {release: _readings(runs, name, state) for release, runs in group.runs.items()}
    found = []
    for line in dict.fromkeys(group.lines):
        own = [release for release, of in zip(group.releases, group.lines, strict=True) if of == line]
        points = tuple(_point(values[release]) for release in own)
        if any(points):
            found.append(Trend(name, words, unit, better, line, tuple(own), points))
    return tuple(found)


def _point(values: Sequence[Range]) -> Spread | None:
    return spread(values) if values else None


def _figures(runs: Sequence[Digest], name: str) -> list[Range]:
    """A figure of all runs that have it; of what counts the whole of a run, only of runs that are over."""
    own = [details(run) for run in runs]
    return [each.figures[name] for each in own if name in each.figures and (each.ended or name != "on-clock")]


def _readings(runs: Sequence[Digest], name: str, state: str) -> list[Range]:
    """A reading of each run in one state, not under load; of several the last."""
    found = []
    for run in runs:
        own = [r.value for r in run.readings if r.name == name and r.state == state and r.load != "busy"]
        found += [Range(own[-1], own[-1])] if own else []
    return found


def _usual_state(group: Group, name: str) -> str:
    counts = {
        state: sum(bool(_readings(runs, name, state)) for runs in group.runs.values())
        for state in ("installed", *_LATER)
    }
    return max(counts, key=lambda state: counts[state])
