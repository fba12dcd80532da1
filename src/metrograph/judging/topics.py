"""Finds what a name that a reader uses stands for, and what each release has of it, in the ledgers that there are."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import cached_property

import msgspec

from metrograph.judging.shortlist_records import TopicKind, TopicValue, Unusable, Wrong
from metrograph.ledgers.checks import CheckResult, CheckRow, checks_ledger
from metrograph.ledgers.digests.digest import Digest, details, taken
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.facts import facts_ledger
from metrograph.ledgers.software import LACKING, SoftwareLedger, software_ledger
from metrograph.ledgers.verdicts import VerdictLedger, verdicts_ledger
from metrograph.ledgers.weight import WEIGHTS, Weight, weight_ledger
from metrograph.log.lexicon import Better, Checklist, Lexicon, Unit
from metrograph.log.quantities.ranges import Range
from metrograph.measures.catalogue import MEASURES, Extent, better_of, reading_name
from metrograph.measures.reducing import at_rest, read_otherwise, spread_or_none
from metrograph.run.noted import STATES
from metrograph.run.readers import TopicName

_RESULTS: Mapping[CheckResult, Range] = {
    CheckResult.PASS: Range(1, 1), CheckResult.FAIL: Range(0, 0), CheckResult.PARTLY: Range(0.5, 0.5),
    CheckResult.MIXED: Range(0, 1),
}  # fmt: skip


class Topic(msgspec.Struct, frozen=True):
    """Something that releases are judged by: a figure, a trial, software and the like.

    better: which way it is better; None where nobody has said.
    held: what each release has of it; one that is left out has nothing that was noted.
    repeats: groups of amounts of one release on one rig, which say how much they spread.
    """

    name: str
    kind: TopicKind
    unit: str = Unit.COUNT
    better: Better | None = "more"
    held: Mapping[str, TopicValue] = {}
    repeats: tuple[tuple[Range, ...], ...] = ()

    def of(self, release: str) -> TopicValue:
        """What a release has of the topic."""
        return self.held.get(release, NOTHING)

    @property
    def is_share(self) -> bool:
        """Whether it goes from nothing to one by itself."""
        return self.kind in {TopicKind.TRIAL, TopicKind.SOFTWARE, TopicKind.RATING, TopicKind.NOTHING}


NOTHING = TopicValue()


class Topics:
    """The topics of some releases, each found when it is asked for.

    group: the releases, all held against each other.
    every: runs whose repeats say how much figures spread; the whole logbook's, so that they do not depend on who is
        compared.
    reader: whose scores count.
    """

    def __init__(
        self, group: ReleaseGroup, every: Iterable[Digest], lexicon: Lexicon, checklist: Checklist, reader: str = ""
    ) -> None:
        self.group, self.lexicon, self.checklist, self.reader = group, lexicon, checklist, reader
        self.every = [run for run in every if run.ended and run.screens]

    def find(self, name: str, fact: bool = False) -> Topic | Unusable:
        """The topic that a name stands for. fact: whether it may be a fact, too."""
        asked = TopicName.of(name)
        finders: list[Callable[[TopicName], Topic | Unusable | None]] = [
            self._software, self._weight, self._figure, self._reading, self._trial, self._rating,
        ]  # fmt: skip
        for find in (*finders, *([self._fact] if fact else [])):
            found = find(asked)
            if found is not None:
                return found
        return Unusable(name, Wrong.UNKNOWN, tuple(self._names))

    # -- kinds of topics -----------------------------------------------------------------------------------------------

    def _software(self, asked: TopicName) -> Topic | None:
        if not asked.is_carried:
            return None
        wanted = asked.item.casefold()
        held = {release: on_board(self.software, place, wanted) for place, release in enumerate(self.software.releases)}
        return Topic(asked.text, TopicKind.SOFTWARE, held=held)

    def _weight(self, asked: TopicName) -> Topic | None:
        take = WEIGHTS.get(asked.text)
        if take is None:
            return None
        amounts = {weight.release: take(weight) for weight in self.weights}
        held = {release: _held([amount]) for release, amount in amounts.items() if amount is not None}
        return Topic(asked.text, TopicKind.WEIGHT, Unit.BYTES, "less", held)

    def _figure(self, asked: TopicName) -> Topic | None:
        name = asked.text
        measure = MEASURES.get(name)
        if measure is None:
            return None
        if not measure.is_compared:
            return Topic(name, TopicKind.FIGURE, measure.unit, measure.better)
        most = max((_reached(run) for runs in self.group.measured.values() for run in runs), default=0)
        to_the_end = measure.span is Extent.INSTALLER

        def take(run: Digest) -> Range | None:
            # Whoever stops earlier was not quicker.
            return None if to_the_end and _reached(run) < most else details(run).figures.get(name)

        return self._measured(name, TopicKind.FIGURE, measure.unit, measure.better, take)

    def _reading(self, asked: TopicName) -> Topic | Unusable | None:
        name, state = asked.text, asked.state
        base = name if state is None else asked.item
        taken = {reading.state for run in self.every for reading in run.readings if reading.name == base}
        if base not in self.lexicon.measures and not taken:
            return None
        if state is None and len(taken) > 1:
            order = [*(each for each in STATES if each in taken), *sorted(taken - set(STATES))]
            return Unusable(name, Wrong.STATES, tuple(reading_name(base, each) for each in order))
        units = [reading.unit for run in self.every for reading in run.readings if reading.name == base]
        known = self.lexicon.measures.get(base)
        unit = known.unit if known is not None else units[0]
        better = better_of(base, self.lexicon)
        found = self._measured(name, TopicKind.READING, unit, better, lambda run: at_rest(run.readings, base, state))
        others = {
            release: TopicValue(said=said)
            for release, runs in self.group.measured.items()
            if (said := read_otherwise((reading for run in runs for reading in run.readings), base))
        }
        read = {release: value for release, value in found.held.items() if value.amount is not None}
        return msgspec.structs.replace(found, held=others | read)

    def _measured(
        self, name: str, kind: TopicKind, unit: str, better: Better | None, take: Callable[[Digest], Range | None]
    ) -> Topic:
        """A topic of which each run has an amount."""
        held = {release: _held([take(run) for run in runs]) for release, runs in self.group.measured.items()}
        groups: dict[tuple[str, str], list[Range]] = {}
        for run in self.every:
            amount = take(run)
            if amount is not None:
                groups.setdefault((run.release, run.rig), []).append(amount)
        repeats = tuple(tuple(group) for group in groups.values() if len(group) > 1)
        return Topic(name, kind, unit, better, held, repeats)

    def _trial(self, asked: TopicName) -> Topic | None:
        name = asked.text
        rows = [row for row in self.trials if name in {row.name, f"{row.name} with {row.condition}"}]
        row = next((row for row in rows if row.condition is None or name != row.name), None)
        if row is None and not rows and name not in self.checklist.checks:
            return None
        results = dict(zip(self.group.releases, row.results, strict=True)) if row is not None else {}
        held = {release: _tried(result) for release, result in results.items() if result in _RESULTS}
        # What came out under another condition is no answer, and not nothing either.
        near = [each for each in self.trials if each is not row and each.name in {name, row.name if row else name}]
        others = {
            release: TopicValue(said=said) for release in self.group.releases if (said := self._under(release, near))
        }
        return Topic(name, TopicKind.TRIAL, held=others | held)

    def _under(self, release: str, rows: Sequence[CheckRow]) -> str:
        """How a trial came out under other conditions, such as ``pass with a phone``."""
        place = self.group.releases.index(release)
        made = [(row.results[place], row.condition) for row in rows if row.results[place] in _RESULTS]
        return ", ".join(f"{result} {f'with {under}' if under else 'without'}" for result, under in made)

    def _rating(self, asked: TopicName) -> Topic | None:
        name = asked.text
        rows = [row for row in self.ratings.rows if row.name == name]
        own = [row for row in rows if row.reader == self.reader] or [row for row in rows if row.reader is None]
        if not rows:
            return None
        held: dict[str, TopicValue] = {}
        for row in own:
            for release, part in zip(self.ratings.releases, row.parts, strict=True):
                if part is not None:
                    share = Range(part.low / row.whole, None if part.high is None else part.high / row.whole)
                    held[release] = TopicValue(share, share.low, share.high, 1, f"{part.middle:g} of {row.whole:g}")
        return Topic(name, TopicKind.RATING, held=held)

    def _fact(self, asked: TopicName) -> Topic | None:
        name = asked.text
        row = next((row for row in facts_ledger(self.group).rows if row.name == name), None)
        published = {release: _published(self.group, release, name) for release in self.group.releases}
        noted = dict(zip(self.group.releases, row.values, strict=True)) if row is not None else {}
        values = {release: noted.get(release) or published[release] for release in self.group.releases}
        if row is None and not any(published.values()):
            return None
        return Topic(
            name, TopicKind.FACT, held={release: TopicValue(said=value) for release, value in values.items() if value}
        )

    # -- what they are found in ----------------------------------------------------------------------------------------

    @cached_property
    def software(self) -> SoftwareLedger:
        """Software by release."""
        return software_ledger(self.group)

    @cached_property
    def weights(self) -> tuple[Weight, ...]:
        """The weights of each release, for topics about them."""
        return weight_ledger(self.group).rows

    @cached_property
    def trials(self) -> tuple[CheckRow, ...]:
        """How trials came out."""
        return checks_ledger(self.group).rows

    @cached_property
    def ratings(self) -> VerdictLedger:
        """Ratings and scores."""
        return verdicts_ledger(self.group)

    @property
    def _names(self) -> Iterable[str]:
        """All names that stand for something, for whoever has mistyped one."""
        yield from MEASURES
        yield from WEIGHTS
        taken = {(reading.name, reading.state) for run in self.every for reading in run.readings}
        yield from sorted(reading_name(*each) for each in taken)
        yield from dict.fromkeys((*self.checklist.checks, *(row.name for row in self.trials)))
        yield from dict.fromkeys(row.name for row in self.ratings.rows)


def on_board(ledger: SoftwareLedger, place: int, wanted: str) -> TopicValue:
    """Whether a release has an item, or anything of a group, by its place and in small letters."""
    named = [row for row in ledger.rows if row.item.casefold() == wanted]
    rows = named or [row for row in ledger.rows if (row.group or "").casefold() == wanted]
    known = {row.item: value for row in rows if (value := row.known(place)) is not None}
    if not known:
        return NOTHING
    there = [item for item, value in known.items() if value != LACKING]
    amount = Range(1, 1) if there else Range(0, 0)
    return TopicValue(amount, amount.low, amount.high, 1, there[0] if there else f"no {wanted}")


def _tried(result: CheckResult) -> TopicValue:
    amount = _RESULTS[result]
    return TopicValue(amount, amount.low, amount.high, 1, str(result))


def _held(amounts: Sequence[Range | None]) -> TopicValue:
    """The median and the bounds of the amounts that the runs of a release have."""
    spread = spread_or_none(amounts)
    if spread is None:
        return NOTHING
    return TopicValue(spread.median, spread.least, spread.most, spread.runs)


def _reached(run: Digest) -> int:
    """How far a run got through its installation; one of a system without a desktop gets as far as there is."""
    software = details(run).software
    ends_in_a_terminal = any(each.group == "desktop" and not each.there for each in software)
    return taken(run).reached + ends_in_a_terminal


def _published(group: ReleaseGroup, release: str, name: str) -> str:
    """What a card says in one word: its status, its channel and the like; empty where it does not."""
    card = group.cards.get(release)
    value = getattr(card, name.replace(" ", "_"), None)
    return value if isinstance(value, str) else ""
