"""Makes a shortlist: who has what a reader requires, in which order the others come, and how sure that is."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import msgspec
import numpy as np

from metrograph.judging.sampling import SAMPLES, SEED, Numbers, RankCounts, Samples, outcome
from metrograph.judging.shortlist_records import (
    FIRST,
    JudgedRelease,
    Need,
    Shortlist,
    TopicKind,
    TopicValue,
    Unusable,
    Wrong,
)
from metrograph.judging.topics import Topic, Topics
from metrograph.judging.turning import measure_next, turns
from metrograph.judging.worth import Criterion, criterion, scaled
from metrograph.run.readers import Reader, Relation, Requirement

_FIGURES = frozenset({Relation.AT_MOST, Relation.BELOW, Relation.AT_LEAST, Relation.ABOVE})
_UNDECIDED = frozenset({"mixed", "skipped"})
"""Results of a trial that say neither that it passed nor that it failed."""


def unusable_in(required: Requirement, topic: Topic) -> Unusable | None:
    """What is wrong with a limit: it must be in the topic's unit."""
    if required.limit is not None and scaled(required.limit, topic) is None:
        return Unusable(required.name, Wrong.UNIT, (topic.unit,))
    return None


def need(required: Requirement, topic: Topic, release: str) -> Need:
    """How a release stands to what is required."""
    held, limit = topic.of(release), required.limit.text if required.limit is not None else ""
    return Need(
        required.text, required.name, _met(required, topic, held), topic.kind, topic.unit, held.amount, held.said, limit
    )


def _is(said: str, wanted: str) -> bool:
    """Whether something is what is wanted; a name is, whatever version stands after it: “Lantern 4” is Lantern."""
    name, _, version = said.casefold().rpartition(" ")
    return wanted.casefold() in {said.casefold(), name if version[:1].isdigit() else said.casefold()}


def _met(required: Requirement, topic: Topic, held: TopicValue) -> bool | None:
    if required.relation in _FIGURES:
        return _within(required, topic, held)
    if required.relation is Relation.IS:
        return None if not held.said or held.said in _UNDECIDED else _is(held.said, required.value)
    if held.amount is None:
        return None
    return bool(held.amount.low) == (required.relation is Relation.CARRIES)


def _within(required: Requirement, topic: Topic, held: TopicValue) -> bool | None:
    """Whether all that the figure may be keeps to the limit, or none of it does; None where some does."""
    limit = scaled(required.limit, topic) if required.limit is not None else None
    if held.amount is None or limit is None or topic.kind is TopicKind.FACT:
        return None
    low, high = held.amount.low, held.amount.high
    match required.relation:
        case Relation.AT_MOST:
            return _between(high is not None and high <= limit, low > limit)
        case Relation.BELOW:
            return _between(high is not None and high < limit, low >= limit)
        case Relation.AT_LEAST:
            return _between(low >= limit, high is not None and high < limit)
        case _:
            return _between(low > limit, high is not None and high <= limit)


def _between(holds: bool, breaks: bool) -> bool | None:
    return True if holds else False if breaks else None


class Prepared(NamedTuple):
    """A reader's requirements and wishes, with the topics that their names stand for.

    unusable: names that cannot be used, or stand for nothing.
    """

    required: tuple[tuple[Requirement, Topic], ...]
    topics: tuple[Topic, ...]
    unusable: tuple[Unusable, ...]


def prepare(reader: Reader, topics: Topics) -> Prepared:
    """Looks up every name that a reader uses."""
    unusable: list[Unusable] = []

    def found(name: str, fact: bool = False) -> Topic:
        topic = topics.find(name, fact)
        if isinstance(topic, Topic):
            return topic
        unusable.append(topic)
        return Topic(name, TopicKind.NOTHING)

    required = tuple((each, found(each.topic, each.relation is Relation.IS)) for each in reader.required)
    unusable += [wrong for each, topic in required if (wrong := unusable_in(each, topic)) is not None]
    wished = tuple(found(wish.name) for wish in reader.wishes)
    made = [criterion(wish, topic, ()) for wish, topic in zip(reader.wishes, wished, strict=True)]
    unusable += [each for each in made if isinstance(each, Unusable)]
    return Prepared(required, wished, tuple(dict.fromkeys(unusable)))


def shortlist(reader: Reader, topics: Topics, seed: int = SEED, count: int = SAMPLES) -> Shortlist:
    """The shortlist of the releases that the topics are of; see ``prepare`` for what is wrong with names."""
    prepared = prepare(reader, topics)
    # By name, so that nothing depends on the order in which they came.
    needs = {name: [need(*each, name) for each in prepared.required] for name in sorted(topics.group.releases)}
    kept = [name for name, of in needs.items() if all(each.met is not False for each in of)]
    criteria = _criteria(reader, prepared.topics, kept)
    weights = sum(wish.weight for wish in reader.wishes)
    inside = [_candidate(name, needs[name], criteria, weights) for name in kept]
    ordered = sorted(_with_dominated(inside, criteria), key=lambda each: -each.middle)
    out = [_candidate(name, of, [], weights) for name, of in needs.items() if name not in kept]
    made = Shortlist(
        reader=reader.name, about=reader.about, order=(*ordered, *out), samples=count, seed=seed,
        weights=reader.weights, is_sure=False,
        relative=tuple(each.wish.name for each in criteria if each.scale.relative),
        unknown=tuple(unusable.name for unusable in prepared.unusable if not unusable.is_fatal),
        not_on_one_rig=_not_on_one_rig(topics),
    )  # fmt: skip
    return _with_samples(made, ordered, criteria) if ordered and criteria else made


def _criteria(reader: Reader, topics: Sequence[Topic], kept: Sequence[str]) -> list[Criterion]:
    """The wishes with their scales, among those that have what is required; none where one cannot be used."""
    made = [criterion(wish, topic, kept) for wish, topic in zip(reader.wishes, topics, strict=True)]
    return [each for each in made if isinstance(each, Criterion)]


def _candidate(name: str, needs: Sequence[Need], criteria: Sequence[Criterion], weights: float) -> JudgedRelease:
    failed = tuple(each for each in needs if each.met is False)
    left_open = tuple(each for each in needs if each.met is None)
    parts = tuple(each.part(name, weights) for each in criteria)
    low, high = (sum(part.weight * part.worth[end] for part in parts) for end in (0, 1))
    passes = False if failed else None if left_open else True
    return JudgedRelease(name, passes, failed, left_open, (low, high) if parts else None, parts=parts)


def _with_dominated(candidates: Sequence[JudgedRelease], criteria: Sequence[Criterion]) -> list[JudgedRelease]:
    """Each with those that it is at least as good as in every wish, whatever any of the runs had, and better in one."""
    if not (criteria and candidates):
        return list(candidates)
    utmost: Numbers = np.array([[wish.utmost(wish.topic.of(each.release)) for wish in criteria] for each in candidates])
    least, most = utmost[:, None, :, 0], utmost[None, :, :, 1]
    dominates = np.logical_and((least >= most).all(axis=2), (least > most).any(axis=2))
    names = [each.release for each in candidates]
    return [
        msgspec.structs.replace(each, at_least_as=tuple(name for name, is_ in zip(names, row, strict=True) if is_))
        for each, row in zip(candidates, dominates.tolist(), strict=True)
    ]


def _with_samples(made: Shortlist, ordered: Sequence[JudgedRelease], criteria: Sequence[Criterion]) -> Shortlist:
    """The shortlist with what came of varying figures and weights."""
    names = [each.release for each in ordered]
    samples = Samples(criteria, made.weights, made.seed, made.samples)
    came: RankCounts = outcome(samples.scores(names))
    shares = {name: float(came.ranks[place, 0]) for place, name in enumerate(names)}
    counted = tuple(
        msgspec.structs.replace(each, first=shares[each.release], ranks=tuple(map(float, came.ranks[place])))
        for place, each in enumerate(ordered)
    )
    return msgspec.structs.replace(
        made,
        order=(*counted, *made.order[len(counted) :]),
        is_sure=shares[names[0]] >= FIRST,
        wins=tuple(tuple(map(float, row)) for row in came.wins),
        turns=turns(ordered, criteria),
        measure_next=measure_next(ordered, shares, samples, came.first),
        unrepeated=_unrepeated(criteria),
    )


def _unrepeated(criteria: Sequence[Criterion]) -> tuple[str, ...]:
    """The wishes whose figures may be off by nobody knows how much, as nothing was measured twice."""
    measured = {TopicKind.FIGURE, TopicKind.READING}
    return tuple(
        each.wish.name
        for each in criteria
        if each.topic.kind in measured and not each.topic.repeats and any(h.amount for h in each.topic.held.values())
    )


def _not_on_one_rig(topics: Topics) -> bool:
    """Whether the releases that have runs have no rig in common."""
    rigs = [{run.rig for run in runs} for runs in topics.group.runs.values() if runs]
    return len(rigs) > 1 and not set.intersection(*rigs)
