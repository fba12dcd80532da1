"""The cues of a run with where each stands: what every record of it is made from."""

from __future__ import annotations

import msgspec

from metrograph.log.cues import Cue
from metrograph.log.lexicon import Lexicon
from metrograph.log.quantities.ranges import Range, total
from metrograph.run.folding.timeline import Place, Timeline
from metrograph.run.records import Stretch, Who


class Story(msgspec.Struct, frozen=True):
    """The cues of a log in the order of time, where each stands, and what screens are for."""

    cues: tuple[Cue, ...]
    timeline: Timeline
    lexicon: Lexicon

    def of(self, *verbs: str) -> list[tuple[Cue, Place]]:
        """The cues of some verbs, each with its place."""
        placed = zip(self.cues, self.timeline.places, strict=True)
        return [(cue, place) for cue, place in placed if cue.verb in verbs]

    def last(self, verb: str) -> Cue | None:
        """The last cue of a verb; None when there is none."""
        return next((cue for cue in reversed(self.cues) if cue.verb == verb), None)


def on_clock(stretches: tuple[Stretch, ...], who: Who | None = None) -> Range:
    """How long these stretches are together, pauses left out; of one of the two only, when ``who`` is given."""
    wanted = {"person", "machine"} if who is None else {who}
    return total(stretch.length for stretch in stretches if stretch.who in wanted)
