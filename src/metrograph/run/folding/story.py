"""The cues of a run with where each stands: what every record of it is made from."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import msgspec

from metrograph.log.cues import Cue
from metrograph.log.lexicon import Lexicon
from metrograph.log.quantities.ranges import Range, total
from metrograph.run.folding.timeline import Place, Timeline
from metrograph.run.records import Stretch, Who


class Story(msgspec.Struct, frozen=True, dict=True):
    """The cues of a log in the order of time, where each stands, and what screens are for."""

    cues: tuple[Cue, ...]
    timeline: Timeline
    lexicon: Lexicon

    def of(self, *verbs: str) -> list[tuple[Cue, Place]]:
        """The cues of some verbs, each with its place."""
        found = [index for verb in verbs for index in self._by_verb.get(verb, ())]
        return [(self.cues[index], self.timeline.places[index]) for index in sorted(found)]

    @cached_property
    def _by_verb(self) -> dict[str, list[int]]:
        """Where the cues of each verb stand."""
        places: dict[str, list[int]] = {}
        for index, cue in enumerate(self.cues):
            places.setdefault(cue.verb, []).append(index)
        return places

    def last(self, verb: str) -> Cue | None:
        """The last cue of a verb; None when there is none."""
        return next((cue for cue in reversed(self.cues) if cue.verb == verb), None)


def shared_out(stretches: tuple[Stretch, ...]) -> tuple[Range, Range, Range]:
    """How long these stretches are together, pauses left out; the person's part of it, and the machine's."""
    person, machine = on_clock(stretches, "person"), on_clock(stretches, "machine")
    return person + machine, person, machine


def on_clock(stretches: Sequence[Stretch], who: Who | None = None) -> Range:
    """How long these stretches are together, pauses left out; of one of the two only, when ``who`` is given."""
    if who is None:
        return total([stretch.length for stretch in stretches if stretch.who != "paused"])
    return total([stretch.length for stretch in stretches if stretch.who == who])
