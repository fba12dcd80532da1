"""The ledger of judgements: ratings, scores and verdicts, what changed in them, which figures went with it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise
from math import floor

import msgspec

from metrograph.compare.flow_records import Change, What
from metrograph.ledgers.checks import CheckResult, checks_ledger
from metrograph.ledgers.digests.digest import Digest, details
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.log.lexicon import Lexicon, Unit
from metrograph.log.quantities.ranges import Range, median
from metrograph.log.quantities.ratings import parse_rating, rating_in_words
from metrograph.measures.catalogue import MEASURES, better_of, reading_name
from metrograph.measures.reducing import Spread, by_key, spread_or_none

SCORE = "score"


class RatingRow(msgspec.Struct, frozen=True):
    """A rating, or the score of verdicts for one reader, across releases.

    reader: whom the verdict is for; None of a rating, and of a verdict for everybody.
    whole: of how many, where all say the same.
    parts: the median of a release's runs; None where it has none.
    in_words: whether it was said in words, of which the parts are the places; see ``RatingSaid``.
    """

    name: str
    reader: str | None
    whole: float
    parts: tuple[Range | None, ...]
    in_words: bool = False

    def show(self, part: Range) -> str:
        """A rating as it is said: ``7 of 10``, ``good``."""
        return rating_in_words(part.middle) if self.in_words else f"{part.middle:g} of {self.whole:g}"


class Judgement(msgspec.Struct, frozen=True, rename={"good": "for"}):
    """A verdict on a run; see ``Verdict``."""

    release: str
    run: str
    text: str
    good: str | None
    against: str | None
    score: str | None
    whom: tuple[str, ...]


class Liked(msgspec.Struct, frozen=True):
    """Something that was liked in a run, or was not; see ``Remark``."""

    release: str
    run: str
    thing: str
    liked: bool
    why: str | None


class Moved(msgspec.Struct, frozen=True):
    """A figure that is another, beyond what the runs of either release spread.

    unit: in what it counts; better: whether it became better.
    """

    name: str
    unit: str
    before: Range
    after: Range
    better: bool


class Retried(msgspec.Struct, frozen=True):
    """A trial that came out otherwise."""

    name: str
    before: CheckResult
    after: CheckResult


class Shift(msgspec.Struct, frozen=True):
    """A judgement that is another than of the release before.

    name: of the rating, ``score``, or ``verdict``; reader: whom it is for, None for everybody.
    before, after: as they were said.
    figures, trials: what went with it; of a rating only what went the same way.
    """

    earlier: str
    later: str
    name: str
    reader: str | None
    before: str
    after: str
    figures: tuple[Moved, ...]
    trials: tuple[Retried, ...]


class VerdictLedger(msgspec.Struct, frozen=True):
    """Judgements by release. shifts: what changed in judgement, see ``metrograph.ledgers.verdicts``."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[RatingRow, ...]
    verdicts: tuple[Judgement, ...]
    shifts: tuple[Shift, ...] = ()
    remarks: tuple[Liked, ...] = ()


class _Rated(msgspec.Struct, frozen=True):
    """So many of so many, by what is rated and for whom."""

    name: str
    reader: str | None
    part: float
    whole: float
    in_words: bool = False

    @property
    def key(self) -> tuple[str, str | None, float, bool]:
        """What it is held against: ratings of the same thing on the same scale."""
        return self.name, self.reader, self.whole, self.in_words


def verdicts_ledger(group: ReleaseGroup) -> VerdictLedger:
    """All that reviewers judged, release by release."""
    rated = [[mark for run in runs for mark in _marks(run)] for runs in group.runs.values()]
    keys = dict.fromkeys(mark.key for marks in rated for mark in marks)
    pairs = [(release, run) for release, runs in group.runs.items() for run in runs]
    return VerdictLedger(
        releases=group.releases,
        lines=group.lines,
        rows=tuple(_row(key, rated) for key in keys),
        verdicts=tuple(judgement for release, run in pairs for judgement in _judgements(release, run)),
        remarks=tuple(
            Liked(release, run.run, remark.thing, remark.liked, remark.why)
            for release, run in pairs
            for remark in details(run).remarks
        ),
    )


def _marks(run: Digest) -> Iterator[_Rated]:
    more = details(run)
    for rating in more.ratings:
        yield _Rated(rating.name, None, rating.part, rating.whole, rating.in_words)
    for verdict in more.verdicts:
        said = parse_rating(verdict.score) if verdict.score else None
        if said is not None:
            for reader in verdict.whom or (None,):
                yield _Rated(SCORE, reader, said.part, said.whole, said.in_words)


def _row(key: tuple[str, str | None, float, bool], rated: Sequence[Sequence[_Rated]]) -> RatingRow:
    name, reader, whole, in_words = key
    said = [[mark.part for mark in marks if mark.key == key] for marks in rated]
    parts = tuple(median([Range(part, part) for part in of]) if of else None for of in said)
    return RatingRow(name, reader, whole, parts, in_words)


def _judgements(release: str, run: Digest) -> Iterator[Judgement]:
    for verdict in details(run).verdicts:
        yield Judgement(release, run.run, verdict.text, verdict.good, verdict.against, verdict.score, verdict.whom)


def rating_changes(ledger: VerdictLedger, earlier: int, later: int) -> Iterator[Change]:
    """Ratings and scores that are other than they were, from one release to another, by their indices."""
    for row in ledger.rows:
        before, after = row.parts[earlier], row.parts[later]
        if before is not None and after is not None and before != after:
            what = What.SCORE_CHANGED if row.name == SCORE else What.RATING_CHANGED
            names = ledger.releases[earlier], ledger.releases[later]
            was, now = row.show(before), row.show(after)
            yield Change(*names, what, key=row.name, before=was, after=now, under=row.reader)


VERDICT = "verdict"
_MOST = 3  # figures that are told
_LEAST = 0.05  # of a figure: less is not what a judgement rests on
_PART_ONLY = frozenset({"kept", "chosen", "typed", "right", "asked-first"})
"""Measures that say nothing by themselves of how good a release is."""


def with_shifts(ledger: VerdictLedger, group: ReleaseGroup, lexicon: Lexicon) -> VerdictLedger:
    """The ledger with what changed in judgement, line by line."""
    found = []
    for line in dict.fromkeys(group.lines):
        places = [place for place, of in enumerate(group.lines) if of == line]
        found += [shift for row in ledger.rows for shift in _of_row(row, places, group, lexicon)]
        found += _of_verdicts(ledger.verdicts, places, group, lexicon)
    return msgspec.structs.replace(ledger, shifts=tuple(found))


def _of_row(row: RatingRow, places: Sequence[int], group: ReleaseGroup, lexicon: Lexicon) -> Iterator[Shift]:
    """A rating, or a score, from each release that has it to the next."""
    known = [(place, part) for place in places if (part := row.parts[place]) is not None]
    for (earlier, before), (later, after) in pairwise(known):
        if before != after:
            was, now = row.show(before), row.show(after)
            better = after.middle > before.middle
            yield _shift(row.name, row.reader, (was, now), (earlier, later), (group, lexicon, better))


def _of_verdicts(
    verdicts: Sequence[Judgement], places: Sequence[int], group: ReleaseGroup, lexicon: Lexicon
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
    among: tuple[ReleaseGroup, Lexicon, bool | None],
) -> Shift:
    """What went with a judgement.

    among: the runs, what readings there are, and whether it got better; None where nobody can tell.
    """
    group, lexicon, better = among
    earlier, later = (group.releases[place] for place in places)
    moved = [each for each in _moved(group, earlier, later, lexicon) if better in {None, each.better}]
    trials = [each for each in _retried(group, *places) if better in {None, each.after is CheckResult.PASS}]
    return Shift(earlier, later, name, reader, *said, tuple(moved[:_MOST]), tuple(trials[:_MOST]))


def _moved(group: ReleaseGroup, earlier: str, later: str, lexicon: Lexicon) -> list[Moved]:
    """The figures that are others, those that changed most in proportion first."""
    old, new = (_figures(group.measured[release]) for release in (earlier, later))
    pairs = [(key, old[key], new[key]) for key in old if key in new]
    told = [
        Moved(name, unit, _whole(one.median, unit), _whole(two.median, unit), better=more == (way == "more"))
        for (name, unit), one, two in pairs
        if (way := _way(name, lexicon)) is not None and _is_apart(one, two) and _are_figures(one, two)
        for more in [two.median.middle > one.median.middle]
    ]
    large = [each for each in told if _size(each) >= _LEAST]
    return sorted(large, key=_size, reverse=True)


def _are_figures(*spreads: Spread) -> bool:
    """Whether medians are figures and not bounds, of which nobody can say by how much they differ."""
    return all(each.median.exact or each.median.about for each in spreads)


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


def _retried(group: ReleaseGroup, earlier: int, later: int) -> Iterator[Retried]:
    """The trials that failed and pass now, or the other way round."""
    ends = {CheckResult.PASS, CheckResult.FAIL, CheckResult.PARTLY}
    for row in checks_ledger(group).rows:
        before, after = row.results[earlier], row.results[later]
        if before != after and {before, after} <= ends:
            yield Retried(row.name, before, after)
