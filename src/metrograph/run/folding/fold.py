"""Folds the cues of one log into a run. What a verb means stands in ``MEANINGS``, or in the timeline for time."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import msgspec

from metrograph.log.cues import Log
from metrograph.log.lexicon import OTHER, Lexicon, is_after_restart, load_lexicon
from metrograph.log.quantities.ranges import Range
from metrograph.run.folding.intervals import Interval, by, on_clock, shared_out, together
from metrograph.run.folding.meanings import HOW, MEANINGS, choice_of
from metrograph.run.folding.timeline import UPDATE, RunContext, Timeline
from metrograph.run.folding.walk import lay_out
from metrograph.run.records import Choice, Clock, Milestones, Part, Phase, Position, Run, Screen
from metrograph.run.scope import FIRST_PHASES, covered

EDITED = "edited"
"""The word in the source of a record that was cut throughout."""
_ASKING = frozenset({"questions", "setup"})
_DESKTOP = "desktop"
"""The group of software of which a system may lack all: it ends in a terminal then."""


def fold(log: Log, name: str, lexicon: Lexicon | None = None, until: int | None = None) -> Run:
    """The run that a log tells of.

    name: the run's name, such as ``larkmoor-8.0-heron-1``.
    lexicon: what screens are for; None for the one that comes with the program.
    until: milliseconds since ``begun`` up to which an open run is followed beyond its last cue.
    """
    cues, lexicon = log.by_time(), lexicon or load_lexicon()
    way = log.header.other("way") or "fresh"
    edited = EDITED in (log.header.other("source") or "").casefold().split()
    timeline = lay_out(cues, lexicon, until, edited, FIRST_PHASES.get(way.partition(" ")[0]))
    context = RunContext(tuple(cues), timeline, lexicon)
    screens, loose = _screens(context)
    phases, meanings = _phases(timeline.joined), {field: meaning(context) for field, meaning in MEANINGS.items()}
    covers = covered(way, [phase.name for phase in phases])
    milestones = _milestones(timeline, screens) if Part.INSTALLATION in covers else Milestones()
    if any(each.group == _DESKTOP and not each.there for each in meanings["software"]):
        milestones = msgspec.structs.replace(milestones, desktop=None)
    return Run(
        run=name,
        release=log.header.release,
        rig=log.header.rig,
        begun=log.header.begun,
        way=way,
        like=log.header.other("like"),
        reviewer=log.header.other("reviewer"),
        source=log.header.other("source"),
        clock=_clock(timeline.joined),
        milestones=milestones,
        phases=phases,
        screens=screens,
        choices=loose,
        stretches=tuple(interval.stretch for interval in timeline.joined),
        position=_position(timeline),
        covers=covers,
        **meanings,
    )


def _clock(intervals: Sequence[Interval]) -> Clock:
    return Clock(
        elapsed=together(intervals),
        on_clock=on_clock(intervals),
        person=on_clock(intervals, "person"),
        machine=on_clock(intervals, "machine"),
        paused=on_clock(intervals, "paused"),
        lost=on_clock(interval for interval in intervals if interval.lost),
    )


def _position(timeline: Timeline) -> Position:
    if not timeline.places:
        return Position()
    last = timeline.places[-1]
    return Position(last.who, last.phase, last.screen, last.attempt)


def _phases(intervals: Sequence[Interval]) -> tuple[Phase, ...]:
    phases = by(intervals, lambda interval: interval.phase)
    return tuple(Phase(name, spent[0].begin, *shared_out(spent)) for name, spent in phases.items())


def _screens(context: RunContext) -> tuple[tuple[Screen, ...], tuple[Choice, ...]]:
    """All screens in the order they were first seen, and the choices that belong to none."""
    intervals = by(context.timeline.joined, lambda interval: interval.screen)
    choices: dict[int | None, list[Choice]] = {}
    # A choice belongs to the screen in front when it was noted, not to the one that asked for it first.
    for cue, place in context.of(*HOW):
        kind = OTHER if place.screen is None else context.timeline.visits[place.screen].kind
        choices.setdefault(place.screen, []).append(choice_of(cue, place, context.lexicon, kind))
    texts = {place.screen: text for cue, place in context.of("screen") if (text := cue.field("text"))}
    screens = []
    for index, visit in enumerate(context.timeline.visits):
        screens.append(
            Screen(
                visit.title, visit.kind, visit.phase, visit.attempt, visit.start, *shared_out(intervals.get(index, ())),
                context.timeline.returns[index],
                tuple(choices.get(index, ())), texts.get(index), context.timeline.is_kept(visit),
            )
        )  # fmt: skip
    return tuple(screens), tuple(choices.get(None, ()))


def _milestones(timeline: Timeline, screens: tuple[Screen, ...]) -> Milestones:
    """Moments on the way that led to the end: what was reached in vain says nothing of how long it takes."""
    kept = [screen for screen in screens if screen.kept]
    intervals = timeline.kept_intervals
    asked = next((screen.start for screen in kept if screen.phase in _ASKING), None)
    finished = next((screen.start for screen in kept if screen.kind == "finished"), None)
    copied = next((index for index, interval in enumerate(intervals) if interval.phase == "copy"), len(intervals))
    restart = next((interval.begin for interval in intervals[copied:] if is_after_restart(interval.phase)), None)
    desktop = next((interval.begin for interval in intervals if interval.phase == "desktop"), None)
    # A screen that says so is believed; without one the first restart after the copying is as good.
    return Milestones(asked, finished or restart, desktop, _updated(timeline, intervals))


def _updated(timeline: Timeline, intervals: Sequence[Interval]) -> Range | None:
    """The moment the machine had done the first update: the end of a task of that name, or of its phase's last wait."""
    for before, after in pairwise(timeline.places):
        if UPDATE in before.tasks and UPDATE not in after.tasks:
            return after.clock
    worked = [
        index for index, interval in enumerate(intervals) if interval.phase == UPDATE and interval.who == "machine"
    ]
    # While the machine still works at the last interval, nobody knows yet when it will be done.
    return intervals[worked[-1] + 1].begin if worked and worked[-1] + 1 < len(intervals) else None
