"""Gives each verb its meaning: how records are made from its cues. To add one, add a row to ``MEANINGS``."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from metrograph.log.cues import Cue
from metrograph.log.escapes import split_list
from metrograph.log.faults import Unreadable
from metrograph.log.lexicon import OTHER, Lexicon, is_after_restart
from metrograph.log.quantities.quantity import Quantity, parse_quantity
from metrograph.log.quantities.ranges import ZERO, Range
from metrograph.log.verbs import DAY, Trait, verbs_with
from metrograph.run.disks import FOUND, Layout, layout_of
from metrograph.run.folding.intervals import by, on_clock
from metrograph.run.folding.noted_cues import MADE, said_with
from metrograph.run.folding.timeline import CuePlace, RunContext
from metrograph.run.folding.trouble import Trouble, troubles
from metrograph.run.noted import Aside, Question, Reading, Software, Task, Todo
from metrograph.run.records import POWER_ON, Attempt, Choice, How, Issue


def _attempts(context: RunContext) -> tuple[Attempt, ...]:
    failures = {place.attempt: cue for cue, place in context.of("fail")}
    begun: list[tuple[str, str | None, Range]] = [(POWER_ON, None, ZERO)]
    begun += [(cue.text or POWER_ON, cue.field("changed"), place.clock) for cue, place in context.of("retry")]
    spent = by(context.timeline.joined, lambda interval: interval.attempt)
    attempts = []
    for number, (origin, changed, start) in enumerate(begun, 1):
        failed = failures.get(number)
        told = (failed.text, failed.field("issue")) if failed is not None else (None, None)
        attempts.append(Attempt(number, told[0], start, on_clock(spent.get(number, ())), origin, changed, told[1]))
    return tuple(attempts)


def _issues(context: RunContext) -> tuple[Issue, ...]:
    return tuple(_issue(context, trouble) for trouble in troubles(context.cues))


def _issue(context: RunContext, trouble: Trouble) -> Issue:
    """One issue with all that was said of it while it stood."""
    cue, place, timeline = context.cues[trouble.begin], context.timeline.places[trouble.begin], context.timeline
    again = [context.cues[index] for index in trouble.again]
    fix = None if trouble.end is None else context.cues[trouble.end]
    return Issue(
        name=cue.name,
        summary=cue.text,
        severity=_last_field("severity", [cue, *again]),
        phase=place.phase,
        screen=None if place.screen is None else timeline.visits[place.screen].title,
        at=place.clock,
        fixed_at=None if trouble.end is None else timeline.places[trouble.end].clock,
        # Between two days lies no time that anybody lost to it.
        lost=None if trouble.end is None or cue.field(DAY) else timeline.spent(trouble.begin, trouble.end),
        fix=fix.text or None if fix is not None else None,
        area=_last_field("area", [cue, *again]),
        detail=_last_field("detail", [cue, *again]),
        link=_last_field("link", [cue, *again]),
        also=tuple(later.text for later in again),
        tried=tuple(_remedy(context.cues[index]) for index in trouble.tried),
        commands=fix.every("command") if fix is not None else (),
        **{key: value for said in (cue, *again) for key, value in said_with(said).items()},
    )


def _remedy(cue: Cue) -> str:
    """What was tried, with the commands that were typed for it."""
    return "; ".join((cue.text, *cue.every("command")))


def _last_field(key: str, cues: Sequence[Cue]) -> str | None:
    """What was said last of something, in any of these cues."""
    said = [value for cue in cues if (value := cue.field(key)) is not None]
    return said[-1] if said else None


def _layout(context: RunContext) -> Layout | None:
    """The last disk layout that the installer said."""
    said = (cue for cue, _ in reversed(context.of("layout")) if cue.text != FOUND)
    return next(map(layout_of, said), None)


def _found(context: RunContext) -> Layout | None:
    """The last layout that a probe found."""
    found = (cue for cue, _ in reversed(context.of("layout")) if cue.text == FOUND)
    return next(map(layout_of, found), None)


def _tasks(context: RunContext) -> tuple[Task, ...]:
    """Every task with the first ``done`` of its name after it."""
    tasks: list[Task] = []
    over: dict[str | None, int] = {}  # where the next ``done`` of each name stands, seen from the end
    for index in reversed(context.where("task", "done")):
        cue, place = context.cues[index], context.timeline.places[index]
        if cue.verb == "done":
            over[cue.name] = index
        else:
            end = over.get(cue.name)
            length = None if end is None else context.timeline.spent(index, end)
            told = None if end is None else context.cues[end].field("how") or context.cues[end].text or None
            tasks.append(Task(cue.name or "", cue.text or None, place.phase, place.clock, length, told))
    return tuple(reversed(tasks))


def _software(context: RunContext) -> tuple[Software, ...]:
    """Item by item, in the order they were noted; what is said of an item again counts."""
    items: dict[tuple[str | None, str | None, str], Software] = {}
    for cue, place in context.of("carries", "lacks"):
        words, whole = items_of(cue.text)
        more = said_with(cue) | {"instead": cue.field("instead"), "listed": whole}
        for item, version in map(_versioned, words):
            items[cue.name, cue.field("of"), item.casefold()] = Software(
                item, version, cue.name, cue.verb == "carries", cue.field("from"), cue.field("why"), place.clock, **more
            )
    return tuple(items.values())


def items_of(text: str) -> tuple[tuple[str, ...], bool]:
    """The items of a list, and whether it is whole: one that ends in “and more” is not."""
    items, whole = split_list(text), True
    if items and (items[-1] == _MORE or items[-1].endswith(f" {_MORE}")):
        last = items[-1].removesuffix(_MORE).rstrip()
        items, whole = (*items[:-1], *([last] if last else [])), False
    return items, whole


_MORE = "and more"


def _versioned(words: str) -> tuple[str, str | None]:
    """A name, and the version after it where there is one: ``Writer 7.4``."""
    name, _, last = words.rpartition(" ")
    return (name, last) if name and last[:1].isdigit() else (words, None)


def _todos(context: RunContext) -> tuple[Todo, ...]:
    """What is left to do; a ``done`` of its name ticks it off."""
    ticks = {cue.name for cue, _ in context.of("done")}
    return tuple(
        Todo(cue.text, cue.field("for"), place.clock, cue.name, cue.name in ticks, **said_with(cue))
        for cue, place in context.of("todo")
    )


def _ticked(context: RunContext) -> tuple[str, ...]:
    """The names that were said to be done and are no tasks of this run: what an earlier one left to do."""
    own = {cue.name for cue, _ in context.of("task", "todo")}
    return tuple(dict.fromkeys(cue.name for cue, _ in context.of("done") if cue.name and cue.name not in own))


def _questions(context: RunContext) -> tuple[Question, ...]:
    """The reviewer's own questions with the last answer to each; an answer to none stands for itself."""
    asked = {cue.name or "": (cue, place) for cue, place in context.of("ask")}
    answers = {cue.name or "": (cue, place) for cue, place in context.of("answer")}
    found = []
    for name in dict.fromkeys([*asked, *answers]):
        cue, place = asked.get(name) or answers[name]
        answer = answers[name][0].text if name in answers else None
        more = said_with(cue) | (said_with(answers[name][0]) if name in answers else {})
        found.append(Question(name, asked[name][0].text if name in asked else name, answer, place.clock, **more))
    return tuple(found)


def _asides(context: RunContext) -> tuple[Aside, ...]:
    """What waits, pauses and the like were for, and fields of a reviewer's own wherever they stand."""
    asides = []
    for cue, place in zip(context.cues, context.timeline.places, strict=True):
        if cue.text and cue.verb in _REASONS:
            asides.append(Aside(cue.verb, cue.text, place.clock))
        if cue.fields:
            asides += [Aside(cue.verb, f"{key}: {value}", place.clock) for key, value in cue.fields if key[:2] == "x-"]
    return tuple(asides)


_REASONS = verbs_with(Trait.REASON)


def _ended(context: RunContext) -> str | None:
    return next((cue.text for cue, _ in context.of("end")), None)


HOW: dict[str, How] = {"keep": "kept", "choose": "chosen", "enter": "typed"}


def choice_of(cue: Cue, place: CuePlace, lexicon: Lexicon, kind: str = OTHER) -> Choice:
    """The answer that a cue gives. kind: of the screen that it belongs to: what is typed on some tells who or where."""
    was = why = None
    offered: tuple[str, ...] = ()
    told = True
    if cue.fields:
        told = cue.field("tell") != "no"
        was, why, offered = cue.field("was"), cue.field("why"), split_list(cue.field("offered") or "")
    key, value = cue.name or "", cue.text or None
    preset = cue.text if cue.verb == "keep" else was
    personal = lexicon.is_personal(key) or (HOW[cue.verb] == "typed" and lexicon.asks_who(kind))
    return Choice(key, value, preset, HOW[cue.verb], offered, why, personal, place.clock, told)


def _reading(cue: Cue, place: CuePlace, lexicon: Lexicon) -> Reading:
    quantity = said_of(cue, lexicon)
    amount = quantity.amount
    return Reading(
        name=cue.name or "",
        value=amount if amount is None or not amount.about else Range(amount.low, amount.high),
        unit=quantity.unit,
        state=cue.field("state") or state_at(place),
        load=cue.field("load"),
        how=cue.field("how"),
        at=place.clock,
        about=amount is not None and amount.about,
        said=quantity.text,
        against=cue.field("against"),
        total=quantity.total,
        **said_with(cue),
    )


def said_of(cue: Cue, lexicon: Lexicon) -> Quantity:
    """What a reading says; what cannot be read any more is kept as words."""
    measure = lexicon.measures.get(cue.name or "")
    try:
        return parse_quantity(cue.text, measure.unit if measure else None, cue.name or "", lexicon.about)
    except Unreadable:  # the log was read with another lexicon, or without one
        return Quantity(None, "", cue.text)


def state_at(place: CuePlace) -> str:
    """The state that a figure is read in where a run stands."""
    if place.tasks:
        return f"while {place.tasks[-1]}"
    return "updated" if place.updated else "installed" if is_after_restart(place.phase) else "live"


def _gathered(
    verbs: tuple[str, ...], make: Callable[[Cue, CuePlace, Lexicon], Any]
) -> Callable[[RunContext], tuple[Any, ...]]:
    """All cues of some verbs as they come, each made a record."""
    return lambda context: tuple(make(cue, place, context.lexicon) for cue, place in context.of(*verbs))


MEANINGS: dict[str, Callable[[RunContext], Any]] = {
    **{field: _gathered(verbs, make) for field, (verbs, make) in MADE.items()},
    "ended": _ended,
    "attempts": _attempts,
    "layout": _layout,
    "found": _found,
    "issues": _issues,
    "readings": _gathered(("reading",), _reading),
    "tasks": _tasks,
    "software": _software,
    "todos": _todos,
    "ticked": _ticked,
    "questions": _questions,
    "asides": _asides,
}
"""Each field of a run that some verbs fill, and how it is made from the cues."""
