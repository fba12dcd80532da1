"""Folds the cues of one log into a run. What a verb means stands in ``MEANINGS``, or in the timeline for time."""

from __future__ import annotations

from itertools import pairwise

from metrograph.log.cues import Log
from metrograph.log.lexicon import Lexicon, is_after_restart, load_lexicon
from metrograph.log.quantities.ranges import Range, total
from metrograph.run.folding.meanings import HOW, MEANINGS, choice_of
from metrograph.run.folding.phases import UPDATE
from metrograph.run.folding.story import Story, on_clock, shared_out
from metrograph.run.folding.timeline import Timeline
from metrograph.run.folding.walk import joined, lay_out
from metrograph.run.records import Choice, Clock, Milestones, Phase, Position, Run, Screen, Stretch

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
        clock=_clock(timeline.stretches),
        milestones=_milestones(timeline, screens),
        phases=_phases(timeline.stretches),
        screens=screens,
        choices=loose,
        stretches=joined(timeline.stretches),
        position=_position(timeline),
        **{field: meaning(story) for field, meaning in MEANINGS.items()},
    )


def _clock(stretches: tuple[Stretch, ...]) -> Clock:
    return Clock(
        elapsed=total(stretch.length for stretch in stretches),
        on_clock=on_clock(stretches),
        person=on_clock(stretches, "person"),
        machine=on_clock(stretches, "machine"),
        paused=on_clock(stretches, "paused"),
        lost=on_clock(tuple(stretch for stretch in stretches if stretch.lost)),
    )


def _position(timeline: Timeline) -> Position:
    if not timeline.places:
        return Position()
    last = timeline.places[-1]
    return Position(last.who, last.phase, last.screen, last.attempt)


def _phases(stretches: tuple[Stretch, ...]) -> tuple[Phase, ...]:
    by_name: dict[str, list[Stretch]] = {}
    for stretch in stretches:
        by_name.setdefault(stretch.phase, []).append(stretch)
    phases = ((name, tuple(spent)) for name, spent in by_name.items())
    return tuple(Phase(name, spent[0].start, *shared_out(spent)) for name, spent in phases)


def _screens(story: Story) -> tuple[tuple[Screen, ...], tuple[Choice, ...]]:
    """All screens in the order they were first seen, and the choices that belong to none."""
    stretches: dict[int | None, list[Stretch]] = {}
    for stretch in story.timeline.stretches:
        stretches.setdefault(stretch.screen, []).append(stretch)
    choices: dict[int | None, list[Choice]] = {}
    # A choice belongs to the screen in front when it was noted, not to the one that asked for it first.
    for cue, place in story.of(*HOW):
        choices.setdefault(place.screen, []).append(choice_of(cue, place, story.lexicon))
    texts = {place.screen: text for cue, place in story.of("screen") if (text := cue.field("text"))}
    screens = []
    for index, visit in enumerate(story.timeline.visits):
        spent = tuple(stretches.get(index, ()))
        screens.append(
            Screen(
                visit.title, visit.kind, visit.phase, visit.attempt, visit.start, *shared_out(spent),
                story.timeline.returns[index],
                tuple(choices.get(index, ())), texts.get(index), story.timeline.is_kept(visit),
            )
        )  # fmt: skip
    return tuple(screens), tuple(choices.get(None, ()))


def _milestones(timeline: Timeline, screens: tuple[Screen, ...]) -> Milestones:
    """Moments on the way that led to the end: what was reached in vain says nothing of how long it takes."""
    kept = [screen for screen in screens if screen.kept]
    pairs = zip(timeline.stretches, timeline.steps, strict=True)
    stretches = [stretch for stretch, step in pairs if not timeline.in_vain.holds_step(step)]
    asked = next((screen.start for screen in kept if screen.phase in _ASKING), None)
    finished = next((screen.start for screen in kept if screen.kind == "finished"), None)
    copied = next((index for index, stretch in enumerate(stretches) if stretch.phase == "copy"), len(stretches))
    restart = next((stretch.start for stretch in stretches[copied:] if is_after_restart(stretch.phase)), None)
    desktop = next((stretch.start for stretch in stretches if stretch.phase == "desktop"), None)
    # A screen that says so is believed; without one the first restart after the copying is as good.
    return Milestones(asked, finished or restart, desktop, _updated(timeline, stretches))


def _updated(timeline: Timeline, stretches: list[Stretch]) -> Range | None:
    """The moment the machine had done the first update: the end of a task of that name, or of its phase's last wait."""
    for before, after in pairwise(timeline.places):
        if UPDATE in before.tasks and UPDATE not in after.tasks:
            return after.clock
    worked = [index for index, stretch in enumerate(stretches) if stretch.phase == UPDATE and stretch.who == "machine"]
    # While the machine still works at the last stretch, nobody knows yet when it will be done.
    return stretches[worked[-1] + 1].start if worked and worked[-1] + 1 < len(stretches) else None
