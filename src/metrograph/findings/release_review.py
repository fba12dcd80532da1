"""Gathers all that is known of one release: what it is, its runs, its place among others, what was said beside them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import msgspec

from metrograph.ledgers.card_ledger import CardLedger, cards_ledger
from metrograph.ledgers.claims import ClaimLedger, claims_ledger
from metrograph.ledgers.comparison import Comparison
from metrograph.ledgers.digests.digest import digest
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.facts import FactLedger, facts_ledger
from metrograph.log.quantities.ranges import Range
from metrograph.measures.reducing import at_rest
from metrograph.run.cards import Release, Rig, line_of, siblings_of
from metrograph.run.noted import Beside, SameAs
from metrograph.run.records import Part, Run


class Place(msgspec.Struct, frozen=True):
    """The place of a release among those of a logbook, by ids.

    line: what it continues; earlier, later: the next of its line to either side; siblings: other editions of it.
    """

    line: str
    earlier: str | None = None
    later: str | None = None
    siblings: tuple[str, ...] = ()


class SaidBeside(msgspec.Struct, frozen=True):
    """A comparison that was said, and what was measured of the same thing, where it was.

    before, after: what was read at rest in the other release and in this one; unit: bytes, s or none.
    agrees: whether the figures bear out what was said; None where they cannot.
    """

    said: Beside
    unit: str = ""
    before: Range | None = None
    after: Range | None = None
    agrees: bool | None = None


class AsThere(msgspec.Struct, frozen=True):
    """Something that was not said of a release, as all that is not said of it is as in another. kind: of thing."""

    release: str
    kind: str
    name: str
    value: str


class ReleaseReview(msgspec.Struct, frozen=True):
    """One release reviewed.

    whole: its side as a comparison has it; before: it against the release before it, None where that has no runs.
    siblings: other editions against it, those that have runs.
    cards: its card beside that of the release before it where only that has a card and no run, or alone.
    runs: as others may see them, the oldest first.
    """

    release: str
    place: Place
    whole: Comparison
    runs: tuple[Run, ...]
    facts: FactLedger
    claims: ClaimLedger
    cards: CardLedger | None = None
    before: Comparison | None = None
    siblings: tuple[Comparison, ...] = ()
    beside: tuple[SaidBeside, ...] = ()
    as_there: tuple[AsThere, ...] = ()

    @property
    def covers(self) -> tuple[Part, ...]:
        """What its runs go through together, in the order of the parts."""
        return tuple(part for part in Part if any(part in run.covers for run in self.runs))


class ReviewBackground(msgspec.Struct, frozen=True):
    """What is known beside a release. others: runs of other releases, by release, as they are compared."""

    cards: Mapping[str, Release]
    rigs: Mapping[str, Rig]
    others: Mapping[str, Sequence[Run]]


def place_of(release: str, cards: Mapping[str, Release], installed: Sequence[str]) -> Place:
    """Where a release stands. installed: all releases that have runs."""
    line = line_of(release, cards.get(release))
    known = dict.fromkeys([*cards, *installed, release])
    same = sorted(
        (each for each in known if line_of(each, cards.get(each)) == line), key=lambda each: _age(each, cards)
    )
    siblings = siblings_of(release, dict.fromkeys(installed, Release()) | dict(cards))
    same = [each for each in same if each not in siblings]
    at = same.index(release)
    return Place(line, same[at - 1] if at else None, same[at + 1] if at + 1 < len(same) else None, siblings)


def _age(release: str, cards: Mapping[str, Release]) -> tuple[str, str]:
    card = cards.get(release)
    return (card.released or "" if card else ""), release


def review_of(
    place: Place, whole: Comparison, runs: Sequence[Run], known: ReviewBackground, before: Comparison | None
) -> ReleaseReview:
    """All that is known of a release. whole: of its side alone; before: against the release before it."""
    release = whole.releases[0]
    group = ReleaseGroup.of({release: [digest(run) for run in runs]}, ("",), known.cards)
    shown = [place.earlier] if before is None and place.earlier is not None else []
    cards = {each: known.cards[each] for each in (*shown, runs[0].release) if each in known.cards}
    return ReleaseReview(
        release=release,
        place=place,
        whole=whole,
        runs=tuple(runs),
        facts=facts_ledger(group),
        claims=claims_ledger(group, known.rigs),
        cards=cards_ledger(cards) if runs[0].release in cards else None,
        before=before,
        beside=tuple(_measured(said, runs, known) for run in runs for said in run.beside),
        as_there=tuple(_as_there(runs, known)),
    )


# -- said beside others ------------------------------------------------------------------------------------------------

_ALIKE = 0.02  # of a figure: less is the same
_MORE_IS = {"more": 1, "less": -1}


def _measured(said: Beside, runs: Sequence[Run], known: ReviewBackground) -> SaidBeside:
    """What was said, with what was read of the thing in both, in one state."""
    theirs = known.others.get(said.release, ())
    for state in ("installed", "updated", "live"):
        ours = _read(runs, said.thing, state)
        other = _read(theirs, said.thing, state)
        if ours is not None and other is not None:
            units = [each.unit for run in runs for each in run.readings if each.name == said.thing]
            return SaidBeside(said, units[0], other, ours, _agrees(said.way, other, ours))
    return SaidBeside(said)


def _read(runs: Sequence[Run], name: str, state: str) -> Range | None:
    values = (at_rest([each for each in run.readings if each.heard is None], name, state) for run in runs)
    return next((value for value in values if value is not None), None)


def _agrees(way: str, before: Range, after: Range) -> bool | None:
    """Whether figures bear out that something is less, more or the same; better and worse they do not tell."""
    if not (before.exact and after.exact) or way not in {*_MORE_IS, "same"}:
        return None
    alike = abs(after.low - before.low) <= _ALIKE * max(before.low, after.low)
    if way == "same" or alike:
        return alike if way == "same" else None
    return (after.low > before.low) == (way == "more")


def _as_there(runs: Sequence[Run], known: ReviewBackground) -> Iterator[AsThere]:
    """The software and the trials of the releases that all else is said to be as in, but for what was said here."""
    for alike in (each for run in runs for each in run.same_as):
        there = known.others.get(alike.release, ())
        yield from _software_there(runs, there, alike)
        yield from _trials_there(runs, there, alike)


def _software_there(runs: Sequence[Run], there: Sequence[Run], alike: SameAs) -> Iterator[AsThere]:
    own = {item.item.casefold() for run in runs for item in run.software}
    own |= {(item.instead or "").casefold() for run in runs for item in run.software}
    items = {item.item.casefold(): item for run in there for item in run.software if item.there}
    for key, item in items.items():
        if key not in own and not _is_excepted((item.item, item.group or ""), alike):
            name = f"{item.item} {item.version}" if item.version else item.item
            yield AsThere(alike.release, item.group or "software", name, "on board")


def _trials_there(runs: Sequence[Run], there: Sequence[Run], alike: SameAs) -> Iterator[AsThere]:
    own = {check.name for run in runs for check in run.checks}
    results = {check.name: check.result for run in there for check in run.checks if check.result != "skipped"}
    for name, result in results.items():
        if name not in own and not _is_excepted((name,), alike):
            yield AsThere(alike.release, "trial", name, result)


def _is_excepted(names: Sequence[str], alike: SameAs) -> bool:
    return any(name.casefold() == but.casefold() for name in names for but in alike.but)
