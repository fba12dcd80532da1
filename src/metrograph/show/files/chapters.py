"""The screens of a run as chapters for the recording that was made of it: WebVTT."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from metrograph.log.cues import Log
from metrograph.log.lexicon import Lexicon
from metrograph.run.folding.walk import lay_out

_SHORTEST = 1000  # milliseconds of a chapter; a shorter one could not be jumped to


class _Chapter(NamedTuple):
    """A screen while it is in front, in milliseconds of the file; cuts: how long it was said that the record skips."""

    begin: int
    end: int
    title: str
    cuts: tuple[str, ...]


def to_chapters(log: Log, lexicon: Lexicon, starts: int = 0) -> str:
    """A chapter for each screen, from when it comes up for as long as it is in front.

    Where no screen was noted, as on a tour, a chapter for each topic: a phase, a trial, trouble, praise and dislike.

    starts: where on the run's time the recording begins, in milliseconds. Times are those of the file, as the recording
    runs; what comes before it is left out.
    """
    text = "WEBVTT\n"
    chapters = list(_chapters(log, lexicon)) or list(_topics(log))
    for number, chapter in enumerate(chapters, 1):
        begin, end = chapter.begin - starts, max(chapter.end, chapter.begin + _SHORTEST) - starts
        if end > 0:
            cuts = "".join(f" (cut: {cut})" for cut in chapter.cuts)
            text += f"\n{number}\n{_time(max(begin, 0))} --> {_time(end)}\n{_title(chapter.title + cuts)}\n"
    return text


def _chapters(log: Log, lexicon: Lexicon) -> Iterator[_Chapter]:
    """Every screen as often as it was in front."""
    cues = log.by_time()
    timeline = lay_out(cues, lexicon)
    front, shown = None, None
    for cue, place in zip(cues, timeline.places, strict=True):
        # A screen that is named again comes up anew; all else that leaves it in front belongs to it.
        changed = cue.verb in {"screen", "end"} or place.screen != shown
        if front is not None and cue.verb == "cut":
            front = front._replace(cuts=(*front.cuts, cue.text))
        elif front is not None and changed:
            yield front._replace(end=cue.at)
        if changed:
            shown = None if cue.verb == "end" else place.screen
            front = None if shown is None else _Chapter(cue.at, cue.at, timeline.visits[shown].title, ())
        if cue.verb == "end":
            return
    if front is not None:
        yield front._replace(end=cues[-1].at)


_TOPICS = {
    "phase": "{text}", "check": "{name}: {text}", "issue": "{text}", "praise": "{text}", "dislike": "{text}",
    "carries": "{name}", "reading": "{name}", "rate": "{name}", "verdict": "verdict", "todo": "", "task": "{name}",
}  # fmt: skip
"""Verbs that begin a topic, and what a chapter of each is called."""


def _topics(log: Log) -> Iterator[_Chapter]:
    """What a record without screens goes through, each topic up to the next one."""
    told = [(cue, _TOPICS[cue.verb].format(name=cue.name or "", text=cue.text)) for cue in log.by_time()
            if cue.verb in _TOPICS]  # fmt: skip
    begun = [(cue.at, title[:1].upper() + title[1:]) for cue, title in told if title]
    ends = [at for at, _ in begun[1:]] + [max((cue.at for cue in log.cues), default=0)]
    last = ""
    for (at, title), end in zip(begun, ends, strict=True):
        if title != last:
            yield _Chapter(at, max(end, at), title, ())
        last = title


def _title(text: str) -> str:
    """A title on one line, in which nothing is markup or ends the chapter."""
    plain = " ".join(text.split()).replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
    return "".join(sign for sign in plain if sign.isprintable()) or "(no title)"


def _time(milliseconds: int) -> str:
    seconds, rest = divmod(milliseconds, 1000)
    minutes, second = divmod(seconds, 60)
    hours, minute = divmod(minutes, 60)
    return f"{hours:02}:{minute:02}:{second:02}.{rest:03}"
