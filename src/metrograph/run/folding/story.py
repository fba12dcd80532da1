"""The cues of a run with where each stands: what every record of it is made from."""

from __future__ import annotations

from functools import cached_property

import msgspec

from metrograph.log.cues import Cue
from metrograph.log.lexicon import Lexicon
from metrograph.run.folding.timeline import Place, Timeline


class Story(msgspec.Struct, frozen=True, dict=True):
    """The cues of a log in the order of time, where each stands, and what screens are for."""

    cues: tuple[Cue, ...]
    timeline: Timeline
    lexicon: Lexicon

    def of(self, *verbs: str) -> list[tuple[Cue, Place]]:
        """The cues of some verbs, each with its place."""
        return [(self.cues[index], self.timeline.places[index]) for index in self.where(*verbs)]

    def where(self, *verbs: str) -> list[int]:
        """The indices of the cues of some verbs."""
        if len(verbs) == 1:
            return self._by_verb.get(verbs[0], [])
        return sorted([index for verb in verbs for index in self._by_verb.get(verb, ())])

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
