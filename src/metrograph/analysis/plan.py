"""Follows a run along a plan, the way of an earlier run or the merged way of a release's runs."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from metrograph.analysis.alignment import merge
from metrograph.analysis.changes import changes
from metrograph.analysis.flow import flow, stop_of, way_of
from metrograph.analysis.layouts import FOUND
from metrograph.analysis.merged import merged_flow
from metrograph.analysis.timeline import lay_out
from metrograph.language.escapes import join_list
from metrograph.model.comparison import Cell, Change, Row, Side
from metrograph.model.cues import Cue, Log
from metrograph.model.flows import NO_RULINGS, Rulings
from metrograph.model.lexicon import Checklist, Lexicon
from metrograph.model.ranges import ZERO
from metrograph.model.runs import Choice, Run, Screen

_REPEATED = frozenset(
    {"keep", "choose", "enter", "layout", "wait", "ready", "phase", "reading", "fact", "check", "end"}
)
ANSWERS = frozenset({"keep", "choose"})
"""The verbs of answers that may be repeated as they were; what was typed may not."""
_ONLY_PASSED = frozenset({"screen-gone", "question-gone"})
_OF_THE_WHOLE = frozenset({"phase-new", "phase-gone", "hands-changed", "overview-new", "overview-gone"})
"""Changes that can be told only when a run is over, or follow from others."""


class Step(msgspec.Struct, frozen=True):
    """A screen of a plan.

    screen: as most runs had it; its times are medians.
    cues: what is likely to be noted while it is in front and until the next, in order; their times mean nothing.
    """

    screen: Screen
    cues: tuple[Cue, ...] = ()


class Plan(msgspec.Struct, frozen=True):
    """The way that a run is expected to take.

    side: the runs it was made from; rulings: what a person has decided about screens.
    """

    side: Side
    steps: tuple[Step, ...]
    rulings: Rulings = NO_RULINGS

    @property
    def name(self) -> str:
        """The run or the release it was made from."""
        return self.side.name


def plan_of(name: str, sources: Sequence[tuple[Run, Log]], lexicon: Lexicon, rulings: Rulings = NO_RULINGS) -> Plan:
    """The plan that one run or several make, at least one, oldest first.

    A screen belongs to it when half of the runs or more passed it. Where they differ, what most of them had counts, and
    between equals the latest.
    """
    side = Side(name, tuple(run for run, _ in sources))
    merged = merged_flow([side], rulings)
    usual = [
        (row, cell) for row in map(merged.rows.__getitem__, merged.orders[0]) if _is_usual(cell := row.cells[0], side)
    ]
    followed = [followers_of(log, lexicon) for _, log in sources]
    return Plan(side, tuple(_step(row, cell, sources, followed) for row, cell in usual if cell), rulings)


def next_step(plan: Plan, run: Run) -> Step | None:
    """The plan's step behind the last one that the run has reached; None at the plan's end.

    The two flows are aligned, so that a screen with another title still counts as reached.
    """
    ahead = steps_ahead(plan, run)
    return ahead[0] if ahead else None


def steps_ahead(plan: Plan, run: Run) -> tuple[Step, ...]:
    """The plan's steps behind the furthest that the run has reached, in their order."""
    reached = [index for index, screen in enumerate(matches(plan, run)) if screen is not None]
    return plan.steps[reached[-1] + 1 if reached else 0 :]


def matches(plan: Plan, run: Run) -> list[Screen | None]:
    """For every step of the plan the run's screen that is for the same thing; None where it was not passed."""
    way = flow(run)
    rows = merge([[stop_of(step.screen) for step in plan.steps], way_of(run).stops], plan.rulings)
    places = {step: place for step, place in rows if step is not None}
    return [None if (place := places[step]) is None else way[place] for step in range(len(plan.steps))]


def deviations(plan: Plan, run: Run) -> tuple[Change, ...]:
    """Where the run has left the plan so far, as changes from the plan to the run.

    What the plan has behind the run's last screen is still to come and counts as no deviation; nor does a question of
    the screen in front that was not answered yet, nor a screen that only few of the plan's runs had.
    """
    expected = {step.screen.title for step in plan.steps} - {step.screen.title for step in steps_ahead(plan, run)}
    way = flow(run)
    if way:
        expected.discard(way[-1].title)
    sides = [plan.side, Side(run.run, (run,))]
    found = changes(sides, merged_flow(sides, plan.rulings))
    told = (each for each in found if each.what not in _OF_THE_WHOLE)
    return tuple(each for each in told if each.what not in _ONLY_PASSED or each.title in expected)


def new_deviations(plan: Plan, before: Run, after: Run) -> tuple[Change, ...]:
    """Where the run has left the plan by what was noted last. before, after: the run without it, and with it."""
    known = deviations(plan, before)
    return tuple(each for each in deviations(plan, after) if each not in known)


def still_to_do(run: Run, checklist: Checklist, plan: Plan | None = None) -> tuple[list[str], list[str]]:
    """The trials and the readings that a run lacks to be compared: those of the checklist, and of the plan's runs.

    A reading of the plan is wanted in the state it was taken in there: ``memory (installed)``.
    """
    planned = plan.side.runs if plan else ()
    checks = [*checklist.checks, *(check.name for each in planned for check in each.checks)]
    made = {check.name for check in run.checks}
    wanted = [(reading.name, reading.state) for each in planned for reading in each.readings]
    taken = {(reading.name, reading.state) for reading in run.readings}
    names = {name for name, _ in [*taken, *wanted]}
    readings = [name for name in checklist.readings if name not in names]
    readings += [f"{name} ({state})" for name, state in wanted if (name, state) not in taken]
    return [name for name in dict.fromkeys(checks) if name not in made], list(dict.fromkeys(readings))


def cues_of(step: Step, same: bool) -> list[Cue]:
    """What is written when a plan's screen comes up: itself, and with ``same`` what was kept and chosen on it."""
    choices = [choice for choice in step.screen.choices if choice.how != "typed"] if same else []
    return [screen_cue(step.screen), *map(choice_cue, choices)]


def screen_cue(screen: Screen) -> Cue:
    """The cue that says this screen is in front."""
    return Cue(0, "screen", None, screen.title, (("kind", screen.kind),))


def choice_cue(choice: Choice) -> Cue:
    """The cue that says this answer was given; of what was typed the key alone."""
    if choice.how == "typed":
        return Cue(0, "enter", choice.key, "")
    fields = (("was", choice.preset),) if choice.how == "chosen" and choice.preset is not None else ()
    offered = (("offered", join_list(choice.offered)),) if choice.offered else ()
    return Cue(0, "keep" if choice.how == "kept" else "choose", choice.key, choice.value or "", (*fields, *offered))


def _is_usual(cell: Cell | None, side: Side) -> bool:
    return cell is not None and 2 * cell.runs >= len(side.runs)


def _step(row: Row, cell: Cell, sources: Sequence[tuple[Run, Log]], followed: Sequence[dict[int, list[Cue]]]) -> Step:
    screen = Screen(
        cell.title, row.kind, cell.phase, 1, ZERO, cell.on_clock, cell.person, cell.machine, 0, cell.choices
    )  # fmt: skip
    answers = {choice.key: choice_cue(choice) for choice in cell.choices}
    for (run, _), followers in zip(reversed(sources), reversed(followed), strict=True):
        own = next((each for each in flow(run) if each.title in row.titles), None)
        if own is not None:
            cues = followers.get(run.screens.index(own), [])
            usual = [answers.get(cue.name or "", cue) if cue.verb in ANSWERS else cue for cue in cues]
            return Step(screen, tuple(cue for cue in usual if cue.verb in _REPEATED and cue.text != FOUND))
    return Step(screen)


def followers_of(log: Log, lexicon: Lexicon) -> dict[int, list[Cue]]:
    """What was noted from each screen to the next, by the screen's place among the run's screens."""
    cues = log.by_time()
    found: dict[int, list[Cue]] = {}
    front = None
    for cue, place in zip(cues, lay_out(cues, lexicon).places, strict=True):
        front = front if place.screen is None else place.screen
        if front is not None:
            found.setdefault(front, []).append(cue)
    return found
