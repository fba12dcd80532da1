"""Tells a person what is proposed while a machine is watched, and takes back what turns out to be something else."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from metrograph.faces.cli.environment import Environment
from metrograph.intake.source import Event
from metrograph.log.quantities.times import format_time
from metrograph.log.writer import format_words


class _ToldLine(NamedTuple):
    """A proposal as it was told. at: milliseconds."""

    at: int
    verb: str
    words: str


class ProposalTeller:
    """Tells proposals line by line: what is new, and what is no longer so."""

    def __init__(self, environment: Environment) -> None:
        self._environment = environment
        self._told: list[_ToldLine] = []

    def tell(self, events: Sequence[Event]) -> None:
        """Tells what has changed since it was asked last. events: all that is proposed now."""
        now = [_ToldLine(event.at or 0, event.cue.verb, format_words(event.cue)) for event in events]
        sure = {told: event.confidence for told, event in zip(now, events, strict=True)}
        # What is said at the end of a screen moves with that end, and is nothing new.
        stay = Counter(told.words for told in self._told) & Counter(told.words for told in now)
        new, gone = _without(now, stay), _without(self._told, stay)
        for told in new:
            other = next((old for old in gone if (old.at, old.verb) == (told.at, told.verb)), None)
            if other is not None:
                gone.remove(other)
            self._say(told, f"{sure[told]:.2f}", f"  (not: {other.words})" if other else "")
        for told in gone:
            self._say(told, "no  ", "  (it was none)")
        self._told = now

    def _say(self, told: _ToldLine, sure: str, more: str) -> None:
        self._environment.say(f"{format_time(told.at // 1000 * 1000):>8}  {sure}  {told.words}{more}")
        self._environment.out.flush()


def _without(every: Iterable[_ToldLine], some: Counter[str]) -> list[_ToldLine]:
    """What is left of them when as many as are given with the same words are taken away, the earliest first."""
    left, found = some.copy(), []
    for told in every:
        if left[told.words] > 0:
            left[told.words] -= 1
        else:
            found.append(told)
    return found
