"""Holds releases against what a reader requires; what nobody noted leaves it open."""

from __future__ import annotations

from metrograph.judging.records import Held, Need, TopicKind, Unusable, Wrong
from metrograph.judging.topics import Topic
from metrograph.judging.worth import scaled
from metrograph.run.readers import Relation, Requirement

_FIGURES = frozenset({Relation.AT_MOST, Relation.BELOW, Relation.AT_LEAST, Relation.ABOVE})
_UNDECIDED = frozenset({"mixed", "skipped"})
"""Results of a trial that say neither that it passed nor that it failed."""


def topic_name(required: Requirement) -> str:
    """The name of the topic that something required is about."""
    has = {Relation.CARRIES, Relation.LACKS}
    return f"carries {required.name}" if required.relation in has else required.name


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


def _met(required: Requirement, topic: Topic, held: Held) -> bool | None:
    if required.relation in _FIGURES:
        return _within(required, topic, held)
    if required.relation is Relation.IS:
        return None if not held.said or held.said in _UNDECIDED else held.said.casefold() == required.value.casefold()
    if held.amount is None:
        return None
    return bool(held.amount.low) == (required.relation is Relation.CARRIES)


def _within(required: Requirement, topic: Topic, held: Held) -> bool | None:
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
