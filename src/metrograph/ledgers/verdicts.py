"""The ledger of judgements: ratings and scores by release, and all verdicts with their readers."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import msgspec

from metrograph.compare.records import Change, What
from metrograph.ledgers.checks import CheckResult
from metrograph.ledgers.digests.digest import Digest, details
from metrograph.ledgers.digests.groups import Group
from metrograph.log.quantities.quantity import parse_share
from metrograph.log.quantities.ranges import Range, median

SCORE = "score"


class RatingRow(msgspec.Struct, frozen=True):
    """A rating, or the score of verdicts for one reader, across releases.

    reader: whom the verdict is for; None of a rating, and of a verdict for everybody.
    whole: of how many, where all say the same.
    parts: the median of a release's runs; None where it has none.
    """

    name: str
    reader: str | None
    whole: float
    parts: tuple[Range | None, ...]


class Judgement(msgspec.Struct, frozen=True, rename={"good": "for"}):
    """A verdict on a run; see ``Verdict``."""

    release: str
    run: str
    text: str
    good: str | None
    against: str | None
    score: str | None
    whom: tuple[str, ...]


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
    """Judgements by release. shifts: what changed in judgement, see ``metrograph.ledgers.shifts``."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[RatingRow, ...]
    verdicts: tuple[Judgement, ...]
    shifts: tuple[Shift, ...] = ()


class _Rated(msgspec.Struct, frozen=True):
    """So many of so many, by what is rated and for whom."""

    name: str
    reader: str | None
    part: float
    whole: float


def verdicts_ledger(group: Group) -> VerdictLedger:
    """All that reviewers judged, release by release."""
    rated = [[mark for run in runs for mark in _marks(run)] for runs in group.runs.values()]
    keys = dict.fromkeys((mark.name, mark.reader, mark.whole) for marks in rated for mark in marks)
    pairs = [(release, run) for release, runs in group.runs.items() for run in runs]
    return VerdictLedger(
        releases=group.releases,
        lines=group.lines,
        rows=tuple(_row(key, rated) for key in keys),
        verdicts=tuple(judgement for release, run in pairs for judgement in _judgements(release, run)),
    )


def _marks(run: Digest) -> Iterator[_Rated]:
    more = details(run)
    for rating in more.ratings:
        yield _Rated(rating.name, None, rating.part, rating.whole)
    for verdict in more.verdicts:
        share = parse_share(verdict.score) if verdict.score else None
        if share is not None:
            for reader in verdict.whom or (None,):
                yield _Rated(SCORE, reader, share.part, share.whole)


def _row(key: tuple[str, str | None, float], rated: Sequence[Sequence[_Rated]]) -> RatingRow:
    name, reader, whole = key
    parts = [[mark.part for mark in marks if (mark.name, mark.reader, mark.whole) == key] for marks in rated]
    return RatingRow(name, reader, whole, tuple(median([Range(p, p) for p in of]) if of else None for of in parts))


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
            was, now = show_share(before, row.whole), show_share(after, row.whole)
            yield Change(*names, what, key=row.name, before=was, after=now, under=row.reader)


def show_share(part: Range, whole: float) -> str:
    """``7 of 10``."""
    return f"{part.middle:g} of {whole:g}"
