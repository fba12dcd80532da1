"""Ties what was said of one issue together: its first cue, later ones, remedies that did not help, and its fix."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import msgspec

from metrograph.log.bodies import name_of
from metrograph.log.cues import Cue


class Trouble(msgspec.Struct, frozen=True):
    """One issue from its first cue on, by the indices of cues.

    end: of the fix that ends it; None while there is none.
    again: of cues that say more of it while it stands; tried: of remedies that did not help.
    """

    begin: int
    end: int | None = None
    again: tuple[int, ...] = ()
    tried: tuple[int, ...] = ()


def called(cue: Cue) -> str:
    """What an issue goes by: its name, or without one the words of its summary as a name."""
    return cue.name or name_of(cue.text)


def troubles(cues: Sequence[Cue]) -> tuple[Trouble, ...]:
    """All issues of a log, in the order they came up; one that comes up again after its fix is another."""
    done: list[Trouble] = []
    standing: dict[str, Trouble] = {}
    for index, cue in enumerate(cues):
        if cue.verb == "issue":
            name = called(cue)
            known = standing.get(name)
            standing[name] = Trouble(index) if known is None else _added(known, again=index)
        elif cue.verb == "tried" and cue.name in standing:
            standing[cue.name] = _added(standing[cue.name], tried=index)
        elif cue.verb == "fix" and cue.name in standing:
            done.append(msgspec.structs.replace(standing.pop(cue.name), end=index))
    return tuple(sorted([*done, *standing.values()], key=lambda trouble: trouble.begin))


def _added(trouble: Trouble, again: int | None = None, tried: int | None = None) -> Trouble:
    more = {"again": (*trouble.again, again)} if again is not None else {"tried": (*trouble.tried, tried)}
    return msgspec.structs.replace(trouble, **more)


def lost_to_issues(cues: Sequence[Cue]) -> Iterator[tuple[int, int]]:
    """From each issue to its fix, by cues; what was never fixed has cost nobody knows how much."""
    for trouble in troubles(cues):
        if trouble.end is not None:
            yield trouble.begin, trouble.end
