"""Folds the cues of one log into a run. To teach it a verb, add a handler to ``_GATHERERS`` or to the timeline."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from metrograph.analysis.layouts import FOUND, layout_of
from metrograph.analysis.timeline import Place, Timeline, joined, lay_out, trouble
from metrograph.language.escapes import split_list
from metrograph.language.sizes import parse_size
from metrograph.language.values import parse_number
from metrograph.model.cues import Cue, Log
from metrograph.model.layouts import Layout
from metrograph.model.lexicon import Lexicon, is_after_restart, load_lexicon
from metrograph.model.ranges import ZERO, Range, total
from metrograph.model.runs import (
    POWER_ON,
    Addition,
    Attempt,
    Check,
    Choice,
    Clock,
    Fact,
    Issue,
    Milestones,
    Note,
    Phase,
    Reading,
    Run,
    Screen,
    Shot,
    Stand,
    State,
    Stretch,
    Tweak,
    Verdict,
    Who,
)

_ASKING = frozenset({"questions", "setup"})


def fold(log: Log, name: str, lexicon: Lexicon | None = None, until: int | None = None) -> Run:
    """The run that a log tells of.

    name: the run's name, such as ``larkmoor-8.0-heron-1``.
    lexicon: what screens are for; None for the one that comes with the program.
    until: milliseconds since ``begun`` up to which an open run is followed beyond its last cue.
    """
    cues, lexicon = log.by_time(), lexicon or load_lexicon()
    timeline = lay_out(cues, lexicon, until)
    placed = list(zip(cues, timeline.places, strict=True))
    screens, loose = _screens(timeline, placed, lexicon)
    return Run(
        run=name,
        release=log.header.release,
        rig=log.header.rig,
        begun=log.header.begun,
        way=log.header.other("way") or "fresh",
        like=log.header.other("like"),
        reviewer=log.header.other("reviewer"),
        ended=next((cue.text for cue in cues if cue.verb == "end"), None),
        clock=_clock(timeline.stretches),
        milestones=_milestones(timeline, screens),
        attempts=_attempts(cues, timeline),
        phases=_phases(timeline.stretches),
        screens=screens,
        choices=loose,
        layout=_layout(cues, found=False),
        found=_layout(cues, found=True),
        issues=_issues(cues, timeline),
        stretches=joined(timeline.stretches),
        stand=_stand(timeline),
        **{
            field: tuple(make(cue, place, lexicon) for cue, place in placed if cue.verb == verb)
            for verb, (field, make) in _GATHERERS.items()
        },
        verdict=next((_verdict(cue) for cue in reversed(cues) if cue.verb == "verdict"), None),
    )


def on_clock(stretches: tuple[Stretch, ...], who: Who | None = None) -> Range:
    """How long these stretches are together, pauses left out; of one of the two only, when ``who`` is given."""
    wanted = {"person", "machine"} if who is None else {who}
    return total(each.length for each in stretches if each.who in wanted)


def _clock(stretches: tuple[Stretch, ...]) -> Clock:
    return Clock(
        elapsed=total(each.length for each in stretches),
        on_clock=on_clock(stretches),
        person=on_clock(stretches, "person"),
        machine=on_clock(stretches, "machine"),
        paused=on_clock(stretches, "paused"),
        lost=on_clock(tuple(each for each in stretches if each.lost)),
    )


def _layout(cues: list[Cue], found: bool) -> Layout | None:
    """The last layout that was said, or the last that was found."""
    own = (cue for cue in reversed(cues) if cue.verb == "layout" and (cue.text == FOUND) == found)
    return next(map(layout_of, own), None)


def _stand(timeline: Timeline) -> Stand:
    if not timeline.places:
        return Stand()
    last = timeline.places[-1]
    return Stand(last.who, last.phase, last.screen, last.attempt)


def _phases(stretches: tuple[Stretch, ...]) -> tuple[Phase, ...]:
    by_name: dict[str, list[Stretch]] = {}
    for each in stretches:
        by_name.setdefault(each.phase, []).append(each)
    return tuple(
        Phase(name, own[0].start, on_clock(tuple(own)), on_clock(tuple(own), "person"), on_clock(tuple(own), "machine"))
        for name, own in by_name.items()
    )


def _attempts(cues: list[Cue], timeline: Timeline) -> tuple[Attempt, ...]:
    placed = list(zip(cues, timeline.places, strict=True))
    failed_for = {place.attempt: cue.text for cue, place in placed if cue.verb == "fail"}
    begun = [(POWER_ON, ZERO), *((cue.text or POWER_ON, place.clock) for cue, place in placed if cue.verb == "retry")]
    attempts = []
    for number, (origin, start) in enumerate(begun, 1):
        own = tuple(each for each in timeline.stretches if each.attempt == number)
        attempts.append(Attempt(number, failed_for.get(number), start, on_clock(own), origin))
    return tuple(attempts)


def _screens(
    timeline: Timeline, placed: list[tuple[Cue, Place]], lexicon: Lexicon
) -> tuple[tuple[Screen, ...], tuple[Choice, ...]]:
    """All screens in the order they were first seen, and the choices that belong to none."""
    stretches: dict[int | None, list[Stretch]] = {}
    for each in timeline.stretches:
        stretches.setdefault(each.screen, []).append(each)
    choices: dict[int | None, list[Choice]] = {}
    for cue, place in placed:
        if cue.verb in _HOW:
            choices.setdefault(place.screen, []).append(_choice(cue, place, lexicon))
    screens = []
    for index, visit in enumerate(timeline.visits):
        own = tuple(stretches.get(index, ()))
        screens.append(
            Screen(
                visit.title,
                visit.kind,
                visit.phase,
                visit.attempt,
                visit.start,
                on_clock(own),
                on_clock(own, "person"),
                on_clock(own, "machine"),
                timeline.returns[index],
                tuple(choices.get(index, ())),
            )
        )
    return tuple(screens), tuple(choices.get(None, ()))


def _milestones(timeline: Timeline, screens: tuple[Screen, ...]) -> Milestones:
    """Moments of the last attempt."""
    last = timeline.places[-1].attempt if timeline.places else 1
    own = [each for each in timeline.stretches if each.attempt == last]
    asked = next((each.start for each in screens if each.attempt == last and each.phase in _ASKING), None)
    finished = next((each.start for each in screens if each.attempt == last and each.kind == "finished"), None)
    copied = next((i for i, each in enumerate(own) if each.phase == "copy"), len(own))
    restart = next((each.start for each in own[copied:] if is_after_restart(each.phase)), None)
    desktop = next((each.start for each in own if each.phase == "desktop"), None)
    return Milestones(asked, finished or restart, desktop, _updated(own))


def _updated(own: list[Stretch]) -> Range | None:
    """The moment the machine had done the first update: from there on it is the person's again."""
    worked = [index for index, each in enumerate(own) if each.phase == "update" and each.who == "machine"]
    return own[worked[-1] + 1].start if worked and worked[-1] + 1 < len(own) else None


def _issues(cues: list[Cue], timeline: Timeline) -> tuple[Issue, ...]:
    issues = []
    for begin, end in trouble(cues):
        cue, place = cues[begin], timeline.places[begin]
        screen = None if place.screen is None else timeline.visits[place.screen].title
        fixed_at = None if end is None else timeline.places[end].clock
        issues.append(
            Issue(
                name=cue.name,
                summary=cue.text,
                severity=cue.field("severity"),
                phase=place.phase,
                screen=screen,
                at=place.clock,
                fixed_at=fixed_at,
                lost=None if end is None else on_clock(timeline.between(begin, end)),
                fix=None if end is None else cues[end].text or None,
                area=cue.field("area"),
                detail=cue.field("detail"),
                link=cue.field("link"),
            )
        )
    return tuple(issues)


_HOW: dict[str, Any] = {"keep": "kept", "choose": "chosen", "enter": "typed"}


def _choice(cue: Cue, place: Place, lexicon: Lexicon) -> Choice:
    return Choice(
        key=cue.name or "",
        value=cue.text or None,
        preset=cue.text if cue.verb == "keep" else cue.field("was"),
        how=_HOW[cue.verb],
        offered=split_list(cue.field("offered") or ""),
        why=cue.field("why"),
        personal=lexicon.is_personal(cue.name or ""),
        at=place.clock,
    )


def _size(cue: Cue, key: str) -> int | None:
    return parse_size(cue.field(key) or "")


def _reading(cue: Cue, place: Place, lexicon: Lexicon) -> Reading:
    value, unit = parse_number(cue.text) or (0.0, "")
    measure = lexicon.measures.get(cue.name or "")
    size = parse_size(cue.text) if measure is None or measure.unit == "bytes" else None
    state: State = "updated" if place.updated else "installed" if is_after_restart(place.phase) else "live"
    if size is not None:
        value, unit = float(size), "bytes"
    return Reading(cue.name or "", value, unit, state, cue.field("load"), cue.field("how"), place.clock)


def _fact(cue: Cue, place: Place, lexicon: Lexicon) -> Fact:
    return Fact(cue.name or "", cue.text, place.clock, lexicon.is_personal(cue.name or ""))


def _check(cue: Cue, place: Place, _lexicon: Lexicon) -> Check:
    return Check(cue.name or "", cue.text, cue.field("detail"), place.clock)


def _tweak(cue: Cue, place: Place, _lexicon: Lexicon) -> Tweak:
    return Tweak(cue.text, cue.field("why"), cue.every("command"), place.clock)


def _addition(cue: Cue, place: Place, _lexicon: Lexicon) -> Addition:
    sizes = _size(cue, "download"), _size(cue, "disk")
    return Addition(cue.text, *sizes, cue.field("from"), cue.field("why"), place.clock)


def _shot(cue: Cue, place: Place, _lexicon: Lexicon) -> Shot:
    return Shot(cue.text, cue.field("sha256"), place.clock)


def _note(cue: Cue, place: Place, _lexicon: Lexicon) -> Note:
    return Note(cue.text, place.clock)


def _verdict(cue: Cue) -> Verdict:
    return Verdict(cue.text, cue.field("for"), cue.field("against"), cue.field("score"))


# Verbs that are gathered as they come: the field of the run, and how one cue becomes one record.
_GATHERERS: dict[str, tuple[str, Callable[[Cue, Place, Lexicon], Any]]] = {
    "reading": ("readings", _reading),
    "fact": ("facts", _fact),
    "check": ("checks", _check),
    "tweak": ("tweaks", _tweak),
    "add": ("added", _addition),
    "shot": ("shots", _shot),
    "note": ("notes", _note),
}
