"""From spans to proposed cues: what a log would say if somebody had typed it, and how sure each is."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from itertools import pairwise

import msgspec

from metrograph.intake.notes import TimedNote, to_cue
from metrograph.intake.source import Event, Outside
from metrograph.log.cues import ON_SCREEN, Cue, Fields
from metrograph.log.escapes import join_list
from metrograph.log.lexicon import OTHER, UNTITLED, Lexicon
from metrograph.log.quantities.times import format_time
from metrograph.privacy.gate import clean
from metrograph.privacy.leaks import blot
from metrograph.watch.drafts.machine_told import MachineTold
from metrograph.watch.pages.page import SkippedTime
from metrograph.watch.pages.page_gate import PRIVATE_KINDS
from metrograph.watch.reading.words import tells_of_trouble
from metrograph.watch.screens.spans import Span

_RESTART = 4000  # milliseconds of nothing, or of a console, after the installer: a machine takes longer to start anew
_ISSUE = 0.6  # how sure trouble is that was told in words: a hint may use the same ones
_SAID = 0.5  # the same, of trouble that a person talks about: it may be another's
_FIGURE = 0.6  # how sure a figure is: a digit may be misread, and nothing else on the screen would tell
_PHASE, _PHASE_SEEN = 0.8, 0.95  # how sure a restart is: a dark screen alone, and lines of a machine that starts
_END = 0.95  # how sure an end is: what is over may have gone on elsewhere
RECORDING_ENDS = "the recording ends here"
"""What a draft notes where nothing says that the installation was over."""
_LONGEST = 200  # characters of a title
PAGE = "x-page"
"""The field that says which of the pages that were read a screen was proposed from."""


class Watched:
    """A ``Source`` of what was seen: screens, waits, trouble, restarts and gaps, in order."""

    outside = Outside.REFUSED

    def __init__(
        self,
        spans: Sequence[Span],
        lexicon: Lexicon,
        name: str,
        pictures: Mapping[int, str] | None = None,
        ended: bool = True,
        told: MachineTold | None = None,
    ) -> None:
        """pictures: paths in the logbook by the number of the page; ended: whether the source has come to its end.

        told: what the machine told of itself, where it could be asked.
        """
        self.name = name
        self._spans, self._lexicon = spans, lexicon
        self._pictures = pictures or {}
        self._ended = ended
        self._told = told

    def events(self) -> Iterator[Event]:
        """The proposals, in order; everything that was read passes through, and secrets stay behind."""
        if self._told is None:
            return self._seen()
        return iter(sorted([*self._seen(), *self._told.events(self._spans)], key=lambda event: event.at or 0))

    def _seen(self) -> Iterator[Event]:
        """What the screens say."""
        unknown, restart = 0, self._restart()
        for number, span in enumerate(self._spans):
            if span.gap:
                yield self._event(span.start, Cue(0, "cut", None, _length(span.gap)), span.gap.sure)
                if self._goes_on(number):
                    continue
            if number == restart:
                sure = _PHASE_SEEN if span.console else _PHASE
                yield self._event(span.start, Cue(0, "phase", None, "restart"), sure)
            sure = sure_of(span)
            if _is_wait(span):
                yield self._event(span.start, Cue(0, "wait", None, ""), sure)
                continue
            known = bool(span.title) and sure >= UNKNOWN
            unknown += not known
            yield from self._screen(span, span.name if known else f"{UNTITLED} {unknown}", sure)
            yield from self._back_under(number, span)
        if self._ended and self._spans:
            done = self._is_done(restart)
            cue = Cue(0, "end", None, "done") if done else Cue(0, "note", None, RECORDING_ENDS)
            off = None if self._told is None else self._told.shut_down
            yield self._event(self._spans[-1].end if off is None else off, cue, _END)

    def _goes_on(self, number: int) -> bool:
        """Whether what follows a gap is what was in front before it."""
        span = self._spans[number]
        return bool(span.title and number and span.name == self._spans[number - 1].name and not span.error)

    def _is_done(self, restart: int | None) -> bool:
        """Whether the installation was seen to be over: a page that says so, or a desktop after a restart."""
        last = self._spans[-1]
        began_anew = None if self._told is None else self._told.restart(self._spans)
        restarted = restart is not None or (began_anew is not None and last.start > began_anew)
        return any(span.kind == "finished" for span in self._spans) or (restarted and not _is_wait(last))

    def _restart(self) -> int | None:
        """The span in which the machine restarts: the first long wait after files were copied."""
        if self._told is not None:
            return None  # it is known, and comes from there
        copied = False
        for number, span in enumerate(self._spans):
            if not _is_wait(span):
                copied = copied or span.kind in {"copying", "finished"}
            elif copied and span.end - span.start >= _RESTART:
                return number
        return None

    def _screen(self, span: Span, title: str, sure: float) -> Iterator[Event]:
        title = blot(title)[:_LONGEST]
        fields: Fields = ()
        if span.kind not in {OTHER, self._lexicon.kind_of(title)}:
            fields = (("kind", span.kind),)
        if span.error and span.dialog:
            yield self._event(span.start, Cue(0, "issue", None, blot(span.trouble)[:_LONGEST]), _ISSUE, span.page)
            return
        yield self._event(span.start, Cue(0, "screen", None, title, fields), sure, span.page)
        yield from self._choices(span)
        yield from self._figures(span)
        if span.waiting and not self._lexicon.unattended(span.kind):
            yield self._event(span.start, Cue(0, "wait", None, ""), sure)
        if span.error:
            yield self._event(span.trouble_at, Cue(0, "issue", None, blot(span.trouble)[:_LONGEST]), _ISSUE, span.page)

    def _choices(self, span: Span) -> Iterator[Event]:
        """What seems to be picked, where a screen is for one thing: under the name of that; what is personal is not."""
        if span.kind == OTHER or span.kind in PRIVATE_KINDS or len(span.choices) != 1:
            return
        choice = span.choices[0]
        verb: str = "keep" if choice.was is None else "choose"
        fields: Fields = () if choice.was is None else (("was", blot(choice.was)[:_LONGEST]),)
        offered = join_list(tuple(blot(item)[:_LONGEST] for item in choice.offered))
        fields = (*fields, ("offered", offered)) if offered else fields
        yield self._event(span.end - 1, Cue(0, verb, span.kind, blot(choice.value)[:_LONGEST], fields), choice.sure)

    def _figures(self, span: Span) -> Iterator[Event]:
        """What a screen said in figures: as readings where they are some, else as a note that quotes it."""
        for said in span.figures:
            line = blot(said.line)[:_LONGEST]
            cue = Cue(0, "note", None, f"{ON_SCREEN}“{line}”")
            if said.measure is not None:
                cue = Cue(0, "reading", said.measure[0], said.measure[1], (("how", f"as the screen said: {line}"),))
            yield self._event(said.at, cue, _FIGURE)

    def _back_under(self, number: int, dialog: Span) -> Iterator[Event]:
        """The screen that is in front again once a dialog has gone."""
        if not dialog.dialog or dialog.error:
            return
        under = next((span for span in reversed(self._spans[:number]) if not span.dialog), None)
        if under is not None and under.title and under.end > dialog.end:
            yield self._event(dialog.end, Cue(0, "screen", None, blot(under.name)[:_LONGEST]), sure_of(under))

    def _event(self, at: int, cue: Cue, sure: float, page: int | None = None) -> Event:
        if page is not None and cue.verb == "screen":
            cue = msgspec.structs.replace(cue, fields=(*cue.fields, (PAGE, str(page))))
        return Event(clean(cue), at=at, confidence=sure, evidence=self._pictures.get(-1 if page is None else page))


def _length(gap: SkippedTime) -> str:
    if gap.missing is None:
        return "?"
    low, high = (format_time(max(gap.missing + off, 0) // 1000 * 1000) for off in (-gap.within, gap.within))
    return low if low == high else f"{low}..{high}"


def said_at(notes: Iterable[TimedNote], understood: bool = False) -> Iterator[Event]:
    """What was said while it was recorded: as notes, and where it tells of trouble, as issues that may be some.

    understood: whether what it states was heard already; its trouble is among that then.
    """
    for note in notes:
        cue = to_cue(note)
        if cue.verb == "note" and not understood and tells_of_trouble(cue.text):
            yield Event(Cue(0, "issue", None, cue.text), at=note.at, confidence=_SAID)
        else:
            yield Event(cue, at=note.at)


# Evidence, as ``evidence`` weighs it, against the part of titles that were right: a monotone regression over looks
# of painted films that no rule was set on (``python -m bench.watching calibrate``).
_STEPS = (
    (-9.0, 0.02), (0.5, 0.2), (0.8, 0.5), (1.2, 0.65), (1.5, 0.72), (1.7, 0.88), (1.9, 0.95), (2.4, 0.97), (4.0, 0.98)
)  # fmt: skip
_NO_BUTTON = 1.0  # off where nothing can be pressed and no word is known: a picture has lines, none of them a title
UNKNOWN = 0.5
"""Below it a screen is said to be there, and its title is not."""
WAIT = 0.9
"""How sure a wait without a title is: that nothing stood there can be seen."""


def evidence(span: Span) -> float:
    """What speaks for a title: its points, how far the next line is behind, how well it was read."""
    unpressed = _NO_BUTTON if not span.pressed and not span.waiting and span.kind == OTHER else 0.0
    return -unpressed + 0.5 * min(span.points, 3.0) + 0.5 * min(span.margin, 1.5) + 2.0 * (span.read - 0.9)


def sure_of(span: Span) -> float:
    """How sure a span's title is, 0 to 1."""
    if span.known is not None:
        return span.known
    if not span.title:
        return WAIT if span.waiting else 0.0
    value = evidence(span)
    for (low, from_), (high, to) in pairwise(_STEPS):
        if value <= high:
            return round(from_ + (to - from_) * max(value - low, 0) / (high - low), 2)
    return _STEPS[-1][1]


def _is_wait(span: Span) -> bool:
    """Whether nothing but waiting was seen."""
    return span.waiting and not span.title
