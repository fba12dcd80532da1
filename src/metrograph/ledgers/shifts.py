"""What changed in judgement from one release of a line to the next, and which measured figures went with it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise
from math import floor

import msgspec

from metrograph.ledgers.checks import CheckResult, checks_ledger
from metrograph.ledgers.digests.digest import Digest, details
from metrograph.ledgers.digests.groups import Group
from metrograph.ledgers.verdicts import Judgement, Moved, RatingRow, Retried, Shift, VerdictLedger, show_share
from metrograph.log.lexicon import Lexicon, Unit
from metrograph.log.quantities.ranges import Range
from metrograph.measures.catalogue import MEASURES, better_of, reading_name
from metrograph.measures.readings import by_key
from metrograph.measures.spread import Spread, spread_or_none

VERDICT = "verdict"
_MOST = 3  # figures that are told
_LEAST = 0.05  # of a figure: less is not what a judgement rests on
_PART_ONLY = frozenset({"kept", "chosen", "typed", "right", "asked-first"})
"""Measures that say nothing by themselves of how good a release is."""


def with_shifts(ledger: VerdictLedger, group: Group, lexicon: Lexicon) -> VerdictLedger:
    """The ledger with what changed in judgement, line by line."""
    found = []
    for line in dict.fromkeys(group.lines):
        places = [place for place, of in enumerate(group.lines) if of == line]
        found += [shift for row in ledger.rows for shift in _of_row(row, places, group, lexicon)]
        found += _of_verdicts(ledger.verdicts, places, group, lexicon)
    return msgspec.structs.replace(ledger, shifts=tuple(found))


def _of_row(row: RatingRow, places: Sequence[int], group: Group, lexicon: Lexicon) -> Iterator[Shift]:
    """A rating, or a score, from each release that has it to the next."""
    known = [(place, part) for place in places if (part := row.parts[place]) is not None]
    for (earlier, before), (later, after) in pairwise(known):
        if before != after:
            was, now = show_share(before, row.whole), show_share(after, row.whole)
            better = after.middle > before.middle
            yield _shift(row.name, row.reader, (was, now), (earlier, later), (group, lexicon, better))


def _of_verdicts(
    verdicts: Sequence[Judgement], places: Sequence[int], group: Group, lexicon: Lexicon
) -> Iterator[Shift]:
    """What was said last of each release, from one that something was said of to the next, reader by reader."""
    for reader in dict.fromkeys(whom for verdict in verdicts for whom in verdict.whom or (None,)):
        last = {verdict.release: verdict.text for verdict in verdicts if reader in (verdict.whom or (None,))}
        known = [(place, last[group.releases[place]]) for place in places if group.releases[place] in last]
        for (earlier, before), (later, after) in pairwise(known):
            if before != after:
                yield _shift(VERDICT, reader, (before, after), (earlier, later), (group, lexicon, None))


def _shift(
    name: str,
    reader: str | None,
    said: tuple[str, str],
    places: tuple[int, int],
    among: tuple[Group, Lexicon, bool | None],
) -> Shift:
    """What went with a judgement.

    among: the runs, what readings there are, and whether it got better; None where nobody can tell.
    """
    group, lexicon, better = among
    earlier, later = (group.releases[place] for place in places)
    moved = [each for each in _moved(group, earlier, later, lexicon) if better in {None, each.better}]
    trials = [each for each in _retried(group, *places) if better in {None, each.after is CheckResult.PASS}]
    return Shift(earlier, later, name, reader, *said, tuple(moved[:_MOST]), tuple(trials[:_MOST]))


def _moved(group: Group, earlier: str, later: str, lexicon: Lexicon) -> list[Moved]:
    """The figures that are others, those that changed most in proportion first."""
    old, new = (_figures(group.measured[release]) for release in (earlier, later))
    pairs = [(key, old[key], new[key]) for key in old if key in new]
    told = [
        Moved(name, unit, _whole(one.median, unit), _whole(two.median, unit), better=more == (way == "more"))
        for (name, unit), one, two in pairs
        if (way := _way(name, lexicon)) is not None and _is_apart(one, two)
        for more in [two.median.middle > one.median.middle]
    ]
    large = [each for each in told if _size(each) >= _LEAST]
    return sorted(large, key=_size, reverse=True)


def _size(each: Moved) -> float:
    """How much it changed in proportion to what it was; what was nothing has no proportion."""
    return abs(each.after.middle / each.before.middle - 1) if each.before.middle else 0.0


def _whole(amount: Range, unit: str) -> Range:
    """Half an issue was never met: between the two middle runs lies what is known."""
    if unit != Unit.COUNT or not amount.exact or not amount.low % 1:
        return amount
    return Range(floor(amount.low), floor(amount.low) + 1)


def _figures(runs: Sequence[Digest]) -> Mapping[tuple[str, str], Spread]:
    """The figures of the runs themselves, and what was read at rest, by name and unit."""
    values: dict[tuple[str, str], list[Range]] = {}
    for run in runs:
        for name, amount in details(run).figures.items():
            if name in MEASURES and name not in _PART_ONLY:
                values.setdefault((name, MEASURES[name].unit), []).append(amount)
        for key, amount in by_key(run.readings).items():
            if key.load in {None, "rest"}:
                values.setdefault((reading_name(key.name, key.state), key.unit), []).append(amount)
    spreads = {key: spread_or_none(amounts) for key, amounts in values.items()}
    return {key: spread for key, spread in spreads.items() if spread is not None}


def _is_apart(one: Spread, two: Spread) -> bool:
    """Whether no run of the one lies among those of the other; of what is open nobody knows."""
    if one.most is None or two.most is None:
        return False
    return one.most < two.least or two.most < one.least


def _way(name: str, lexicon: Lexicon) -> str | None:
    """Which way a figure is better; None where neither is."""
    measure = MEASURES.get(name)
    return measure.better if measure is not None else better_of(name.rpartition(" (")[0], lexicon)


def _retried(group: Group, earlier: int, later: int) -> Iterator[Retried]:
    """The trials that failed and pass now, or the other way round."""
    ends = {CheckResult.PASS, CheckResult.FAIL, CheckResult.PARTLY}
    for row in checks_ledger(group).rows:
        before, after = row.results[earlier], row.results[later]
        if before != after and {before, after} <= ends:
            yield Retried(row.name, before, after)
