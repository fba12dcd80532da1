"""The texts of the screen on which a draft is gone through: its list, the proposal in front, the keys."""

from __future__ import annotations

from collections.abc import Sequence

from rich.text import Text

from metrograph.log.cues import Cue
from metrograph.log.lexicon import OTHER
from metrograph.log.quantities.times import format_time
from metrograph.log.writer import format_line, format_words
from metrograph.show.safe import visible
from metrograph.watch.drafts import confirming
from metrograph.watch.drafts.heard_proposals import of_another, words_of
from metrograph.watch.drafts.seen import SURE

_KEYS = (
    ("Enter", "take"), ("t", "title"), ("k", "kind"), ("e", "edit"), ("r", "other release"), ("j", "join, drop"),
    ("n", "no screen"), ("o", "play"), ("l", "listen"), ("u", "unsure"), ("z", "undo"), ("w", "write"), ("q", "leave"),
)  # fmt: skip


def listed(cues: Sequence[Cue], places: Sequence[int], in_front: int, rows: int) -> Text:
    """The proposals at these places, as many as there are rows, around the one in front."""
    before = sum(place < in_front for place in places)
    first = min(max(before - rows // 2, 0), max(len(places) - rows, 0))
    text = Text(no_wrap=True, overflow="ellipsis")
    for place in places[first : first + rows]:
        cue = cues[place]
        words = cue.text if cue.verb == "screen" else format_words(_bare(cue))
        style = "reverse" if place == in_front else "" if cue.verb == "screen" else "dim"
        text.append(f"{_mark(cue)} {format_time(cue.at // 1000 * 1000):>7}  {visible(words)}\n", style)
    return text


def told(cue: Cue, kind: str, pictured: bool) -> Text:
    """What is proposed, how sure it is, of whom it is, and the words that it rests on."""
    text = Text(visible(format_line(_bare(cue)).partition(" | ")[0]), style="bold")
    if cue.verb == "screen":
        text.append(f"\nfor: {'not known' if kind == OTHER else kind}", "not bold")
    sure = "decided" if confirming.is_confirmed(cue) else f"sure to {confirming.sure(cue):.2f}"
    whose = f", of {visible(of_another(cue))}" if of_another(cue) else ""
    text.append(f"\n{sure}{whose}", "not bold")
    if words_of(cue):
        text.append(f"\nsaid: “{visible(words_of(cue))}”", "not bold")
    if cue.verb == "screen" and not pictured:
        text.append("\nno picture was kept of it", "not bold dim")
    return text


def _bare(cue: Cue) -> Cue:
    """A proposal as it would stand in a run."""
    return confirming.as_run([cue], {})[0]


def _mark(cue: Cue) -> str:
    """The sign before a proposal: decided, of another release, hardly heard, to be looked at; none where it is sure."""
    if confirming.is_confirmed(cue):
        return "–" if of_another(cue) else "✓"
    if confirming.is_unasked(cue):
        return "·"
    return " " if confirming.sure(cue) >= SURE else "?"


def keys() -> Text:
    """Every key with what it does."""
    text = Text()
    for key, deed in _KEYS:
        text.append(f" {key} ", "reverse")
        text.append(f" {deed}  ")
    return text
