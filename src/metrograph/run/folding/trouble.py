"""Ties what was said of one issue together: its first cue, later ones, remedies that did not help, and its fix."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import msgspec

from metrograph.log.bodies import name_of
from metrograph.log.cues import Cue
from metrograph.run.records import RECORDING


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
    found: list[_OpenTrouble] = []
    standing: dict[str, _OpenTrouble] = {}
    for index, cue in enumerate(cues):
        if cue.verb == "issue":
            if (known := standing.get(name := called(cue))) is not None:
                known.again.append(index)
            else:
                found.append(standing.setdefault(name, _OpenTrouble(index)))
        elif cue.verb == "tried" and cue.name in standing:
            standing[cue.name].tried.append(index)
        elif cue.verb == "fix" and cue.name in standing:
            standing.pop(cue.name).end = index
    return tuple(Trouble(one.begin, one.end, tuple(one.again), tuple(one.tried)) for one in found)


class _OpenTrouble(msgspec.Struct):
    """An issue while more is said of it; see ``Trouble``."""

    begin: int
    end: int | None = None
    again: list[int] = msgspec.field(default_factory=list)
    tried: list[int] = msgspec.field(default_factory=list)


def lost_to_issues(cues: Sequence[Cue]) -> Iterator[tuple[int, int]]:
    """From each issue to its fix, by cues; what was never fixed has cost nobody knows how much.

    The reviewer's own trouble costs the release nothing.
    """
    for trouble in troubles(cues):
        said = (cues[index] for index in (trouble.begin, *trouble.again))
        if trouble.end is not None and not any(cue.field("area") == RECORDING for cue in said):
            yield trouble.begin, trouble.end
