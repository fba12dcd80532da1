"""What a watched machine told of itself: restarts, media and what its disk did are known then, and not guessed."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import msgspec

from metrograph.intake.source import Event
from metrograph.log.cues import Cue
from metrograph.watch.screens.spans import Span

_AT_WORK = {"copying", "finished"}
_WORKS = 0.6  # of the time of a screen in which the disk is written to: nobody answers anything then
_LONG = 5000  # milliseconds: a shorter wait is none
_WORK_SURE = 0.9  # a disk may also be written to while somebody thinks


class MachineTold(msgspec.Struct, frozen=True):
    """What a machine told since it was switched on; all times in milliseconds.

    resets: when it began anew; ejected: when a medium was put out; shut_down: when it switched itself off, if it did.
    writing: the stretches, each from and until, in which its disk was written to.
    acts: when a person pressed something, or a key.
    """

    resets: tuple[int, ...] = ()
    ejected: tuple[int, ...] = ()
    shut_down: int | None = None
    writing: tuple[tuple[int, int], ...] = ()
    acts: tuple[int, ...] = ()

    def restart(self, spans: Sequence[Span]) -> int | None:
        """When it restarted after the installation: the first time that it began anew after files were copied."""
        copied = next((span.start for span in spans if span.kind in _AT_WORK), None)
        return None if copied is None else next((at for at in self.resets if at > copied), None)

    def events(self, spans: Sequence[Span]) -> Iterator[Event]:
        """What of it belongs into a log, in no order."""
        restart = self.restart(spans)
        for at in self.resets:
            cue = Cue(0, "phase", None, "restart") if at == restart else Cue(0, "note", None, "the machine began anew")
            yield Event(cue, at=at)
        for at in self.ejected:
            yield Event(Cue(0, "note", None, "the medium was put out"), at=at)
        for span in spans:
            at_work = self._works_from(span)
            if at_work is not None:
                yield Event(Cue(0, "wait", None, ""), at=at_work, confidence=_WORK_SURE)

    def _works_from(self, span: Span) -> int | None:
        """From when on the disk is written to while a screen stands that asks for nothing; None where it is not."""
        if span.waiting or span.dialog or not span.title:
            return None
        parts = [(max(start, span.start), min(end, span.end)) for start, end in self.writing]
        parts = [(start, end) for start, end in parts if start < end]
        if not parts or span.end - parts[0][0] < _LONG:
            return None
        if any(parts[0][0] < at < parts[-1][1] for at in self.acts):
            return None  # somebody is at it
        busy = sum(end - start for start, end in parts)
        return parts[0][0] if busy >= _WORKS * (span.end - span.start) else None
