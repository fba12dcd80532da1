"""Brings what was heard to what was seen: where the two agree both are surer, where they disagree a person looks."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence

import msgspec

from metrograph.hearing.statements import THIS, Statement
from metrograph.hearing.weighing import LEAST
from metrograph.intake.source import Event
from metrograph.log.cues import Cue, Log
from metrograph.log.faults import Unreadable
from metrograph.log.lexicon import OTHER, Lexicon
from metrograph.log.quantities.quantity import parse_quantity
from metrograph.log.quantities.ranges import Range
from metrograph.watch.drafts.heard_proposals import of_another, said_of, with_words, words_of

_BESIDE = 30_000  # milliseconds: so long a screen is talked of before or after it came
_NEAR = 90_000  # milliseconds between saying a thing and seeing it
_CONTRADICTED = 0.7  # of how sure two are that contradict each other
_HIGHEST = 0.99


def heard_events(pairs: Iterable[tuple[Statement, Cue]]) -> list[Event]:
    """What was said, as proposals with its words; what is of another release says so, and is never taken unasked."""
    return [
        Event(said_of(with_words(cue, said.said), _other_release(said, cue)), at=cue.at, confidence=said.sure)
        for said, cue in pairs if cue.verb != "note" or cue.text
    ]  # fmt: skip


def _other_release(said: Statement, cue: Cue) -> str:
    """The release that something was said of, where it is another: a comparison is of this one."""
    return "" if said.about == THIS or cue.verb == "than" else said.about


def joined(seen: Sequence[Event], heard: Sequence[Event], lexicon: Lexicon) -> list[Event]:
    """The proposals of both senses, each thing once, in the order of their moments.

    A screen is proposed where it was seen, and surer where it was talked of; one that was talked of and not seen was
    not in front. Of anything else that was both said and seen one stays, the surer for it; where the two differ in
    the value both stay, and neither is sure.
    """
    found, left = list(seen), []
    for event in heard:
        # What was hardly heard, or is of another release, says nothing about what was seen.
        beside = event.confidence < LEAST or bool(of_another(event.cue))
        place = None if beside else _same(found, event, lexicon)
        if place is not None:
            found[place] = _surer(found[place], event)
        elif event.cue.verb not in {"screen", "phase"}:
            other = None if beside else _other(found, event)
            if other is not None:
                found[other] = _contradicted(found[other])
            left.append(event if other is None else _contradicted(event))
    return sorted([*found, *left], key=lambda event: event.at or 0)


def not_in(log: Log, heard: Sequence[Event], lexicon: Lexicon) -> list[Event]:
    """What was heard and a log does not say; what that says otherwise is among it, less sure."""
    stands = [Event(cue, at=cue.at) for cue in log.cues]
    known = {_stated(cue.at, cue) for cue in log.cues}
    return [event for event in joined(stands, heard, lexicon) if _stated(event.at, event.cue) not in known]


def _stated(at: int | None, cue: Cue) -> tuple[int | None, str, str | None, str]:
    """What a cue states and when, whatever stands beside it."""
    return at, cue.verb, cue.name, cue.text


def _same(seen: Sequence[Event], heard: Event, lexicon: Lexicon) -> int | None:
    """The nearest that was seen and says the same."""
    if heard.cue.verb == "screen":
        kind = _kind(heard.cue, lexicon)
        if kind == OTHER:
            return None  # two that are for nothing in particular have nothing in common
        return _nearest(seen, heard, _BESIDE, lambda cue: cue.verb == "screen" and _kind(cue, lexicon) == kind)
    return _nearest(seen, heard, _NEAR, lambda cue: _subject(cue) == _subject(heard.cue) and _agree(cue, heard.cue))


def _other(seen: Sequence[Event], heard: Event) -> int | None:
    """The nearest that was seen and says otherwise."""
    if heard.cue.name is None:
        return None
    return _nearest(seen, heard, _NEAR, lambda cue: _subject(cue) == _subject(heard.cue) and not _agree(cue, heard.cue))


def _nearest(seen: Sequence[Event], heard: Event, most: int, is_it: Callable[[Cue], bool]) -> int | None:
    apart = [(abs((event.at or 0) - (heard.at or 0)), place) for place, event in enumerate(seen) if is_it(event.cue)]
    off, place = min(apart, default=(most + 1, 0))
    return place if off <= most else None


def _subject(cue: Cue) -> tuple[str, str | None]:
    """What a cue is about; an answer is one, whose ever it was, and has the name of the screen it was given on."""
    if cue.verb in {"choose", "keep"}:
        return "choose", _ASKED_ON.get(cue.name or "", cue.name)
    return cue.verb, cue.name


_ASKED_ON = {"partitioning": "disk", "timezone": "place", "driver": "extras", "autologin": "account"}
"""What is seen is called as its screen is for, what is said as it is asked: the kinds of screens for such."""


def _agree(one: Cue, other: Cue) -> bool:
    """Whether two cues of one subject say the same; figures do where what they may be overlaps."""
    if one.text.casefold() == other.text.casefold():
        return True
    if one.verb != "reading":
        return False
    try:
        read = [parse_quantity(cue.text) for cue in (one, other)]
    except Unreadable:
        return False
    first, second = (each.amount for each in read)
    if first is None or second is None or read[0].unit != read[1].unit:
        return False
    return first.low <= _most(second) and second.low <= _most(first)


def _most(amount: Range) -> float:
    return math.inf if amount.high is None else amount.high


def _kind(cue: Cue, lexicon: Lexicon) -> str:
    return cue.field("kind") or lexicon.kind_of(cue.text)


def _surer(event: Event, heard: Event) -> Event:
    """An event that another sense agrees to: it is wrong only if both are. Its words are kept with it."""
    sure = 1 - (1 - event.confidence) * (1 - heard.confidence)
    cue = event.cue if words_of(event.cue) else with_words(event.cue, words_of(heard.cue))
    return msgspec.structs.replace(event, cue=cue, confidence=max(event.confidence, min(sure, _HIGHEST)))


def _contradicted(event: Event) -> Event:
    return msgspec.structs.replace(event, confidence=event.confidence * _CONTRADICTED)
