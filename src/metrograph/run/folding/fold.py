"""Folds the cues of one log into a run. What a verb means stands in ``MEANINGS``, or in the timeline for time."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from metrograph.log.cues import Log
from metrograph.log.lexicon import Lexicon, is_after_restart, load_lexicon
from metrograph.log.quantities.ranges import Range
from metrograph.run.folding.intervals import Beat, by, on_clock, shared_out, together
from metrograph.run.folding.meanings import HOW, MEANINGS, choice_of
from metrograph.run.folding.timeline import UPDATE, Story, Timeline
from metrograph.run.folding.walk import lay_out
from metrograph.run.records import Choice, Clock, Milestones, Phase, Position, Run, Screen

_ASKING = frozenset({"questions", "setup"})


def fold(log: Log, name: str, lexicon: Lexicon | None = None, until: int | None = None) -> Run:
    """The run that a log tells of.

    name: the run's name, such as ``larkmoor-8.0-heron-1``.
    lexicon: what screens are for; None for the one that comes with the program.
    until: milliseconds since ``begun`` up to which an open run is followed beyond its last cue.
    """
    cues, lexicon = log.by_time(), lexicon or load_lexicon()
    timeline = lay_out(cues, lexicon, until)
    story = Story(tuple(cues), timeline, lexicon)
    screens, loose = _screens(story)
    return Run(
        run=name,
        release=log.header.release,
        rig=log.header.rig,
        begun=log.header.begun,
        way=log.header.other("way") or "fresh",
        like=log.header.other("like"),
        reviewer=log.header.other("reviewer"),
        source=log.header.other("source"),
        clock=_clock(timeline.joined),
        milestones=_milestones(timeline, screens),
        phases=_phases(timeline.joined),
        screens=screens,
        choices=loose,
        stretches=tuple(beat.stretch for beat in timeline.joined),
        position=_position(timeline),
        **{field: meaning(story) for field, meaning in MEANINGS.items()},
    )


def _clock(beats: Sequence[Beat]) -> Clock:
    return Clock(
        elapsed=together(beats),
        on_clock=on_clock(beats),
        person=on_clock(beats, "person"),
        machine=on_clock(beats, "machine"),
        paused=on_clock(beats, "paused"),
        lost=on_clock(beat for beat in beats if beat.lost),
    )


def _position(timeline: Timeline) -> Position:
    if not timeline.places:
        return Position()
    last = timeline.places[-1]
    return Position(last.who, last.phase, last.screen, last.attempt)


def _phases(beats: Sequence[Beat]) -> tuple[Phase, ...]:
    phases = by(beats, lambda beat: beat.phase)
    return tuple(Phase(name, spent[0].begin, *shared_out(spent)) for name, spent in phases.items())


def _screens(story: Story) -> tuple[tuple[Screen, ...], tuple[Choice, ...]]:
    """All screens in the order they were first seen, and the choices that belong to none."""
    beats = by(story.timeline.joined, lambda beat: beat.screen)
    choices: dict[int | None, list[Choice]] = {}
    # A choice belongs to the screen in front when it was noted, not to the one that asked for it first.
    for cue, place in story.of(*HOW):
        choices.setdefault(place.screen, []).append(choice_of(cue, place, story.lexicon))
    texts = {place.screen: text for cue, place in story.of("screen") if (text := cue.field("text"))}
    screens = []
    for index, visit in enumerate(story.timeline.visits):
        screens.append(
            Screen(
                visit.title, visit.kind, visit.phase, visit.attempt, visit.start, *shared_out(beats.get(index, ())),
                story.timeline.returns[index],
                tuple(choices.get(index, ())), texts.get(index), story.timeline.is_kept(visit),
            )
        )  # fmt: skip
    return tuple(screens), tuple(choices.get(None, ()))


def _milestones(timeline: Timeline, screens: tuple[Screen, ...]) -> Milestones:
    """Moments on the way that led to the end: what was reached in vain says nothing of how long it takes."""
    kept = [screen for screen in screens if screen.kept]
    beats = timeline.kept_beats
    asked = next((screen.start for screen in kept if screen.phase in _ASKING), None)
    finished = next((screen.start for screen in kept if screen.kind == "finished"), None)
    copied = next((index for index, beat in enumerate(beats) if beat.phase == "copy"), len(beats))
    restart = next((beat.begin for beat in beats[copied:] if is_after_restart(beat.phase)), None)
    desktop = next((beat.begin for beat in beats if beat.phase == "desktop"), None)
    # A screen that says so is believed; without one the first restart after the copying is as good.
    return Milestones(asked, finished or restart, desktop, _updated(timeline, beats))


def _updated(timeline: Timeline, beats: Sequence[Beat]) -> Range | None:
    """The moment the machine had done the first update: the end of a task of that name, or of its phase's last wait."""
    for before, after in pairwise(timeline.places):
        if UPDATE in before.tasks and UPDATE not in after.tasks:
            return after.clock
    worked = [index for index, beat in enumerate(beats) if beat.phase == UPDATE and beat.who == "machine"]
    # While the machine still works at the last beat, nobody knows yet when it will be done.
    return beats[worked[-1] + 1].begin if worked and worked[-1] + 1 < len(beats) else None
