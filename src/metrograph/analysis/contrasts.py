"""Holds the figures of releases against each other and says what may be concluded, from however few runs there are."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import msgspec

from metrograph.analysis.digests import details
from metrograph.analysis.effort import spread
from metrograph.analysis.repeats import compare_runs, corrected, known_spread, verdict
from metrograph.model.contrasts import Contrast
from metrograph.model.figures import TIMES
from metrograph.model.ledgers import Digest
from metrograph.model.ranges import Range, difference

_OF_THE_WHOLE = frozenset({"on-clock", "hands-on", "waiting", "lost"})
"""Figures that say nothing of a run that is not over."""

Releases = Mapping[str, Sequence[Digest]]
Values = dict[str, list[Range]]
"""The figures of some runs by name."""


def contrasts(earlier: str, later: str, releases: Releases, others: Releases | None = None) -> tuple[Contrast, ...]:
    """All figures that both of two releases have, each with what may be concluded from it.

    releases: the runs by release, the two among them.
    others: runs of more releases, whose repeats say how much such figures spread.

    Where both were run on one rig, runs on other rigs are left out.
    """
    before, after, rigs = _on_common_rigs(releases[earlier], releases[later])
    old, new = (_values(runs) for runs in (before, after))
    elsewhere = {name: runs for name, runs in {**(others or {}), **releases}.items() if name not in {earlier, later}}
    own = [*_groups(before), *_groups(after)]
    more = {name: _groups(runs) for name, runs in elsewhere.items()}
    found = [
        _contrast(earlier, later, name, old[name], new[name], _Repeats(name, own, more)) for name in old if name in new
    ]
    chances = corrected([each.chance for each in found])
    return tuple(
        msgspec.structs.replace(each, chance=chance, verdict=verdict(chance), rigs=rigs)
        for each, chance in zip(found, chances, strict=True)
    )


def _contrast(earlier: str, later: str, name: str, old: list[Range], new: list[Range], repeats: _Repeats) -> Contrast:
    before, after = spread(old), spread(new)
    test = compare_runs(old, new, known_spread(repeats.groups))
    known = test.method == "known spread"
    return Contrast(
        earlier=earlier,
        later=later,
        name=name,
        unit="s" if name in TIMES else "bytes",
        before=before,
        after=after,
        difference=difference(before.median, after.median),
        interval=test.interval,
        chance=test.chance,
        verdict="can't say",
        method=test.method,
        freedom=test.freedom,
        borrowed=repeats.borrowed if known else (),
    )


class _Repeats:
    """What repeats of one figure there are: groups of runs of one release on one rig."""

    def __init__(self, name: str, own: Sequence[Values], more: Mapping[str, Sequence[Values]]) -> None:
        others = {release: [group.get(name, []) for group in groups] for release, groups in more.items()}
        self.groups = [group.get(name, []) for group in own] + [group for groups in others.values() for group in groups]
        self.borrowed = tuple(release for release, groups in others.items() if any(len(group) > 1 for group in groups))


def _groups(runs: Sequence[Digest]) -> list[Values]:
    """The figures of the runs on each rig."""
    return [_values([run for run in runs if run.rig == rig]) for rig in dict.fromkeys(run.rig for run in runs)]


def _on_common_rigs(
    before: Sequence[Digest], after: Sequence[Digest]
) -> tuple[Sequence[Digest], Sequence[Digest], tuple[str, ...]]:
    """The runs on rigs that both have, and these rigs when that leaves some out; all runs when there are none."""
    first, second = ({run.rig for run in runs} for runs in (before, after))
    common = first & second
    if not common or first == second == common:
        return before, after, ()
    kept = [[run for run in runs if run.rig in common] for runs in (before, after)]
    return kept[0], kept[1], tuple(sorted(common))


def _values(runs: Sequence[Digest]) -> Values:
    """Times of some runs by name, then their readings of sizes by name and state, one of each a run."""
    found: Values = {}
    for run in runs:
        own = details(run)
        for name in TIMES:
            if name in own.figures and (own.ended or name not in _OF_THE_WHOLE):
                found.setdefault(name, []).append(own.figures[name])
    for run in runs:
        sizes = {f"{r.name} ({r.state})": r.value for r in run.readings if r.unit == "bytes" and r.load != "busy"}
        for name, value in sizes.items():
            found.setdefault(name, []).append(Range(value, value))
    return found
